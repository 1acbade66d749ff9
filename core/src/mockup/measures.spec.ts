import { measureLines, measuresSvg, seenLine } from './measures.js';

const AREA = { widthMm: 300, heightMm: 400 };
const TEE = { category: 'Tops' };

describe('measures on a picture', () => {
  it('are how wide and high the print is and how far it hangs below the collar, in the client’s unit', () => {
    const lines = measureLines({ x: 25, y: 83, width: 250, height: 180 }, AREA, TEE, 1, 'cm');
    expect(lines.map((line) => line.text)).toEqual(['25 cm', '18 cm', '8.3 cm below the collar']);
    const [across, down, drop] = lines;
    expect([across.from.x, across.to.x]).toEqual([25, 275]);
    expect(across.from.y).toBe(across.to.y);
    expect(across.from.y).toBeGreaterThan(263);
    expect([down.from.y, down.to.y]).toEqual([83, 263]);
    expect([drop.from, drop.to]).toEqual([
      { x: 150, y: 0 },
      { x: 150, y: 83 },
    ]);
  });

  it('are those of the print file where the product shows it smaller, and lie on the art where there is no room', () => {
    const art = { x: 0, y: 0, width: 300, height: 400 };
    const lines = measureLines(art, AREA, { category: 'Wall' }, 0.5, 'mm');
    expect(lines.map((line) => line.text)).toEqual(['600 mm', '800 mm']);
    expect(lines[0].from.y).toBeLessThan(400);
    expect(lines[1].from.x).toBeLessThan(300);
    const low = measureLines({ x: 10, y: 200, width: 50, height: 50 }, AREA, { category: 'Wall' }, 1, 'in');
    expect(low[2].text).toBe('7.87 in below the upper edge');
  });

  it('follow what is seen, and say nothing where nothing is', () => {
    const [line] = measureLines({ x: 0, y: 0, width: 100, height: 10 }, AREA, TEE, 1, 'mm');
    const points = seenLine(line, ({ x, y }) => (x > 50 ? null : { x: x * 2, y }));
    expect(points.length).toBeGreaterThan(7);
    expect(points.length).toBeLessThan(10);
    const size = { width: 1000, height: 1000 };
    const svg = measuresSvg([{ points, text: 'a < b & c' }], size);
    expect(svg).toContain('a &#60; b &#38; c');
    expect(svg).toContain(`M${points[0].x.toFixed(1)} ${points[0].y.toFixed(1)}`);
    expect(measuresSvg([{ points: points.slice(0, 1), text: 'one point' }], size)).not.toContain('one point');
  });
});
