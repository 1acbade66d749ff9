// Takes a colour out of a picture's working copy: the hot loops of treatments/colour-cut.ts, which says what they mean.
// Memory is a bump allocation that the host sets back before each use.

let top: usize = (__heap_base + 15) & ~15;

/** Forgets everything that was allocated. */
export function reset(): void { top = (__heap_base + 15) & ~15; }

/** Bytes of memory, 16-byte aligned. They may hold what was there before. */
export function allocate(bytes: usize): usize {
  const at = top;
  top = (top + bytes + 15) & ~15;
  const missing = <i32>((top + 0xffff) >>> 16) - memory.size();
  if (missing > 0 && memory.grow(missing) < 0) unreachable();
  return at;
}

const OUT: u8 = 0;
const IN: u8 = 1;
const BAND: u8 = 2;
const EDGE: i32 = 3;
/** Cells that a soft edge of a cut without a bound of its own goes on for. */
const MOST_SOFT: i32 = 160;
const SOFT_STEP: f32 = 26;
const MOST_STILL: i32 = 4;
const FAINT: f32 = 42;
const UNSEEN: i32 = 65535;
const ALIGNED: f32 = 0.94;
const ALIGNED_FAINT: f32 = 0.7;

@inline function stepX(n: i32): i32 { return n == 0 || n == 4 || n == 5 ? 1 : n == 1 || n == 6 || n == 7 ? -1 : 0; }
@inline function stepY(n: i32): i32 { return n == 2 || n == 4 || n == 6 ? 1 : n == 3 || n == 5 || n == 7 ? -1 : 0; }

@inline function channel(data: usize, cell: i32, k: i32): f32 { return <f32>load<u8>(data + (<usize>cell << 2) + k); }
@inline function alphaAt(data: usize, cell: i32): u8 { return load<u8>(data + (<usize>cell << 2) + 3); }

let red: f32 = 0;
let green: f32 = 0;
let blue: f32 = 0;

/**
 * Marks what is out (0), in (1) and in the band (2), with the art's colour behind each cell of the band and its alpha.
 * @param data straight RGBA
 * @param from 0 from the border, 1 from the cell `at`, 2 everywhere
 * @param deepest cells that a soft edge may go on for: what does not end by then is no edge; −1 for cuts without a bound
 * @param kind, alpha one byte a cell; @param art three bytes a cell
 */
export function cutColour(
  data: usize, width: i32, height: i32, r: f32, g: f32, b: f32, tolerance: f32, from: i32, at: i32, rings: f32, deepest: i32,
  kind: usize, art: usize, alpha: usize,
): void {
  const count = width * height;
  red = r;
  green = g;
  blue = b;
  const distance = allocate(<usize>count << 2);
  const list = allocate(<usize>count << 2);
  const depth = allocate(<usize>count << 1);
  const soft = allocate(<usize>count);
  const highest = allocate(<usize>count << 2);
  const still = allocate(<usize>count);
  memory.fill(kind, IN, <usize>count);
  memory.fill(alpha, 255, <usize>count);
  for (let cell = 0; cell < count; cell++) {
    const dr = channel(data, cell, 0) - r;
    const dg = channel(data, cell, 1) - g;
    const db = channel(data, cell, 2) - b;
    store<f32>(distance + (<usize>cell << 2), Mathf.sqrt((dr * dr + dg * dg + db * db) / 3));
  }
  markGround(data, width, height, tolerance, from, at, kind, alpha, distance, list);
  memory.fill(soft, 0, <usize>count);
  dropFaintIslands(data, width, height, kind, alpha, distance, soft, deepest >= 0);
  const last = growInwards(data, width, height, tolerance, kind, distance, depth, list, soft, highest, still);
  if (deepest >= 0) keepTooDeep(width, height, deepest, depth, list, soft, highest, still, last);
  unmixInwards(data, width, height, rings, kind, art, alpha, distance, depth, list, soft, last);
}

@inline function isGround(data: usize, distance: usize, cell: i32, tolerance: f32): bool {
  return load<f32>(distance + (<usize>cell << 2)) <= tolerance || alphaAt(data, cell) == 0;
}

let size: i32 = 0;

@inline function reach(data: usize, distance: usize, tolerance: f32, kind: usize, alpha: usize, list: usize, cell: i32): void {
  if (load<u8>(kind + cell) == OUT || !isGround(data, distance, cell, tolerance)) return;
  store<u8>(kind + cell, OUT);
  store<u8>(alpha + cell, 0);
  store<i32>(list + (<usize>size << 2), cell);
  size++;
}

function markGround(data: usize, width: i32, height: i32, tolerance: f32, from: i32, at: i32, kind: usize, alpha: usize, distance: usize, list: usize): void {
  const count = width * height;
  size = 0;
  if (from == 2) {
    for (let cell = 0; cell < count; cell++) reach(data, distance, tolerance, kind, alpha, list, cell);
    return;
  }
  if (from == 1) reach(data, distance, tolerance, kind, alpha, list, at);
  else {
    for (let x = 0; x < width; x++) {
      reach(data, distance, tolerance, kind, alpha, list, x);
      reach(data, distance, tolerance, kind, alpha, list, count - 1 - x);
    }
    for (let y = 0; y < height; y++) {
      reach(data, distance, tolerance, kind, alpha, list, y * width);
      reach(data, distance, tolerance, kind, alpha, list, y * width + width - 1);
    }
    for (let cell = 0; cell < count; cell++) if (alphaAt(data, cell) == 0) reach(data, distance, tolerance, kind, alpha, list, cell);
  }
  while (size) {
    size--;
    const cell = load<i32>(list + (<usize>size << 2));
    const x = cell % width;
    if (x > 0) reach(data, distance, tolerance, kind, alpha, list, cell - 1);
    if (x < width - 1) reach(data, distance, tolerance, kind, alpha, list, cell + 1);
    if (cell >= width) reach(data, distance, tolerance, kind, alpha, list, cell - width);
    if (cell < count - width) reach(data, distance, tolerance, kind, alpha, list, cell + width);
  }
}

function dropFaintIslands(data: usize, width: i32, height: i32, kind: usize, alpha: usize, distance: usize, seen: usize, pockets: bool): void {
  const count = width * height;
  const most = max(12, <i32>Mathf.ceil(<f32>count * 0.0004));
  const island = allocate(<usize>(most + 8) << 2);
  for (let start = 0; start < count; start++) {
    if (load<u8>(seen + start) || load<u8>(kind + start) == OUT || load<f32>(distance + (<usize>start << 2)) > FAINT) continue;
    let found = 1;
    let next = 0;
    let faint = true;
    store<i32>(island, start);
    store<u8>(seen + start, 1);
    while (next < found) {
      const cell = load<i32>(island + (<usize>next << 2));
      next++;
      if (load<f32>(distance + (<usize>cell << 2)) > FAINT || alphaAt(data, cell) < 255 || found > most) {
        faint = false;
        break;
      }
      const x = cell % width;
      for (let n = 0; n < 4; n++) {
        const to = cell + stepY(n) * width + stepX(n);
        if (x + stepX(n) < 0 || x + stepX(n) >= width || to < 0 || to >= count) continue;
        if (load<u8>(kind + to) == OUT) continue;
        // A pocket of what was found to be larger is no island; cuts of before took it for one.
        if (pockets && load<u8>(seen + to) == 2) faint = false;
        if (load<u8>(seen + to)) continue;
        store<u8>(seen + to, 1);
        store<i32>(island + (<usize>found << 2), to);
        found++;
      }
    }
    if (!faint) {
      for (let n = 0; n < found; n++) store<u8>(seen + load<i32>(island + (<usize>n << 2)), 2);
      continue;
    }
    for (let n = 0; n < found; n++) {
      const cell = load<i32>(island + (<usize>n << 2));
      store<u8>(kind + cell, OUT);
      store<u8>(alpha + cell, 0);
    }
  }
}

/** Cells inwards from the ground, in the order of their depth; how many there are. */
function growInwards(
  data: usize, width: i32, height: i32, tolerance: f32, kind: usize, distance: usize, depth: usize, list: usize, soft: usize, highest: usize, still: usize,
): i32 {
  const count = width * height;
  memory.fill(soft, 0, <usize>count);
  memory.fill(still, 0, <usize>count);
  memory.fill(highest, 0, <usize>count << 2);
  memory.fill(depth, 255, <usize>count << 1);
  let last = 0;
  for (let cell = 0; cell < count; cell++) {
    if (load<u8>(kind + cell) != OUT || alphaAt(data, cell) == 0) continue;
    store<u16>(depth + (<usize>cell << 1), 0);
    const x = cell % width;
    let touches = false;
    for (let n = 0; n < 8 && !touches; n++) {
      const to = cell + stepY(n) * width + stepX(n);
      if (x + stepX(n) < 0 || x + stepX(n) >= width || to < 0 || to >= count) continue;
      touches = load<u8>(kind + to) != OUT;
    }
    if (!touches) continue;
    store<i32>(list + (<usize>last << 2), cell);
    last++;
  }
  for (let first = 0; first < last; first++) {
    const cell = load<i32>(list + (<usize>first << 2));
    const next = <i32>load<u16>(depth + (<usize>cell << 1)) + 1;
    if (next > MOST_SOFT) break;
    const x = cell % width;
    const own = load<f32>(distance + (<usize>cell << 2));
    const peak = load<f32>(highest + (<usize>cell << 2));
    for (let n = 0; n < 8; n++) {
      const to = cell + stepY(n) * width + stepX(n);
      if (x + stepX(n) < 0 || x + stepX(n) >= width || to < 0 || to >= count) continue;
      if (<i32>load<u16>(depth + (<usize>to << 1)) <= next || alphaAt(data, to) == 0) continue;
      const far = load<f32>(distance + (<usize>to << 2));
      const grows = far > peak + 0.4;
      const isSoft =
        (next == 1 ? far <= tolerance + SOFT_STEP : load<u8>(soft + cell) == 1) &&
        far - own <= SOFT_STEP && far >= own - 2 && (grows || <i32>load<u8>(still + cell) < MOST_STILL);
      if (next > EDGE && !isSoft) continue;
      store<u16>(depth + (<usize>to << 1), <u16>next);
      store<u8>(soft + to, isSoft ? 1 : 0);
      store<f32>(highest + (<usize>to << 2), max(peak, far));
      store<u8>(still + to, grows ? 0 : load<u8>(still + cell) + 1);
      store<i32>(list + (<usize>last << 2), to);
      last++;
    }
  }
  return last;
}

/**
 * Art that nears the ground's colour step by step has no edge there: what goes on deeper than an edge may, and all that
 * leads to it, is kept whole, but for the few cells that any edge has.
 * @param queue room for four bytes a cell
 * @param steps room for one byte a cell
 */
function keepTooDeep(width: i32, height: i32, deepest: i32, depth: usize, list: usize, soft: usize, queue: usize, steps: usize, last: i32): void {
  const count = width * height;
  memory.fill(steps, 0, <usize>count);
  let end = 0;
  for (let n = 0; n < last; n++) {
    const cell = load<i32>(list + (<usize>n << 2));
    if (!load<u8>(soft + cell) || <i32>load<u16>(depth + (<usize>cell << 1)) <= max(deepest, EDGE)) continue;
    store<u8>(steps + cell, 1);
    store<i32>(queue + (<usize>end << 2), cell);
    end++;
  }
  for (let n = 0; n < end; n++) {
    const cell = load<i32>(queue + (<usize>n << 2));
    const own = load<u8>(steps + cell);
    if (<i32>own > min(250, 2 * deepest + EDGE)) break;
    const x = cell % width;
    for (let k = 0; k < 8; k++) {
      const to = cell + stepY(k) * width + stepX(k);
      if (x + stepX(k) < 0 || x + stepX(k) >= width || to < 0 || to >= count) continue;
      if (!load<u8>(soft + to) || load<u8>(steps + to)) continue;
      store<u8>(steps + to, own + 1);
      store<i32>(queue + (<usize>end << 2), to);
      end++;
    }
  }
  for (let n = 0; n < end; n++) {
    const cell = load<i32>(queue + (<usize>n << 2));
    store<u8>(soft + cell, 0);
    if (<i32>load<u16>(depth + (<usize>cell << 1)) > EDGE) store<u16>(depth + (<usize>cell << 1), <u16>UNSEEN);
  }
}

@inline function farOf(art: usize, cell: i32): f32 {
  const at = art + <usize>cell * 3;
  const dr = <f32>load<u8>(at) - red;
  const dg = <f32>load<u8>(at, 1) - green;
  const db = <f32>load<u8>(at, 2) - blue;
  return Mathf.sqrt((dr * dr + dg * dg + db * db) / 3);
}

@inline function isAligned(data: usize, cell: i32, art: usize, inBand: bool, to: i32, own: f32, far: f32): bool {
  const at = art + <usize>to * 3;
  const dr = (inBand ? <f32>load<u8>(at) : channel(data, to, 0)) - red;
  const dg = (inBand ? <f32>load<u8>(at, 1) : channel(data, to, 1)) - green;
  const db = (inBand ? <f32>load<u8>(at, 2) : channel(data, to, 2)) - blue;
  const dot = ((channel(data, cell, 0) - red) * dr + (channel(data, cell, 1) - green) * dg + (channel(data, cell, 2) - blue) * db) / 3;
  return dot >= own * far * (own < 40 ? ALIGNED_FAINT : ALIGNED);
}

function unmixInwards(
  data: usize, width: i32, height: i32, rings: f32, kind: usize, art: usize, alpha: usize, distance: usize, depth: usize, list: usize, soft: usize, last: i32,
): void {
  const count = width * height;
  for (let n = last - 1; n >= 0; n--) {
    const cell = load<i32>(list + (<usize>n << 2));
    const deep = load<u16>(depth + (<usize>cell << 1));
    if (load<u8>(kind + cell) == OUT || <i32>deep == UNSEEN) continue;
    const own = load<f32>(distance + (<usize>cell << 2));
    // Along a soft edge the colour changes little from one cell to the next.
    let best = own + (load<u8>(soft + cell) ? <f32>0.5 : max(<f32>3, own * 0.03));
    let from = -1;
    const x = cell % width;
    for (let k = 0; k < 8; k++) {
      const to = cell + stepY(k) * width + stepX(k);
      if (x + stepX(k) < 0 || x + stepX(k) >= width || to < 0 || to >= count) continue;
      const kindTo = load<u8>(kind + to);
      const deepTo = load<u16>(depth + (<usize>to << 1));
      if (kindTo == OUT || deepTo < deep || alphaAt(data, to) < 128) continue;
      const inBand = kindTo == BAND;
      const far = inBand && <i32>deepTo != UNSEEN ? farOf(art, to) : load<f32>(distance + (<usize>to << 2));
      if (far <= best) continue;
      if ((own > rings || far < 2 * own) && !isAligned(data, cell, art, inBand, to, own, far)) continue;
      best = far;
      from = to;
    }
    store<u8>(kind + cell, BAND);
    const c = art + <usize>cell * 3;
    const source = from < 0 ? cell : from;
    if (from >= 0 && load<u8>(kind + from) == BAND) {
      const f = art + <usize>from * 3;
      store<u8>(c, load<u8>(f));
      store<u8>(c, load<u8>(f, 1), 1);
      store<u8>(c, load<u8>(f, 2), 2);
    } else {
      const f = data + (<usize>source << 2);
      store<u8>(c, load<u8>(f));
      store<u8>(c, load<u8>(f, 1), 1);
      store<u8>(c, load<u8>(f, 2), 2);
    }
    const far = farOf(art, cell);
    store<u8>(alpha + cell, far > 0 ? <u8>min(<f32>255, (own / far) * 255 + 0.5) : 255);
  }
}
