import { panned, toMmAt, viewOfBox, zoomedAt } from './viewport.js';

describe('looking nearer', () => {
  it('fits a box, keeps the point under the hand, and never loses the canvas', () => {
    const view = viewOfBox({ x: 100, y: 50, width: 50, height: 20 }, { width: 800, height: 500, margin: 50, foot: 20 });
    expect(view.scale).toBe(14);
    expect(toMmAt(view, { x: 400, y: 240 })).toEqual({ x: 125, y: 60 });
    const near = zoomedAt(view, { x: 100, y: 80 }, 30);
    expect(toMmAt(near, { x: 100, y: 80 }).x).toBeCloseTo(toMmAt(view, { x: 100, y: 80 }).x, 9);
    expect(zoomedAt(view, { x: 0, y: 0 }, 1e9).scale).toBe(200);
    const far = panned(view, { x: 99999, y: -99999 }, { widthMm: 300, heightMm: 400 }, { width: 800, height: 500 });
    expect([far.left, far.top]).toEqual([760, 40 - 400 * 14]);
  });
});
