import type { Blank } from '../model/blank.js';
import { colourWord, findBlanks } from './find-blanks.js';

const blank = (id: string, change: Partial<Blank>): Blank =>
  ({
    id,
    name: id,
    category: 'Tops',
    product: 'T-shirt',
    view: 'front',
    wearer: 'nobody',
    setting: 'studio wall',
    kind: 'still',
    tags: [],
    colourways: [{ name: 'Chalk', hex: '#F5F3EE' }],
    ...change,
  }) as Blank;

const BLANKS = [
  blank('tee', {
    colourways: [
      { name: 'Chalk', hex: '#F5F3EE' },
      { name: 'Harbour', hex: '#1F2B4D' },
      { name: 'Soot', hex: '#1B1B1D' },
    ],
  }),
  blank('tee-back', { view: 'back' }),
  blank('mug', { category: 'Drinkware', product: 'Mug', setting: 'on a table', tags: ['ceramic'] }),
  blank('mug-desk', { category: 'Drinkware', product: 'Mug', view: 'right', setting: 'on a desk', tags: ['daylight'] }),
];
const ids = (...found: Parameters<typeof findBlanks>) => findBlanks(...found).blanks.map(({ id }) => id);

describe('finding blanks', () => {
  it('takes all chosen values and all words, wherever a blank says them', () => {
    expect(ids(BLANKS, {}, '')).toEqual(['tee', 'tee-back', 'mug', 'mug-desk']);
    expect(ids(BLANKS, { product: 'T-shirt', view: 'back' }, '')).toEqual(['tee-back']);
    expect(ids(BLANKS, {}, ' MUG  daylight')).toEqual(['mug-desk']);
    expect(ids(BLANKS, {}, 'harbour')).toEqual(['tee']);
    expect(ids(BLANKS, { colour: 'blue' }, '')).toEqual(['tee']);
    expect(ids(BLANKS, { whose: 'own' }, '', new Set(['mug']))).toEqual(['mug']);
    expect(ids(BLANKS, { view: 'back', product: 'Mug' }, '')).toEqual([]);
  });

  it('counts what each value would leave beside the others that are chosen, down to none', () => {
    const { counts } = findBlanks(BLANKS, { category: 'Drinkware' }, '');
    // The facet itself is counted as if nothing of it was chosen; every other one within the choice.
    expect(counts.category).toEqual([
      { value: 'Tops', count: 2 },
      { value: 'Drinkware', count: 2 },
    ]);
    expect(counts.view).toEqual([
      { value: 'front', count: 1 },
      { value: 'back', count: 0 },
      { value: 'right', count: 1 },
    ]);
    expect(counts.colour).toEqual([
      { value: 'white', count: 2 },
      { value: 'black', count: 0 },
      { value: 'blue', count: 0 },
    ]);
    expect(findBlanks(BLANKS, {}, 'daylight').counts.product).toEqual([
      { value: 'T-shirt', count: 0 },
      { value: 'Mug', count: 1 },
    ]);
  });

  it('calls colours what a shopper calls them', () => {
    const words = Object.entries({
      '#FFFFFF': 'white',
      '#F5F3EE': 'white',
      '#1B1B1D': 'black',
      '#B9BDC0': 'grey',
      '#808080': 'grey',
      '#1F2B4D': 'blue',
      '#2A6FBF': 'blue',
      '#A5442F': 'red',
      '#C1272D': 'red',
      '#4E5F3A': 'green',
      '#1F6B6B': 'green',
      '#D9A93B': 'yellow',
      '#F2E16B': 'yellow',
      '#6B4A2B': 'brown',
      '#6A3B8B': 'purple',
      '#E8A0B8': 'pink',
    });
    for (const [hex, word] of words) expect(`${hex} ${colourWord(hex)}`).toBe(`${hex} ${word}`);
  });
});
