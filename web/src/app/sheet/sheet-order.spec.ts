import type { SheetRow } from '@kettle/contract';
import { filtered, NO_FILTER } from './sheet-order';

const row = (name: string, savedAt: string, ...requirementIds: string[]): SheetRow => ({
  designId: name,
  name,
  revision: 1,
  savedAt,
  layers: 1,
  template: false,
  pictures: 0,
  set: null,
  cells: requirementIds.map((requirementId) => ({
    requirementId,
    state: 'not-made',
    garment: '#ffffff',
    finding: null,
    printFileId: null,
    miniature: '',
  })),
});
const NOW = Date.UTC(2026, 10, 27);
const ROWS = [
  row('Mostly Drizzle', '2026-11-26T20:00:00.000Z', 'tee', 'mug'),
  row('Barometer Falling', '2026-11-22T20:00:00.000Z', 'mug'),
  row('Fog Signal', '2026-01-01T20:00:00.000Z', 'tee'),
];
const channelOf = (id: string): string => (id === 'tee' ? 'Larkpost' : 'Quillmere');
const shown = (change: object): string[] =>
  filtered(ROWS, { ...NO_FILTER, ...change }, channelOf, NOW).map(({ name }) => name);

describe('what the sheet shows', () => {
  it('is all of it, or what has words, a channel, or was changed since', () => {
    expect(shown({}).length).toBe(3);
    expect(shown({ words: 'drizzle MOSTLY' })).toEqual(['Mostly Drizzle']);
    expect(shown({ words: 'nothing' })).toEqual([]);
    expect(shown({ channel: 'Larkpost' })).toEqual(['Mostly Drizzle', 'Fog Signal']);
    expect(shown({ days: 1 })).toEqual(['Mostly Drizzle']);
    expect(shown({ days: 7 })).toEqual(['Mostly Drizzle', 'Barometer Falling']);
    expect(shown({ days: 7, channel: 'Quillmere', words: 'a' })).toEqual(['Barometer Falling']);
  });
});
