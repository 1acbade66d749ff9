import type { MovingBlank } from '@kettle/core/mockup';
import { zipSync } from 'fflate';
import { FrameSource, type FrameReply, type FrameRequest } from './frame-source';
import { readFrame, type FrameMaps } from './moving-frames';

const SIDE = 16;

const blankOf = (id: string): MovingBlank => ({
  id,
  name: 'Turning',
  category: 'Tops',
  product: 'T-shirt',
  view: 'turning',
  wearer: 'nobody',
  setting: 'wall',
  kind: 'moving',
  tags: [],
  width: SIDE,
  height: SIDE,
  albedo: 0.8,
  glossTint: 0.5,
  shadowStrength: 0.6,
  backdrop: '#e4e1d9',
  colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
  areas: [{ id: 'front', name: 'Front', widthMm: 300, heightMm: 400, safeInsetMm: 6, uv: 'uv', cover: 'cover' }],
  files: { photo: 'photo', mask: 'mask', shade: 'shade', shadow: 'shadow' },
  fps: 24,
  frames: 2,
  play: 'back-and-forth',
  poster: 1,
  scales: { shade: 0.5, shadow: 0.25, uv: 0.25 },
});

/** A picture whose pixels are given, without loss. */
async function picture(
  width: number,
  height: number,
  at: (x: number, y: number) => readonly [number, number, number, number?],
): Promise<Uint8Array> {
  const context = new OffscreenCanvas(width, height).getContext('2d')!;
  const data = context.createImageData(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [r, g, b, a = 255] = at(x, y);
      data.data.set([r, g, b, a], (y * width + x) * 4);
    }
  context.putImageData(data, 0, 0);
  return new Uint8Array(await (await context.canvas.convertToBlob({ type: 'image/png' })).arrayBuffer());
}

/** The pictures of a pack; the print area is its left half. */
async function packFiles(): Promise<Record<string, Uint8Array>> {
  const [photo, mask, shade, shadow, cover, uv] = await Promise.all([
    picture(SIDE, SIDE, (x, y) => [x * 10, y * 10, 90]),
    picture(SIDE, SIDE, () => [200, 200, 200]),
    picture(SIDE / 2, SIDE / 2, () => [120, 60, 30]),
    picture(SIDE / 4, SIDE / 4, () => [40, 40, 40]),
    picture(SIDE, SIDE, (x) => (x < SIDE / 2 ? [255, 255, 255] : [0, 0, 0])),
    // u runs over a border of its high byte: 255, 256, 257 and so on.
    picture(SIDE / 4, SIDE / 2, (x, y) => (y < SIDE / 4 ? [x === 0 ? 0 : 1, 2, 0] : [x === 0 ? 255 : x - 1, 7, 0])),
  ]);
  return Object.fromEntries(
    ['000', '001'].flatMap((frame) =>
      Object.entries({ photo, mask, shade, shadow, cover, uv }).map(([folder, bytes]) => [
        `${folder}/${frame}.webp`,
        bytes,
      ]),
    ),
  );
}

describe('a frame of a moving blank, read in the browser', () => {
  /** A pack under an id of its own, because packs are held. */
  async function served(id: string, change: (files: Record<string, Uint8Array>) => void = () => undefined) {
    const files = await packFiles();
    change(files);
    const fetching = spyOn(window, 'fetch').and.callFake(() =>
      Promise.resolve(new Response(new Uint8Array(zipSync(files, { level: 0 })))),
    );
    return { blank: blankOf(id), fetching };
  }

  it('has each map at the size that is asked for, positions by joined bytes, coverage of its own picture', async () => {
    const { blank, fetching } = await served('whole');
    const seen = { blank, areaIds: ['front'], size: SIDE };
    const { maps, areas } = await readFrame(seen, 0, new Map());
    expect(fetching.calls.first().args[0]).toBe('/api/blanks/whole/pack');
    expect([maps.width, maps.height, maps.photo.length, maps.mask.length]).toEqual([16, 16, 1024, 256]);
    expect([...maps.photo.subarray((3 * 16 + 5) * 4, (3 * 16 + 5) * 4 + 4)]).toEqual([50, 30, 90, 255]);
    expect([maps.mask[0], maps.shadow[0]]).toEqual([200, 40]);
    expect([...maps.shade.subarray(0, 3)]).toEqual([120, 60, 30]);
    const area = areas.get('front')!;
    expect(area.count).toBe(128);
    expect(Math.max(...[...area.index].map((pixel) => pixel % 16))).toBe(7);
    // Between the first texel's 255 and the second's 256 there is nothing else.
    const row = [...area.u.subarray(0, 8)];
    row.forEach((u) =>
      expect(u >= 255 && u <= 257)
        .withContext(`${row}`)
        .toBeTrue(),
    );
    expect([...area.v.subarray(0, 8)]).toEqual(Array.from({ length: 8 }, () => 2 * 256 + 7));

    // A density that is given is kept: all frames have that of the poster.
    const other = await readFrame(seen, 1, new Map([['front', 0.25]]));
    expect(other.areas.get('front')!.pixelsPerMm).toBeCloseTo(0.25, 9);
    expect(fetching.calls.count()).toBe(1);
  });

  it('comes from the pack at half its size where no more is shown', async () => {
    const { blank, fetching } = await served('half');
    const { maps } = await readFrame({ blank, areaIds: ['front'], size: 8 }, 0, new Map());
    expect(fetching.calls.first().args[0]).toBe('/api/blanks/half/frames');
    expect([maps.width, maps.mask[0]]).toEqual([8, 200]);
  });

  it('that is missing, broken or out of reach is told in a sentence', async () => {
    const read = (blank: MovingBlank) => readFrame({ blank, areaIds: ['front'], size: SIDE }, 0, new Map());
    const missing = await served('missing', (files) => delete files['mask/000.webp']);
    await expectAsync(read(missing.blank)).toBeRejectedWithError(/could not be loaded/);
    missing.fetching.and.callFake(() => Promise.reject(new TypeError('gone')));
    await expectAsync(read(blankOf('away'))).toBeRejectedWithError(/could not be loaded/);
    const files = await packFiles();
    files['shade/000.webp'] = files['shade/000.webp'].subarray(0, 30);
    missing.fetching.and.callFake(() => Promise.resolve(new Response(new Uint8Array(zipSync(files, { level: 0 })))));
    await expectAsync(read(blankOf('broken'))).toBeRejectedWithError(/broken \(shade\/000.webp\)/);
    // What was out of reach is tried again.
    const good = await packFiles();
    missing.fetching.and.callFake(() => Promise.resolve(new Response(new Uint8Array(zipSync(good, { level: 0 })))));
    expect((await read(blankOf('away'))).maps.width).toBe(16);
  });
});

describe('frames over a port', () => {
  it('come to who asked for them, whatever the order, failures with their sentence', async () => {
    const { port1, port2 } = new MessageChannel();
    const asked: FrameRequest[] = [];
    port2.onmessage = ({ data }: MessageEvent<FrameRequest>) => {
      asked.push(data);
      if (asked.length < 3) return;
      const frame = (n: number) => ({ maps: { width: n }, areas: new Map() }) as unknown as FrameMaps;
      for (const { id, frame: n } of [...asked].reverse())
        port2.postMessage((n === 7 ? { id, failed: 'It is broken.' } : { id, frame: frame(n) }) satisfies FrameReply);
    };
    const source = new FrameSource(port1);
    const seen = { blank: blankOf('port'), areaIds: ['front'], size: 8 };
    const [one, two] = [source.read(seen, 3), source.read(seen, 5)];
    await expectAsync(source.read(seen, 7)).toBeRejectedWithError('It is broken.');
    expect([(await one).maps.width, (await two).maps.width]).toEqual([3, 5]);
    port1.close();
  });
});
