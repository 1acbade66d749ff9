import { SELLER } from '../floor/basics/caller.js';
import { LetteringService } from './lettering.js';
import { FAMILIES } from '../render/text/font-catalogue.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { FontStore } from './font-store.js';
import { RenderPool } from '../render/render-pool.js';

const PLAIN = { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 } as const;

describe('lettering in shipped fonts', () => {
  let pool: RenderPool;
  let service: LetteringService;
  beforeAll(() => {
    pool = new RenderPool(1);
    service = new LetteringService({
      pools: { type: pool },
      fontStore: { list: async () => [], get: async () => null } as unknown as FontStore,
      blobs: {} as BlobStore,
      cache: '',
    });
  });
  afterAll(() => pool.close());
  const set = (text: string, fontId: string, change = {}) =>
    service.set(SELLER, { text, fontId, settings: { ...PLAIN, ...change } });
  const anton = 'anton-latin-400';

  it('works in every one of them', async () => {
    expect(FAMILIES.length).toBeGreaterThanOrEqual(40);
    const words = { Latin: 'Fog', Arabic: 'ضباب', Devanagari: 'कोहरा', Japanese: '霧のやかん' };
    for (const { scripts, start, name, faces } of FAMILIES) {
      expect(faces.map((face) => face.id))
        .withContext(name)
        .toContain(start);
      for (const script of scripts) {
        const { outlines, missing } = await set(words[script], start);
        expect(missing).withContext(`${name} ${script}`).toEqual([]);
        expect(outlines?.path)
          .withContext(`${name} ${script}`)
          .toMatch(/^M[MLQCZ0-9 .-]+$/);
      }
    }
  });

  it('sets composed and decomposed letters alike', async () => {
    for (const word of ['Smörgåsbord', 'čeština', 'Việt', 'ñandú', 'क़लम']) {
      const face = /\p{Script=Devanagari}/u.test(word) ? 'hind-devanagari-400' : 'work-sans-latin-400';
      const start = FAMILIES.some((family) => family.faces.some((one) => one.id === face))
        ? face
        : FAMILIES.find((family) => family.scripts.includes(/hind/.test(face) ? 'Devanagari' : 'Latin'))!.start;
      const [composed, parted] = [await set(word.normalize('NFC'), start), await set(word.normalize('NFD'), start)];
      expect(parted.outlines?.path).withContext(word).toBe(composed.outlines?.path);
      expect(parted.missing).toEqual(composed.missing);
    }
    // The ring is there: «a» alone is lower.
    expect((await set('a\u030a', anton)).outlines!.height).toBeGreaterThan(
      (await set('a', anton)).outlines!.height * 1.1,
    );
  });

  it('joins Arabic letters and orders them from the right', async () => {
    const joined = (await set('بب', 'cairo-arabic-800')).outlines!;
    const apart = (await set('ب ب', 'cairo-arabic-800')).outlines!;
    expect(joined.width).toBeLessThan(apart.width * 0.8);
    // Alef is narrow and comes first, so it stands at the right: mirrored order gives other outlines.
    expect((await set('اب', 'cairo-arabic-800')).outlines!.path).not.toBe(
      (await set('با', 'cairo-arabic-800')).outlines!.path,
    );
  });

  it('sets two directions on one line, each in its own order', async () => {
    // Latin letters stand first on a line that begins with them; on one that begins with Arabic they stand at the left
    // end.
    const first = (await set('ab اب', 'cairo-arabic-800')).outlines!;
    const second = (await set('اب ab', 'cairo-arabic-800')).outlines!;
    expect(first.width).toBeCloseTo(second.width, 0);
    expect(first.path.slice(0, 12)).toBe(second.path.slice(0, 12));
  });

  it('takes letters that a face does not have from its other subsets', async () => {
    expect((await set('Fog ضباب', 'cairo-arabic-800')).missing).toEqual([]);
    expect((await set('Żółw', 'oswald-latin-600')).missing).toEqual([]);
  });

  it('leaves joined letters joined when letters are spaced', async () => {
    const width = async (text: string, spacing: number) =>
      (await set(text, 'cairo-arabic-800', { spacing })).outlines!.width;
    expect(await width('ضباب', 80)).toBeCloseTo(await width('ضباب', 0), 6);
    expect(await width('fog', 80)).toBeGreaterThan((await width('fog', 0)) + 15);
  });

  it('has weights that differ', async () => {
    expect((await set('Fog', 'work-sans-latin-900')).outlines!.width).toBeGreaterThan(
      (await set('Fog', 'work-sans-latin-100')).outlines!.width,
    );
  });

  it('kerns', async () => {
    const width = async (text: string) => (await set(text, 'josefin-sans-latin-600')).outlines!.width;
    expect(await width('AVAVAV')).toBeLessThan(await width('AAAVVV'));
  });

  it('names letters that are not there, and fonts that have them', async () => {
    const { missing, instead, outlines } = await set('Fog ض', anton);
    expect(missing).toEqual(['ض']);
    expect(instead.map((font) => font.start)).toEqual(['cairo-arabic-800']);
    expect(outlines).not.toBeNull();
  });

  it('is nothing for nothing, and refuses fonts that do not exist', async () => {
    expect((await set('  ', anton)).outlines).toBeNull();
    await expectAsync(set('Fog', 'no-such-font')).toBeRejectedWithError(/no font/);
  });
});
