/** Quality that no eye tells from the original, and the one below which everybody does. */
const [BEST, LEAST] = [95, 40];

/**
 * The best quality whose file stays under a limit, found by halving.
 * @param encode bytes at a quality, 1 to 100
 * @returns the file and its quality; the smallest one when none is small enough
 */
export async function underLimit(
  encode: (quality: number) => Promise<Buffer>,
  maxBytes: number | undefined,
): Promise<{ readonly bytes: Buffer; readonly quality: number }> {
  const best = await encode(BEST);
  if (maxBytes === undefined || best.length <= maxBytes) return { bytes: best, quality: BEST };
  let found = { bytes: await encode(LEAST), quality: LEAST };
  for (let [low, high] = [LEAST, BEST]; high - low > 1 && found.bytes.length <= maxBytes;) {
    const middle = (low + high) >> 1;
    const bytes = await encode(middle);
    if (bytes.length <= maxBytes) {
      low = middle;
      found = { bytes, quality: middle };
    } else high = middle;
  }
  return found;
}
