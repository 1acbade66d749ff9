const round = (value: number): string => value.toFixed(1);

/** A repeatable random source (mulberry32), so that the art is drawn the same every time. */
export function dice(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A cloud with a flat base: lobes as circles on a rounded bar, one path. */
export function cloud(
  x: number,
  y: number,
  width: number,
  lobes: readonly (readonly [number, number, number])[],
): string {
  const bar = width * 0.13;
  const circles = lobes.map(([cx, cy, r]) => {
    const [px, py, pr] = [x + cx * width, y - cy * width, r * width];
    return `M${round(px - pr)} ${round(py)}a${round(pr)} ${round(pr)} 0 1 1 ${round(2 * pr)} 0a${round(pr)} ${round(pr)} 0 1 1 ${round(-2 * pr)} 0Z`;
  });
  return `${circles.join('')}M${round(x + bar)} ${round(y - 2 * bar)}H${round(x + width - bar)}a${round(bar)} ${round(bar)} 0 0 1 0 ${round(2 * bar)}H${round(x + bar)}a${round(bar)} ${round(bar)} 0 0 1 0 ${round(-2 * bar)}Z`;
}

/** A row of rolling waves as a filled path down to `bottom`. */
export function waves(
  x: number,
  y: number,
  width: number,
  count: number,
  height: number,
  bottom: number,
  phase = 0,
): string {
  const step = width / count;
  let d = `M${round(x)} ${round(y)}`;
  for (let i = 0; i < count; i++) {
    const at = x + i * step;
    const lift = i % 2 === phase ? height : height * 0.7;
    d += `C${round(at + step * 0.35)} ${round(y - lift)} ${round(at + step * 0.65)} ${round(y - lift)} ${round(at + step)} ${round(y)}`;
  }
  return `${d}V${round(bottom)}H${round(x)}Z`;
}

/** A drop with its tip at the top. */
export const drop = (x: number, y: number, size: number): string =>
  `M${round(x)} ${round(y)}C${round(x + size * 0.1)} ${round(y + size * 0.5)} ${round(x + size * 0.55)} ${round(y + size * 0.8)} ${round(x + size * 0.55)} ${round(y + size * 1.15)}` +
  `a${round(size * 0.55)} ${round(size * 0.55)} 0 1 1 ${round(-size * 1.1)} 0C${round(x - size * 0.55)} ${round(y + size * 0.8)} ${round(x - size * 0.1)} ${round(y + size * 0.5)} ${round(x)} ${round(y)}Z`;

/** Edge of a postage stamp: a rectangle with half-round bites. */
export function stamp(x: number, y: number, width: number, height: number, bite: number): string {
  const side = (length: number) => {
    const n = Math.round(length / (bite * 3));
    return { n, gap: length / n };
  };
  const across = side(width);
  const down = side(height);
  const edge = (n: number, gap: number, dx: number, dy: number): string => {
    const flat = (gap - 2 * bite) / 2;
    return Array.from(
      { length: n },
      () =>
        `l${round(dx * flat)} ${round(dy * flat)}a${bite} ${bite} 0 0 0 ${round(dx * 2 * bite)} ${round(dy * 2 * bite)}l${round(dx * flat)} ${round(dy * flat)}`,
    ).join('');
  };
  return `M${round(x)} ${round(y)}${edge(across.n, across.gap, 1, 0)}${edge(down.n, down.gap, 0, 1)}${edge(across.n, across.gap, -1, 0)}${edge(down.n, down.gap, 0, -1)}Z`;
}

/**
 * Lines of equal height of a field over a grid, as path data, by marching squares with linear interpolation.
 * @param field height at grid node (i, j)
 */
export function contour(
  field: (i: number, j: number) => number,
  columns: number,
  rows: number,
  cell: number,
  level: number,
): string {
  const next = new Map<string, string[]>();
  const at = (i: number, j: number, k: number, l: number): string => {
    const [p, q] = [field(i, j), field(k, l)];
    const t = (level - p) / (q - p);
    return `${round((i + (k - i) * t) * cell)} ${round((j + (l - j) * t) * cell)}`;
  };
  const link = (a: string, b: string): void => {
    next.set(a, [...(next.get(a) ?? []), b]);
    next.set(b, [...(next.get(b) ?? []), a]);
  };
  for (let j = 0; j < rows; j++) {
    for (let i = 0; i < columns; i++) {
      const corners: [number, number][] = [
        [i, j],
        [i + 1, j],
        [i + 1, j + 1],
        [i, j + 1],
      ];
      const crossings = corners.flatMap(([a, b], n) => {
        const [c, d] = corners[(n + 1) % 4];
        return field(a, b) > level !== field(c, d) > level
          ? [at(Math.min(a, c), Math.min(b, d), Math.max(a, c), Math.max(b, d))]
          : [];
      });
      for (let n = 0; n + 1 < crossings.length; n += 2) link(crossings[n], crossings[n + 1]);
    }
  }
  const lines: string[] = [];
  const walk = (start: string): void => {
    let point = start;
    const line = [point];
    for (;;) {
      const onward = next.get(point)?.[0];
      if (!onward) break;
      next.set(
        point,
        next.get(point)!.filter((one) => one !== onward),
      );
      next.set(
        onward,
        next.get(onward)!.filter((one) => one !== point),
      );
      line.push(onward);
      point = onward;
    }
    if (line.length > 4) lines.push(`M${line.join('L')}`);
  };
  for (const [point, ends] of next) if (ends.length === 1) walk(point);
  for (const [point, ends] of next) if (ends.length) walk(point);
  return lines.join('');
}
