import { LetteringService } from '../services/lettering.js';
import { FONTS } from '../services/font-catalogue.js';
import { RenderPool } from './render-pool.js';

const PLAIN = { spacing: 0, lineSpacing: 110, align: 'middle', bend: 0 } as const;

describe('lettering in shipped fonts', () => {
  let pool: RenderPool;
  let service: LetteringService;
  beforeAll(() => { pool = new RenderPool(1); service = new LetteringService(pool); });
  afterAll(() => pool.close());
  const set = (text: string, fontId: string, change = {}) => service.set({ text, fontId, settings: { ...PLAIN, ...change } });
  const anton = 'anton-latin-400';

  it('works in every one of them', async () => {
    expect(FONTS.length).toBeGreaterThanOrEqual(40);
    for (const font of FONTS) {
      const text = { Latin: 'Fog', Arabic: 'ضباب', Devanagari: 'कोहरा' }[font.script];
      const { outlines, missing } = await set(text, font.id);
      expect(missing).withContext(font.id).toEqual([]);
      expect(outlines?.path).withContext(font.id).toMatch(/^M[MLQCZ0-9 .-]+$/);
    }
  }, 60_000);

  it('joins Arabic letters and orders them from the right', async () => {
    const joined = (await set('بب', 'cairo-arabic-800')).outlines!;
    const apart = (await set('ب ب', 'cairo-arabic-800')).outlines!;
    expect(joined.width).toBeLessThan(apart.width * 0.8);
    // Alef is narrow and comes first, so it stands at the right: mirrored order gives other outlines.
    expect((await set('اب', 'cairo-arabic-800')).outlines!.path).not.toBe((await set('با', 'cairo-arabic-800')).outlines!.path);
  });

  it('kerns', async () => {
    const width = async (text: string) => (await set(text, 'josefin-sans-latin-600')).outlines!.width;
    expect(await width('AVAVAV')).toBeLessThan(await width('AAAVVV'));
  });

  it('names letters that are not there, and fonts that have them', async () => {
    const { missing, instead, outlines } = await set('Fog ض', anton);
    expect(missing).toEqual(['ض']);
    expect(instead.map((font) => font.id)).toEqual(['cairo-arabic-800']);
    expect(outlines).not.toBeNull();
  });

  it('is nothing for nothing, and refuses fonts that do not exist', async () => {
    expect((await set('  ', anton)).outlines).toBeNull();
    await expectAsync(set('Fog', 'no-such-font')).toBeRejectedWithError(/no font/);
  });
});
