import type { ClipShape, ClipWords } from '@kettle/core/model';
import { setWords, type WordFace } from '@kettle/core/clip';
import type { ReadyWords } from './bitmaps';

const FACES: Readonly<Record<WordFace['face'], string>> = {
  serif: '"Fraunces Variable", serif',
  sans: '"Public Sans Variable", sans-serif',
};
const fontOf = ({ face, weight, size }: WordFace & { readonly size: number }): string =>
  `${weight} ${size}px ${FACES[face]}`;

/** Draws words for a clip of a size. Null without words. Faces are those of the page: wait for them before. */
export async function drawWords(
  words: ClipWords | undefined,
  shape: ClipShape,
  size: { readonly width: number; readonly height: number },
): Promise<ReadyWords | null> {
  const context = new OffscreenCanvas(4, 4).getContext('2d')!;
  const set = setWords(words, shape, size, (text, face) => {
    context.font = fontOf(face);
    return context.measureText(text).width;
  });
  if (!set) return null;
  const { lines, x, y, hex, halo } = set;
  const canvas = context.canvas;
  canvas.width = set.width;
  canvas.height = set.height;
  context.textBaseline = 'alphabetic';
  context.textAlign = 'center';
  context.fillStyle = hex;
  context.shadowColor = halo.css;
  context.shadowBlur = halo.blur;
  for (const line of lines) {
    context.font = fontOf(line);
    for (let n = 0; n < halo.times; n++) context.fillText(line.text, line.x, line.baseline, canvas.width);
  }
  return { picture: await createImageBitmap(canvas), x, y };
}
