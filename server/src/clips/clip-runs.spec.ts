import { execFile } from 'node:child_process';
import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { promisify } from 'node:util';
import type { ClipFile, Job, JobStep } from '@kettle/contract';
import { CLIP_FPS, CLIP_SECONDS, clipSize, type Clip, type ClipScene, type DesignDocument } from '@kettle/core/model';
import sharp from 'sharp';
import { freshFolder, isOver, smallDesign, smallTee, until, serverForAll } from '../testing/test-house.js';

const DISC = Buffer.from(
  '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><circle cx="50" cy="50" r="50" fill="#b4532a"/></svg>',
);
const SIDE = 720;

const scene = (id: string, blankId: string, areaId: string, change: Partial<ClipScene> = {}): ClipScene => ({
  id,
  scene: {
    blankId,
    areaId,
    requirementId: null,
    garment: '#F5F3EE',
    backdrop: '#E4E1D9',
    inkOpacity: 1,
    shadow: 0.5,
  },
  frames: 24,
  movement: 'still',
  ...change,
});

describe('clips that the server makes', () => {
  const { server, call } = serverForAll();
  let folder: string;
  let design: { id: string; revision: number; document: DesignDocument };

  beforeAll(async () => {
    folder = await freshFolder();
    const asset = (await call('POST', '/api/assets', DISC, { 'Content-Type': 'image/svg+xml', 'X-Filename': 'a.svg' }))
      .body;
    const requirement = (await call('POST', '/api/requirements', smallTee())).body;
    design = (await call('POST', '/api/designs', smallDesign(asset.id, [requirement.id]))).body as typeof design;
  });

  async function save(clips: readonly Clip[]): Promise<void> {
    const { id, revision, document } = design;
    const answer = await call('PUT', `/api/designs/${id}`, { ...document, clips }, { 'If-Match': `"${revision}"` });
    expect(answer.status).withContext(JSON.stringify(answer.body)).toBe(200);
    design = answer.body as typeof design;
  }

  const over = (id: string): Promise<Job> =>
    until(async () => (await call('GET', `/api/jobs/${id}`)).body as unknown as Job, isOver);

  async function run(body: object): Promise<Job> {
    const asked = await call('POST', '/api/clip-runs', body);
    expect(asked.status).withContext(JSON.stringify(asked.body)).toBe(202);
    return over(asked.body.jobId as string);
  }
  const made = async () => (await call('GET', `/api/designs/${design.id}/clips`)).body as unknown as ClipFile[];
  const bytesOf = async (path: string): Promise<Buffer> =>
    Buffer.from(await (await fetch(`${server.address}${path}`)).arrayBuffer());

  /** One frame of a video as pixels, RGB. */
  async function frameOf(file: string, frame: number): Promise<Buffer> {
    const { stdout } = await promisify(execFile)(
      'ffmpeg',
      [
        ...['-v', 'error', '-i', file, '-vf', `select=eq(n\\,${frame}),scale=in_color_matrix=bt709`, '-frames:v', '1'],
        ...['-f', 'rawvideo', '-pix_fmt', 'rgb24', 'pipe:1'],
      ],
      { encoding: 'buffer', maxBuffer: 1e8 },
    );
    return stdout;
  }
  const apart = (a: Buffer, b: Buffer): number => {
    expect(a.length).toBe(b.length);
    return a.reduce((sum, value, i) => sum + Math.abs(value - b[i]), 0) / a.length;
  };

  /** The same scene as a listing picture, brought to the clip's size. */
  async function pictureOf(blankId: string, areaId: string, garment: string): Promise<Buffer> {
    const asked = await call('POST', `/api/designs/${design.id}/pictures`, {
      blankId,
      areaId,
      colourways: [{ name: 'So', hex: garment }],
      size: 1200,
      format: 'png',
      backdrop: '#E4E1D9',
      inkOpacity: 1,
      shadow: 0.5,
    });
    expect(asked.status).withContext(JSON.stringify(asked.body)).toBe(202);
    const { state, message, results } = await over(asked.body.jobId as string);
    expect(state).withContext(message).toBe('done');
    return sharp(await bytesOf(`/api/pictures/${results[0].id}/content`))
      .removeAlpha()
      .resize(SIDE, SIDE)
      .raw()
      .toBuffer();
  }

  it('says what it can write', async () => {
    const { body } = await call('GET', '/api/clip-makers');
    expect(body).toEqual({ files: ['webm', 'mp4', 'webp'], sentence: '' });
  });

  for (const [file, video] of [
    ['webm', 'VP9'],
    ['mp4', 'AV1'],
  ] as const)
    it(`are ${video} with sound as loud as is wished, and show what pictures show`, async () => {
      await save([
        {
          id: 'one',
          name: 'Turns',
          shape: '1:1',
          scenes: [
            scene('a', 'tote', 'front'),
            scene('b', 'tee-turning', 'full-front', { movement: 'turn', frames: 36 }),
          ],
          music: { trackId: 'isobars-closing-in', start: 0, volume: 1 },
        },
      ]);
      const job = await run({ clips: [{ designId: design.id, clipId: 'one' }], side: SIDE, file });
      expect(job.state).withContext(job.message).toBe('done');
      const [clip] = await made();
      expect(clip.outOfDate).toBeFalse();
      expect(clip.cover).toBeTrue();
      expect(clip.certificate).toEqual(
        jasmine.objectContaining({ container: file, frames: 60, width: SIDE, height: SIDE, video, sound: 'Opus' }),
      );
      expect(Math.abs(clip.certificate.seconds - 2.5)).toBeLessThan(1 / CLIP_FPS + 0.03);
      const path = join(folder, `clip.${file}`);
      await writeFile(path, await bytesOf(`/api/clips/${clip.id}/content`));
      // As loud as was asked, by a meter that is not ours (EBU R 128 in FFmpeg).
      const { stderr } = await promisify(execFile)('ffmpeg', ['-i', path, '-af', 'ebur128', '-f', 'null', '-']);
      const loudness = Number([...stderr.matchAll(/I:\s+(-?[\d.]+) LUFS/g)].at(-1)![1]);
      expect(loudness).toBeGreaterThan(-16);
      expect(loudness).toBeLessThan(-14);
      // A still scene is the listing picture; at its end a turn has come to the poster.
      const still = await pictureOf('tote', 'front', '#F5F3EE');
      const turned = await pictureOf('tee-turning', 'full-front', '#F5F3EE');
      expect(apart(await frameOf(path, 12), still)).toBeLessThan(3);
      expect(apart(await frameOf(path, 59), turned)).toBeLessThan(3);
      expect(apart(await frameOf(path, 26), turned)).toBeGreaterThan(5);
      const cover = sharp(await bytesOf(`/api/clips/${clip.id}/cover`));
      expect((await cover.metadata()).format).toBe('jpeg');
      expect(apart(await cover.raw().toBuffer(), still)).toBeLessThan(3);
      // Made again it is the same file, and nothing is drawn.
      const again = await run({ clips: [{ designId: design.id, clipId: 'one' }], side: SIDE, file });
      expect(again.results).toEqual(job.results);
    });

  it('carry words of the faces of the page, and lay a print on layer by layer', async () => {
    const words = { title: 'Mostly Drizzle', line: 'From 19.50', when: 'all', hex: '#1f2623' } as const;
    await save([
      { id: 'plain', name: 'Plain', shape: '4:5', scenes: [scene('a', 'tote', 'front', { movement: 'layers' })] },
      {
        id: 'words',
        name: 'Words',
        shape: '4:5',
        scenes: [scene('a', 'tote', 'front', { movement: 'layers' })],
        words,
      },
    ]);
    const clips = ['plain', 'words'].map((clipId) => ({ designId: design.id, clipId }));
    const job = await run({ clips, side: SIDE, file: 'webp' });
    expect(job.state).withContext(job.message).toBe('done');
    const { width, height } = clipSize('4:5', 540);
    const frames = await Promise.all(
      job.results.map(async ({ id }) => {
        const pages = await bytesOf(`/api/clips/${id}/content`);
        return Promise.all(
          [0, 11].map((page) => sharp(pages, { page }).removeAlpha().raw().toBuffer({ resolveWithObject: true })),
        );
      }),
    );
    const [[bare, whole], [, worded]] = frames;
    expect([whole.info.width, whole.info.height]).toEqual([width, height]);
    const copper = ({ data }: typeof whole): number => {
      let count = 0;
      for (let i = 0; i < data.length; i += 3)
        if (data[i] > 130 && data[i] - data[i + 2] > 70 && data[i + 1] < 130) count++;
      return count / (width * height);
    };
    expect(copper(bare)).toBe(0);
    expect(copper(whole)).toBeGreaterThan(0.0005);
    // Ink of the title stands in its band at the foot, and nowhere else.
    const changed = (from: number, to: number): number => {
      let count = 0;
      for (let y = Math.round(from * height); y < to * height; y++)
        for (let x = 0; x < width; x++)
          if (Math.abs(worded.data[(y * width + x) * 3] - whole.data[(y * width + x) * 3]) > 60) count++;
      return count / (width * height);
    };
    expect(changed(0.72, 0.94)).toBeGreaterThan(0.01);
    expect(changed(0, 0.7)).toBeLessThan(0.0005);
  });

  it('are refused with a sentence where nothing can come of it', async () => {
    await save([{ id: 'long', name: 'Long', shape: '1:1', scenes: [scene('a', 'tote', 'front', { frames: 1 })] }]);
    const gone = await call('POST', '/api/clip-runs', {
      clips: [{ designId: design.id, clipId: 'gone' }],
      side: SIDE,
      file: 'webm',
    });
    expect([gone.status, gone.body.code]).toEqual([404, 'no-such-clip']);
    const wrong = await call('POST', '/api/clip-runs', { clips: [], side: 999, file: 'gif' });
    expect(wrong.status).toBe(422);
    // One that is too short fails by itself and says so.
    const job = await run({ clips: [{ designId: design.id, clipId: 'long' }], side: SIDE, file: 'webm' });
    expect(job.state).toBe('failed');
    const { body: steps } = await call('GET', `/api/jobs/${job.id}/steps`);
    expect((steps as unknown as JobStep[])[0].message).toContain(`${CLIP_SECONDS.least} to ${CLIP_SECONDS.most} s`);
  });

  it('say what to do where no encoder is installed', async () => {
    const path = process.env['PATH'];
    process.env['PATH'] = '';
    try {
      expect((await call('GET', '/api/clip-makers')).body).toEqual({
        files: ['webp'],
        sentence: 'The server has no encoder for videos. With Debian’s package ffmpeg it makes them too.',
      });
      await save([{ id: 'one', name: 'One', shape: '1:1', scenes: [scene('a', 'tote', 'front')] }]);
      const answer = await call('POST', '/api/clip-runs', {
        clips: [{ designId: design.id, clipId: 'one' }],
        side: SIDE,
        file: 'webm',
      });
      expect([answer.status, answer.body.code]).toEqual([409, 'no-encoder']);
    } finally {
      process.env['PATH'] = path;
    }
  });
});
