import * as yup from 'yup';
import { MOST_FRAMES } from '@kettle/core/mockup';
import { choice, colour, finite, flag, identifier, list, outline, text } from './fields.js';
import { colourwaySchema } from './requirement-schema.js';

/** A name without any folder: a pack's pictures lie beside its manifest. */
const fileName = () =>
  yup
    .string()
    .matches(
      /^[A-Za-z0-9_-][\w.-]{0,118}$/,
      'A picture of a blank is named by letters, digits, dots and hyphens, without folders.',
    );

const areaSchema = yup.object({
  id: identifier().required(),
  name: text('Name of the area', 80).required(),
  widthMm: finite('Width of the area', 1, 10_000).required(),
  heightMm: finite('Height of the area', 1, 10_000).required(),
  safeInsetMm: finite('Safe inset of the area', 0, 500).required(),
  bleedMm: finite('Bleed of the area', 0, 500).optional(),
  uv: fileName().required(),
  cover: fileName().optional(),
  visible: finite('Share of the picture', 0, 1).optional(),
  kind: choice('Kind of the area', ['all-over']).optional(),
  cut: outline('Cut', 2).optional(),
  lines: yup
    .array(
      yup.object({
        name: choice('Line', ['collar', 'shoulder', 'armhole', 'side', 'hem']).required(),
        points: outline('Line', 2).required(),
      }),
    )
    .max(60, 'A panel has at most 60 lines.')
    .optional(),
});

const scale = () => finite('Scale of the maps', 0.01, 1);

const words = (label: string) => text(label, 120).defined();

/** Fields of a blank. */
export const blankFields = yup
  .object({
    id: identifier().required('A blank needs an id.'),
    name: text('Name', 120).required('Name the blank.'),
    category: text('Category', 80).required(),
    product: words('Product'),
    view: words('View'),
    wearer: words('Wearer'),
    setting: words('Setting'),
    kind: choice('Kind', ['still', 'moving']).required(),
    tags: yup.array(text('Tag', 60).required()).required(),
    width: finite('Width', 16, 20_000).integer().required(),
    height: finite('Height', 16, 20_000).integer().required(),
    albedo: finite('Albedo', 0.01, 1).required(),
    glossTint: finite('Gloss tint', 0, 1).required(),
    shadowStrength: finite('Shadow', 0, 1).required(),
    inRoom: flag('In a room').optional(),
    backdrop: colour('Backdrop').required(),
    colourways: list(colourwaySchema.required(), 60, 'A blank has at most 60 colours.', {
      count: 1,
      sentence: 'A blank has at least one colour.',
    }),
    areas: list(areaSchema.required(), 20, 'A blank has at most 20 print areas.', {
      count: 1,
      sentence: 'A blank has at least one print area.',
    }),
    files: yup
      .object({
        photo: fileName().required(),
        mask: fileName().required(),
        shade: fileName().required(),
        shadow: fileName().required(),
      })
      .required('A blank names its pictures.'),
    fps: finite('Frames a second', 1, 60).optional(),
    frames: finite('Frames', 2, MOST_FRAMES).integer('Frames are a whole number.').optional(),
    play: choice('Play', ['back-and-forth', 'loop']).optional(),
    poster: finite('Poster', 0, MOST_FRAMES - 1)
      .integer('The poster is a whole frame.')
      .optional(),
    scales: yup
      .object({ shade: scale().required(), shadow: scale().required(), uv: scale().required() })
      .default(undefined)
      .optional(),
    shadow: choice('Shadow', ['still']).optional(),
  })
  .required();

/** The manifest of a blank pack. What it says beyond this is left alone. */
export const blankSchema = blankFields.test(
  'moving',
  'A moving blank says how it moves: fps, frames, play, a poster among the frames, scales, and a cover for each print area.',
  ({ kind, fps, frames, play, poster, scales, areas }) =>
    kind !== 'moving' ||
    (!!fps &&
      !!frames &&
      !!play &&
      poster !== undefined &&
      poster < frames &&
      !!scales &&
      (areas ?? []).every((area) => area.cover !== undefined)),
);
