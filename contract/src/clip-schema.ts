import {
  CLIP_FPS,
  CLIP_SECONDS,
  CLIP_SHAPES,
  LOGO_CORNERS,
  LOGO_SIZE,
  MOST_CLIP_SCENES,
  MOST_CLIPS,
  MOVEMENTS,
  NEAREST,
  TRANSITIONS,
  type Clip,
  type ClipShape,
} from '@kettle/core/model';
import { CLIP_FILE_KINDS, MOST_FADE, type ClipRequirementFields } from '@kettle/core/clip';
import * as yup from 'yup';
import { choice, colour, finite, identifier, list, optionalList, text } from './fields.js';
import { schemaOf } from './proved.js';
import { shownSceneSchema } from './scene-schema.js';

const frames = (label: string, least: number) =>
  finite(label, least, CLIP_SECONDS.most * CLIP_FPS).integer('Frames are whole.');

const framingSchema = yup
  .object({
    x: finite('Framing across', -1, 1).required(),
    y: finite('Framing down', -1, 1).required(),
    zoom: finite('Nearness', 1, NEAREST).required(),
  })
  .noUnknown()
  .default(undefined)
  .optional();

const when = (label: string) => choice<'start' | 'end' | 'all'>(label, ['start', 'end', 'all']).required();

const clipSceneSchema = yup
  .object({
    id: identifier().required(),
    scene: shownSceneSchema,
    designId: identifier().optional(),
    frames: frames('Length of a scene', 1).required(),
    movement: choice('Movement', MOVEMENTS).required(),
    colours: optionalList(colour('Colour').required(), 24, 'A scene changes to at most 24 colours.'),
    transition: yup
      .object({ kind: choice('Transition', TRANSITIONS).required(), frames: frames('Transition', 0).required() })
      .noUnknown()
      .default(undefined)
      .optional(),
    framings: yup
      .object(
        Object.fromEntries(CLIP_SHAPES.map((shape) => [shape, framingSchema])) as Record<
          ClipShape,
          typeof framingSchema
        >,
      )
      .noUnknown()
      .default(undefined)
      .optional(),
  })
  .noUnknown();

/** A short moving picture of a design. */
export const clipSchema = schemaOf<Clip>()(
  yup
    .object({
      id: identifier().required(),
      name: text('Name of the clip', 80).required('Name the clip.'),
      shape: choice('Shape', CLIP_SHAPES).required(),
      scenes: yup
        .array()
        .of(clipSceneSchema.required())
        .max(MOST_CLIP_SCENES, `A clip has at most ${MOST_CLIP_SCENES} scenes.`)
        .required('A clip has scenes, [] for none.'),
      words: yup
        .object({
          title: text('Title', 80).defined(),
          line: text('Line', 120).defined(),
          when: when('Words'),
          hex: colour('Colour of the words').required(),
        })
        .noUnknown()
        .default(undefined)
        .optional(),
      music: yup
        .object({
          trackId: identifier().required(),
          start: finite('Start of the music, s', 0, 3600).required(),
          volume: finite('Volume', 0, 1).required(),
          fadeIn: finite('Coming in, s', 0, MOST_FADE).optional(),
          fadeOut: finite('Going, s', 0, MOST_FADE).optional(),
        })
        .noUnknown()
        .default(undefined)
        .optional(),
      logo: yup
        .object({
          assetId: identifier().required(),
          when: when('Logo'),
          corner: choice('Corner of the logo', LOGO_CORNERS).required(),
          size: finite('Size of the logo', LOGO_SIZE.least, LOGO_SIZE.most).required(),
        })
        .noUnknown()
        .default(undefined)
        .optional(),
      cover: frames('Cover', 0).optional(),
    })
    .noUnknown()
    .required(),
);

/** Clips of a design, each under an id of its own. */
export const clipsSchema = yup
  .array()
  .of(clipSchema)
  .max(MOST_CLIPS, `A design has at most ${MOST_CLIPS} clips.`)
  .test(
    'ids',
    'Each clip has an id of its own.',
    (clips) => !clips || new Set(clips.map((one) => one.id)).size === clips.length,
  )
  .optional();

/** What a channel demands of clips. */
export const clipRequirementFields = yup
  .object({
    channel: text('Channel', 80).required('Name the channel.'),
    name: text('Name', 80).required('Name the requirement.'),
    shapes: list(choice('Shape', CLIP_SHAPES).required(), CLIP_SHAPES.length, 'A shape is named once.', {
      count: 1,
      sentence: 'A channel takes at least one shape.',
    }),
    files: list(choice('File', CLIP_FILE_KINDS).required(), CLIP_FILE_KINDS.length, 'A kind of file is named once.', {
      count: 1,
      sentence: 'A channel takes at least one kind of file.',
    }),
    leastSeconds: finite('Shortest clip, s', 0, CLIP_SECONDS.most).required(),
    mostSeconds: finite('Longest clip, s', 1, 600).required(),
    mostBytes: finite('Largest file, bytes', 1000, 1e10).required(),
    leastSide: finite('Shorter side, px', 1, 4000).required(),
    sound: choice('Sound', ['any', 'none', 'needed']).required(),
  })
  .noUnknown()
  .test(
    'lengths',
    'The longest clip is not shorter than the shortest.',
    ({ leastSeconds, mostSeconds }) => !(leastSeconds > mostSeconds),
  );
export const clipRequirementSchema = schemaOf<ClipRequirementFields>()(clipRequirementFields);
