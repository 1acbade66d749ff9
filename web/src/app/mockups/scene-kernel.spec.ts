import { encodedOf, LINEAR_OF_CODE, linearOf, rgbOf } from '@kettle/core/colour';
import { compileSceneKernel, exposureOf, SceneKernel, type AreaMaps, type SceneMaps } from '@kettle/core/mockup';

/** Light above the shoulder rises ever more slowly towards 1. */
const rolledOff = (lit: number): number => (lit <= 0.8 ? lit : 0.8 + ((lit - 0.8) * 0.2) / (lit - 0.6));

/** The formula of the blank packs in plain arithmetic, pixel by pixel: what the kernel must agree with. */
function byFormula(
  maps: SceneMaps,
  area: AreaMaps,
  ink: number[],
  look: { garment: string; backdrop: string; inkOpacity: number; shadow: number },
  blank: { albedo: number; glossTint: number },
): number[] {
  const channels = (hex: string) => {
    const { r, g, b } = rgbOf(hex);
    return [r, g, b].map((v) => linearOf(v / 255));
  };
  const [garment, backdrop] = [channels(look.garment), channels(look.backdrop)];
  const gain = exposureOf(maps, blank.albedo);
  const out: number[] = [];
  for (let pixel = 0; pixel < maps.width * maps.height; pixel++) {
    const at = area.index.indexOf(pixel);
    const share = at < 0 ? 0 : (area.coverage[at] / 255) * look.inkOpacity * (ink[3] / 255);
    const surface = garment.map((g, c) => g * (1 - share) + LINEAR_OF_CODE[ink[c]] * share);
    const light = (code: number) => 2 * (code / 255) ** 2 * gain;
    const [R, G, B] = [0, 1, 2].map((c) => light(maps.shade[pixel * 4 + c]));
    const alpha = maps.photo[pixel * 4 + 3] / 255;
    for (let c = 0; c < 3; c++) {
      const tint = 1 - blank.glossTint + (blank.glossTint * surface[c]) / Math.max(...surface);
      const lit = rolledOff(surface[c] * (R + (G * surface[c]) / blank.albedo) + B * tint);
      const mask = alpha ? Math.min(1, maps.mask[pixel] / 255 / alpha) : 0;
      const body = LINEAR_OF_CODE[maps.photo[pixel * 4 + c]] * gain * (1 - mask) + lit * mask;
      const behind = backdrop[c] * (1 - look.shadow * (maps.shadow[pixel] / 255));
      out.push(Math.round(Math.min(1, encodedOf(behind * (1 - alpha) + body * alpha)) * 255));
    }
    out.push(255);
  }
  return out;
}

describe('the scene kernel in the browser', () => {
  const blank = { albedo: 0.82, glossTint: 0.7 };
  // 4 × 2 pixels: nothing, edge, label, cloth; the last row is printed.
  const maps: SceneMaps = {
    width: 4,
    height: 2,
    photo: Uint8Array.of(
      0,
      0,
      0,
      0,
      180,
      180,
      180,
      128,
      90,
      60,
      30,
      255,
      200,
      200,
      200,
      255,
      190,
      190,
      190,
      255,
      190,
      190,
      190,
      255,
      190,
      190,
      190,
      200,
      200,
      200,
      200,
      255,
    ),
    mask: Uint8Array.of(0, 128, 0, 255, 255, 255, 200, 128),
    shade: Uint8Array.of(
      0,
      0,
      0,
      0,
      120,
      60,
      10,
      0,
      140,
      70,
      20,
      0,
      150,
      80,
      15,
      0,
      160,
      60,
      9,
      0,
      90,
      40,
      3,
      0,
      100,
      90,
      60,
      0,
      130,
      20,
      0,
      0,
    ),
    shadow: Uint8Array.of(0, 40, 90, 120, 200, 255, 10, 3),
  };
  const area: AreaMaps = {
    count: 4,
    index: Uint32Array.of(4, 5, 6, 7),
    u: Uint16Array.of(8000, 20000, 40000, 60000),
    v: Uint16Array.of(32768, 32768, 32768, 32768),
    coverage: Uint8Array.of(255, 200, 255, 128),
    detail: new Uint8Array(4),
    along: new Int8Array(8),
    part: { x: 0, y: 0, width: 1, height: 1 },
    pixelsPerMm: 1,
  };
  let kernel: SceneKernel;

  beforeAll(async () => {
    kernel = new SceneKernel(compileSceneKernel(await (await fetch('/scene.wasm')).arrayBuffer()), blank, maps);
    kernel.addArea({ id: 'front', widthMm: 100, heightMm: 100 }, area);
  });

  it('follows the packs’ formula and the shoulder to one level, in every garment colour and ink', () => {
    for (const ink of [
      [242, 189, 75, 255],
      [20, 90, 200, 128],
      [255, 255, 255, 3],
    ]) {
      const data = new Uint8Array(8 * 8 * 4);
      for (let i = 0; i < data.length; i += 4) data.set(ink, i);
      kernel.setTexture('front', { width: 8, height: 8, data }, { width: 8, height: 8, density: 1 });
      for (const garment of ['#1B1B1D', '#F5F3EE', '#A5442F']) {
        const look = { garment, backdrop: '#E4E1D9', inkOpacity: 0.9, shadow: 0.6 };
        const drawn = [...kernel.render(look, ['front']).data];
        byFormula(maps, area, ink, look, blank).forEach((expected, i) =>
          expect(Math.abs(drawn[i] - expected))
            .withContext(`${garment}, ink ${ink}, byte ${i}`)
            .toBeLessThanOrEqual(1),
        );
      }
    }
  });

  it('keeps the bare product when only the design changes', () => {
    const look = { garment: '#1F2B4D', backdrop: '#E4E1D9', inkOpacity: 1, shadow: 0.6 };
    const texture = (rgba: number[]) => {
      const data = new Uint8Array(256);
      for (let i = 0; i < 256; i += 4) data.set(rgba, i);
      kernel.setTexture('front', { width: 8, height: 8, data }, { width: 8, height: 8, density: 1 });
      return [...kernel.render(look, ['front']).data];
    };
    const bare = texture([0, 0, 0, 0]);
    expect(texture([255, 0, 0, 255])).not.toEqual(bare);
    expect(texture([0, 0, 0, 0])).toEqual(bare);
  });
});
