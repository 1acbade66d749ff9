import {
  apply,
  boxAround,
  compose,
  rotate,
  scale,
  translate,
  unite,
  type Affine,
  type Box,
  type Point,
} from './affine.js';

/** Where a layer lies on a plane: centre, size before turning, and turn. Millimetres, degrees clockwise. */
export interface LayerPlace {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
  readonly turn: number;
  readonly flipX: boolean;
  readonly flipY: boolean;
}

/** Map from the layer's unit square (0,0 to 1,1, top left origin) to the print field in mm. */
export function unitToField(place: LayerPlace): Affine {
  return compose(
    translate(place.x, place.y),
    rotate(place.turn),
    scale(place.width * (place.flipX ? -1 : 1), place.height * (place.flipY ? -1 : 1)),
    translate(-0.5, -0.5),
  );
}

/** The four corners in reading order of the unturned picture. */
export function corners(map: Affine): Point[] {
  return [
    [0, 0],
    [1, 0],
    [1, 1],
    [0, 1],
  ].map(([x, y]) => apply(map, { x, y }));
}

/** Axis-aligned box of a turned layer. */
export function boundsOfPlace(place: LayerPlace): Box {
  return boxAround(corners(unitToField(place)));
}

/** The largest place of a picture's own proportions inside a box, centred at the top or the middle. */
export function placeInside(aspect: number, box: Box, anchor: 'top' | 'centre'): LayerPlace {
  const width = Math.min(box.width, box.height * aspect);
  const height = width / aspect;
  return {
    x: box.x + box.width / 2,
    y: anchor === 'top' ? box.y + height / 2 : box.y + box.height / 2,
    width,
    height,
    turn: 0,
    flipX: false,
    flipY: false,
  };
}

/**
 * Places moved together so that they keep their arrangement and their common box becomes `to` in position and width.
 */
export function fitTogether(places: readonly LayerPlace[], to: { x: number; y: number; width: number }): LayerPlace[] {
  const from = unite(places.map(boundsOfPlace));
  if (!from || from.width <= 0) return [...places];
  const factor = to.width / from.width;
  return places.map((place) => ({
    ...place,
    x: to.x + (place.x - from.x) * factor,
    y: to.y + (place.y - from.y) * factor,
    width: place.width * factor,
    height: place.height * factor,
  }));
}
