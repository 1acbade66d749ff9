import type { GraphicLayer, GraphicPart } from '../model/design.js';

/** A piece of the graphics library. */
export interface Graphic {
  readonly id: string;
  readonly name: string;
  readonly category: string;
  /** Box of its parts, which begins at 0, 0. */
  readonly width: number;
  readonly height: number;
  /** Back to front. */
  readonly parts: readonly GraphicPart[];
}

/** A graphic in the middle of the upper part of a field. */
export function graphicLayer(
  id: string,
  { id: graphic, name, width, height, parts }: Graphic,
  field: { width: number; height: number },
): GraphicLayer {
  const factor = Math.min((field.width * 0.35) / width, (field.height * 0.35) / height);
  return {
    kind: 'graphic',
    id,
    name,
    graphic,
    box: { width, height },
    parts,
    opacity: 1,
    hidden: false,
    place: {
      x: field.width / 2,
      y: field.height * 0.35,
      width: width * factor,
      height: height * factor,
      turn: 0,
      flipX: false,
      flipY: false,
    },
  };
}
