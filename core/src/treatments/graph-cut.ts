/** Steps to the eight neighbours of a grid's cell; the opposite of `n` is `n ^ 1`. */
export const STEP_X = [1, -1, 0, 0, 1, -1, 1, -1] as const;
export const STEP_Y = [0, 0, 1, -1, 1, -1, -1, 1] as const;

const [FREE, SOURCE, SINK] = [0, 1, 2];
const [TERMINAL, ORPHAN, NONE] = [8, 9, 10];

/**
 * The least cut between source and sink on a grid whose cells are joined with their eight neighbours.
 * Source: Boykov and Kolmogorov, "An experimental comparison of min-cut/max-flow algorithms for energy minimization in
 * vision", IEEE TPAMI 26 (2004): two search trees that grow, meet, and adopt their orphans.
 * @param terminal for each cell what it would cost to put it on the other side than its own: above 0 on the source's,
 * below 0 on the sink's. Spent by the search.
 * @param joins capacity from each cell to each of its neighbours, cell × 8 + step; 0 over the border. Spent too.
 * @returns 1 for each cell on the source's side
 */
export function leastCut(width: number, height: number, terminal: Float32Array, joins: Float32Array): Uint8Array {
  const count = width * height;
  const offset = STEP_X.map((dx, n) => STEP_Y[n] * width + dx);
  const tree = new Uint8Array(count);
  const parent = new Uint8Array(count).fill(NONE);
  const stamp = new Int32Array(count);
  const far = new Int32Array(count);
  const queue = new Int32Array(count);
  const queued = new Uint8Array(count);
  let [head, tail, waiting, time] = [0, 0, 0, 0];
  const orphans: number[] = [];

  const activate = (cell: number): void => {
    if (queued[cell]) return;
    queued[cell] = 1;
    queue[tail] = cell;
    tail = tail + 1 === count ? 0 : tail + 1;
    waiting++;
  };
  for (let cell = 0; cell < count; cell++) {
    if (terminal[cell] === 0) continue;
    tree[cell] = terminal[cell] > 0 ? SOURCE : SINK;
    parent[cell] = TERMINAL;
    far[cell] = 1;
    activate(cell);
  }

  /** Grows a cell's tree; the join at which it met the other tree, as source cell × 8 + step, or −1. */
  const grow = (cell: number): number => {
    const isSource = tree[cell] === SOURCE;
    for (let n = 0; n < 8; n++) {
      const to = cell + offset[n];
      const room = isSource ? joins[cell * 8 + n] : to >= 0 && to < count ? joins[to * 8 + (n ^ 1)] : 0;
      if (room <= 0 || to < 0 || to >= count) continue;
      if (tree[to] === FREE) {
        tree[to] = tree[cell];
        parent[to] = n ^ 1;
        stamp[to] = stamp[cell];
        far[to] = far[cell] + 1;
        activate(to);
      } else if (tree[to] !== tree[cell]) return isSource ? cell * 8 + n : to * 8 + (n ^ 1);
      else if (stamp[to] <= stamp[cell] && far[to] > far[cell]) {
        parent[to] = n ^ 1;
        stamp[to] = stamp[cell];
        far[to] = far[cell] + 1;
      }
    }
    return -1;
  };

  const augment = (meeting: number): void => {
    const [from, to] = [meeting >> 3, (meeting >> 3) + offset[meeting & 7]];
    let least = joins[meeting];
    for (let cell = from; ; cell += offset[parent[cell]]) {
      if (parent[cell] === TERMINAL) {
        least = Math.min(least, terminal[cell]);
        break;
      }
      least = Math.min(least, joins[(cell + offset[parent[cell]]) * 8 + (parent[cell] ^ 1)]);
    }
    for (let cell = to; ; cell += offset[parent[cell]]) {
      if (parent[cell] === TERMINAL) {
        least = Math.min(least, -terminal[cell]);
        break;
      }
      least = Math.min(least, joins[cell * 8 + parent[cell]]);
    }
    joins[meeting] -= least;
    joins[to * 8 + ((meeting & 7) ^ 1)] += least;
    const orphan = (cell: number): void => {
      parent[cell] = ORPHAN;
      orphans.push(cell);
    };
    for (let cell = from; ;) {
      const way = parent[cell];
      if (way === TERMINAL) {
        terminal[cell] -= least;
        if (terminal[cell] <= 0) orphan(cell);
        break;
      }
      const next = cell + offset[way];
      joins[cell * 8 + way] += least;
      joins[next * 8 + (way ^ 1)] -= least;
      if (joins[next * 8 + (way ^ 1)] <= 0) orphan(cell);
      cell = next;
    }
    for (let cell = to; ;) {
      const way = parent[cell];
      if (way === TERMINAL) {
        terminal[cell] += least;
        if (terminal[cell] >= 0) orphan(cell);
        break;
      }
      const next = cell + offset[way];
      joins[next * 8 + (way ^ 1)] += least;
      joins[cell * 8 + way] -= least;
      if (joins[cell * 8 + way] <= 0) orphan(cell);
      cell = next;
    }
  };

  /** Steps to a terminal along parents, or −1 when they end at an orphan. Marks what it passes with this round's time. */
  const rootOf = (start: number): number => {
    let steps = 0;
    let cell = start;
    for (;;) {
      if (stamp[cell] === time) {
        steps += far[cell];
        break;
      }
      steps++;
      if (parent[cell] === TERMINAL) {
        stamp[cell] = time;
        far[cell] = 1;
        break;
      }
      if (parent[cell] >= ORPHAN) return -1;
      cell += offset[parent[cell]];
    }
    let left = steps;
    for (cell = start; stamp[cell] !== time; cell += offset[parent[cell]]) {
      stamp[cell] = time;
      far[cell] = left--;
    }
    return steps;
  };

  const adopt = (cell: number): void => {
    const isSource = tree[cell] === SOURCE;
    let [best, least] = [NONE, Number.MAX_SAFE_INTEGER];
    for (let n = 0; n < 8; n++) {
      const to = cell + offset[n];
      if (to < 0 || to >= count || tree[to] !== tree[cell] || parent[to] === NONE) continue;
      if ((isSource ? joins[to * 8 + (n ^ 1)] : joins[cell * 8 + n]) <= 0) continue;
      const steps = rootOf(to);
      if (steps >= 0 && steps < least) [best, least] = [n, steps];
    }
    if (best !== NONE) {
      parent[cell] = best;
      stamp[cell] = time;
      far[cell] = least + 1;
      return;
    }
    for (let n = 0; n < 8; n++) {
      const to = cell + offset[n];
      if (to < 0 || to >= count || tree[to] !== tree[cell]) continue;
      const way = parent[to];
      if ((isSource ? joins[to * 8 + (n ^ 1)] : joins[cell * 8 + n]) > 0) activate(to);
      if (way < TERMINAL && to + offset[way] === cell) {
        parent[to] = ORPHAN;
        orphans.push(to);
      }
    }
    tree[cell] = FREE;
    parent[cell] = NONE;
  };

  while (waiting) {
    const cell = queue[head];
    if (tree[cell] !== FREE) {
      const meeting = grow(cell);
      if (meeting >= 0) {
        time++;
        augment(meeting);
        while (orphans.length) adopt(orphans.pop()!);
        // The cell stays first in the queue: it may meet the other tree again.
        continue;
      }
    }
    queued[cell] = 0;
    head = head + 1 === count ? 0 : head + 1;
    waiting--;
  }
  return tree.map((side) => (side === SOURCE ? 1 : 0));
}
