import { NO_EDGE, NO_TONE, type Treatment } from '@kettle/core/model';
import { iconOf, swatchOf, titleOf, WAYS, wordsOf } from './treatment-words';

const step = (fields: object): Treatment => ({ id: 's', ...fields }) as Treatment;

describe('what a step to make a picture fit for cloth is called', () => {
  it('has a title and an icon for each kind that can be added', () => {
    for (const { kind } of WAYS) {
      expect(titleOf(step({ kind })))
        .withContext(kind)
        .toMatch(/^[A-Z]/);
      expect(iconOf(step({ kind })))
        .withContext(kind)
        .toMatch(/^[a-z-]+$/);
    }
  });

  it('says what it does, and that it does nothing yet', () => {
    expect(wordsOf(step({ ...NO_EDGE }))).toBe('as it is');
    expect(wordsOf(step({ ...NO_EDGE, shift: -1.5, specks: 4 }))).toBe('shrunk 1.5 px, specks cleared');
    expect(wordsOf(step({ ...NO_TONE }))).toBe('as it is');
    expect(wordsOf(step({ ...NO_TONE, turnedOver: true, ink: '#11564f' }))).toBe('inverted, one ink #11564f');
    expect(wordsOf(step({ kind: 'crop', box: { x: 0.1, y: 0, width: 0.5, height: 0.333 } }))).toBe('50 × 33 %');
    expect(wordsOf(step({ kind: 'strokes', strokes: [] }))).toBe('none yet');
    expect(wordsOf(step({ kind: 'strokes', strokes: [{ keep: true }, { keep: false }, { keep: false }] }))).toBe(
      '1 keep, 2 drop',
    );
    expect(wordsOf(step({ kind: 'touch', strokes: [{}] }))).toBe('1 stroke');
    expect(wordsOf(step({ kind: 'colour', hex: '#ffffff', from: 'everywhere' }))).toBe('#ffffff, everywhere');
  });

  it('shows the colour of a step that is about one', () => {
    expect(swatchOf(step({ kind: 'dissolve', hex: '#000000' }))).toBe('#000000');
    expect(swatchOf(step({ ...NO_EDGE }))).toBeNull();
  });
});
