import { design, mug, tee } from '../testing/samples.js';
import { addTarget } from './edits.js';
import { addGuide, guidesOnCanvas, linesOfGuides, MAX_GUIDES, moveGuide, removeGuide } from './guides.js';
import { layoutTarget } from './target.js';

describe('guides', () => {
  const both = addTarget(mug())(design());
  const layout = layoutTarget(both, both.targets[1], mug());

  it('of the design are seen on every target at the same place of the art; a target’s own on it alone', () => {
    let edited = addGuide(layout, null, 'x', 30)(both);
    edited = addGuide(layout, 'mug', 'y', 12)(edited);
    expect(
      guidesOnCanvas(edited, edited.targets[1], layout).map(({ owner, axis, at }) => [
        owner,
        axis,
        Math.round(at * 1e6) / 1e6,
      ]),
    ).toEqual([
      [null, 'x', 30],
      ['mug', 'y', 12],
    ]);
    expect(guidesOnCanvas(edited, edited.targets[0], layoutTarget(edited, edited.targets[0], tee())).length).toBe(1);
    const [shared, own] = guidesOnCanvas(edited, edited.targets[1], layout);
    const moved = moveGuide(layout, shared, 44)(edited);
    expect(guidesOnCanvas(moved, moved.targets[1], layout)[0].at).toBeCloseTo(44, 9);
    expect(removeGuide(own)(moved).targets[1].guides).toEqual([]);
    expect(linesOfGuides([own])).toEqual([{ axis: 'y', at: 12, source: 'guide' }]);
  });

  it('have an end', () => {
    const full = { ...both, guides: Array.from({ length: MAX_GUIDES }, () => ({ axis: 'x' as const, at: 1 })) };
    expect(() => addGuide(layout, null, 'x', 1)(full)).toThrowError(/room for/);
  });
});
