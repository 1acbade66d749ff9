import { HttpErrorResponse } from '@angular/common/http';
import { isAway, problemOf, sentenceOf } from './api';
import { nameOf } from './intake';
import { byChannel } from './requirement-shelf';

describe('a failed call', () => {
  const failed = (status: number, error: unknown) => new HttpErrorResponse({ status, error });
  it('speaks in the server’s sentence', () => {
    expect(sentenceOf(failed(422, { code: 'empty', detail: 'This file is empty: it has 0 bytes.' }))).toBe('This file is empty: it has 0 bytes.');
    expect(sentenceOf(failed(422, '{"code":"a","detail":"From text."}'))).toBe('From text.');
    expect(problemOf(failed(500, '<html>'))).toBeNull();
  });
  it('speaks for itself when there is no server', () => {
    expect(sentenceOf(failed(0, null))).toContain('cannot be reached');
    expect([isAway(failed(0, null)), isAway(failed(503, null)), isAway(failed(422, null))]).toEqual([true, true, false]);
    expect(sentenceOf(new Error('x'))).toContain('Nothing that was saved is lost');
  });
});

describe('names', () => {
  it('of designs come from their files', () => {
    expect(nameOf('mostly-drizzle_final.PNG')).toBe('Mostly drizzle final');
    expect(nameOf('.png')).toBe('Untitled design');
    expect(nameOf('東京 の雨.svg')).toBe('東京 の雨');
  });
  it('of channels gather their requirements in order', () => {
    expect(byChannel([{ channel: 'b', n: 1 }, { channel: 'a', n: 2 }, { channel: 'b', n: 3 }]).map(({ channel, requirements }) => [channel, requirements.map((one) => one.n)])).toEqual([['b', [1, 3]], ['a', [2]]]);
  });
});
