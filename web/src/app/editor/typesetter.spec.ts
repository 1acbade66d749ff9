import type { HttpTestingController, TestRequest } from '@angular/common/http/testing';
import { TestBed } from '@angular/core/testing';
import type { TextLayer } from '@kettle/core/model';
import { isUnset, textLayer } from '@kettle/core/document';
import { openEditor } from '../testing/open-editor';
import type { Editor } from './editor';
import { Maker } from './maker';
import { Typesetter } from './typesetter';

const words = textLayer(
  't',
  { text: 'T', fontId: 'anton' },
  { path: 'M0 7L20 7L20 0Z', width: 20, height: 7 },
  { width: 355.6, height: 406.4 },
  '#f2bd4b',
);
const outlines = (text: string) => ({ path: 'M0 7L20 7L20 0Z', width: 10 * text.length, height: 7 });

describe('lettering that is typed at a person’s pace', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let typesetter: Typesetter;
  beforeEach(() => {
    jasmine.clock().install().mockDate();
    ({ editor, http } = openEditor({ layers: [words] }));
    typesetter = TestBed.inject(Typesetter);
  });
  afterEach(() => jasmine.clock().uninstall());
  const layer = () => editor.layers()[0] as TextLayer;
  const asked = (): TestRequest[] => http.match('/api/lettering');
  const answer = (request: TestRequest, missing: string[] = []) =>
    request.flush({ outlines: outlines(request.request.body.text), missing, instead: [] });

  it('keeps every letter, however late the answers come', () => {
    const sentence = 'The quick brown fox jumps';
    let open: TestRequest[] = [];
    // What the words box holds is what was typed: each letter is added to what it shows.
    for (const [i, letter] of [...sentence.slice(1)].entries()) {
      typesetter.set(layer(), { text: typesetter.settingOf(layer()).text + letter });
      jasmine.clock().tick(110 + ((i * 37) % 60));
      open.push(...asked());
      // The server answers each request two letters later; the browser has given up those that were replaced.
      if (open.length > 2) {
        const late = open.shift()!;
        if (!late.cancelled) answer(late);
      }
      expect(typesetter.settingOf(layer()).text).toBe(sentence.slice(0, i + 2));
    }
    jasmine.clock().tick(300);
    open = [...open, ...asked()].filter((one) => !one.cancelled);
    open.forEach((one) => answer(one));
    expect(layer().text).toBe(sentence);
    expect(typesetter.settingOf(layer()).text).toBe(sentence);
  });

  it('is there at once, set once however often the server is away, and one step back with its letters', () => {
    const maker = TestBed.inject(Maker);
    maker.text();
    const [, made] = editor.layers() as TextLayer[];
    expect([made.text, isUnset(made), editor.editing()]).toEqual(['Your words', true, made.id]);
    TestBed.tick();
    jasmine.clock().tick(100);
    asked()[0].error(new ProgressEvent('error'));
    jasmine.clock().tick(1000);
    const [again, ...others] = asked();
    expect(others).toEqual([]);
    answer(again);
    const set = editor.layers()[1] as TextLayer;
    expect([set.id, isUnset(set), set.outlines.width]).toEqual([made.id, false, 100]);
    TestBed.tick();
    jasmine.clock().tick(1000);
    expect(asked()).toEqual([]);
    // What is written over it is a step of its own; the lettering itself is the one before.
    typesetter.set(set, { text: 'Fog' });
    jasmine.clock().tick(100);
    answer(asked()[0]);
    editor.desk.undo();
    expect((editor.layers()[1] as TextLayer).text).toBe('Your words');
    editor.desk.undo();
    expect(editor.layers().length).toBe(1);
  });

  it('is written over before it was ever set, and set as it was written', () => {
    TestBed.inject(Maker).text();
    const [, made] = editor.layers() as TextLayer[];
    TestBed.tick();
    jasmine.clock().tick(100);
    const [first] = asked();
    typesetter.set(made, { text: 'Fog Warden' });
    jasmine.clock().tick(100);
    expect(first.cancelled).toBeTrue();
    answer(asked()[0]);
    expect((editor.layers()[1] as TextLayer).text).toBe('Fog Warden');
    expect(isUnset(editor.layers()[1])).toBeFalse();
  });

  it('does not let an older answer take back what was typed while it was on its way', () => {
    typesetter.set(layer(), { text: 'Th' });
    jasmine.clock().tick(100);
    const [first] = asked();
    typesetter.set(layer(), { text: 'The' });
    // The answer comes in the quiet time before the newer setting is asked for.
    answer(first);
    expect(layer().text).toBe('Th');
    expect(typesetter.settingOf(layer()).text).toBe('The');
    jasmine.clock().tick(100);
    answer(asked()[0]);
    expect(layer().text).toBe('The');
  });

  it('keeps the letters in mind that its face does not have, for as long as they are missing', () => {
    typesetter.set(layer(), { text: 'Fog☂' });
    jasmine.clock().tick(100);
    answer(asked()[0], ['☂']);
    expect(layer().missing).toBe('☂');
    expect(editor.current()!.findings.map((finding) => finding.code)).toContain('missing-letters');
    typesetter.set(layer(), { text: 'Fog' });
    jasmine.clock().tick(100);
    answer(asked()[0]);
    expect(layer().missing).toBeUndefined();
  });
});
