import { clearOfEdges, luminance, rgbOf, type ClipShape, type ClipWords } from '@kettle/core';
import type { ReadyWords } from './paint-clip';

const SERIF = '"Fraunces Variable", serif';
const SANS = '"Public Sans Variable", sans-serif';
/** Height of the title's letters, as a share of the clip's shorter side. */
const TITLE = 0.085;
const LINE = 0.042;
/** Softness of the halo around letters. */
const HALO = 0.012;
/** Smallest that a long title is set, as a share of what it would be. */
const SMALLEST = 0.45;

/**
 * Sets words for a clip of a size, at the foot of what a phone leaves free. Null without words. Faces are those of the page:
 * wait for them before.
 */
export async function drawWords(
  words: ClipWords | undefined,
  shape: ClipShape,
  { width, height }: { readonly width: number; readonly height: number },
): Promise<ReadyWords | null> {
  if (!words || !(words.title.trim() || words.line.trim())) return null;
  const side = Math.min(width, height);
  const clear = clearOfEdges(shape);
  const most = clear.width * width;
  const context = new OffscreenCanvas(4, 4).getContext('2d')!;
  const set = [
    { text: words.title.trim(), size: TITLE * side, weight: 600, face: SERIF },
    { text: words.line.trim(), size: LINE * side, weight: 500, face: SANS },
  ]
    .filter(({ text }) => text)
    .map(({ text, size, weight, face }) => {
      context.font = `${weight} ${size}px ${face}`;
      const factor = Math.max(SMALLEST, Math.min(1, most / context.measureText(text).width));
      return { text, size: size * factor, font: `${weight} ${size * factor}px ${face}` };
    });
  const canvas = context.canvas;
  canvas.width = Math.ceil(most);
  canvas.height = Math.ceil(set.reduce((sum, { size }) => sum + size * 1.25, 0) + side * 0.02);
  context.textBaseline = 'alphabetic';
  context.textAlign = 'center';
  context.fillStyle = words.hex;
  // A breath of the opposite around the letters, so that they read before anything.
  context.shadowColor = luminance(rgbOf(words.hex)) > 0.4 ? 'rgb(20 24 22 / 85%)' : 'rgb(255 253 248 / 95%)';
  context.shadowBlur = side * HALO;
  let y = 0;
  for (const { text, size, font } of set) {
    context.font = font;
    y += size * 1.02;
    // Thrice, for a halo is thin.
    for (let n = 0; n < 3; n++) context.fillText(text, canvas.width / 2, y, canvas.width);
    y += size * 0.23;
  }
  const picture = await createImageBitmap(canvas);
  return {
    picture,
    x: clear.x * width,
    y: (clear.y + clear.height) * height - canvas.height,
  };
}
