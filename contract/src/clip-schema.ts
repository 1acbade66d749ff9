import {
  CLIP_FPS,
  CLIP_SECONDS,
  CLIP_SHAPES,
  MOST_CLIP_SCENES,
  MOST_CLIPS,
  MOVEMENTS,
  TRANSITIONS,
} from '@kettle/core';
import * as yup from 'yup';
import { choice, colour, finite, identifier, optionalList, text } from './fields.js';
import { sceneSchema } from './scene-schema.js';

const frames = (label: string, least: number) =>
  finite(label, least, CLIP_SECONDS.most * CLIP_FPS).integer('Frames are whole.');

const clipSceneSchema = yup
  .object({
    id: identifier().required(),
    scene: sceneSchema.omit(['keptAs', 'crop', 'own', 'behind', 'measured', 'trueSize']).noUnknown().required(),
    frames: frames('Length of a scene', 1).required(),
    movement: choice('Movement', MOVEMENTS).required(),
    colours: optionalList(colour('Colour').required(), 24, 'A scene changes to at most 24 colours.'),
    transition: yup
      .object({ kind: choice('Transition', TRANSITIONS).required(), frames: frames('Transition', 0).required() })
      .noUnknown()
      .default(undefined)
      .optional(),
  })
  .noUnknown();

/** A short moving picture of a design. */
export const clipSchema = yup
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
        when: choice('Words', ['start', 'end', 'all']).required(),
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
      })
      .noUnknown()
      .default(undefined)
      .optional(),
  })
  .noUnknown();

/** Clips of a design, each under an id of its own. */
export const clipsSchema = yup
  .array()
  .of(clipSchema.required())
  .max(MOST_CLIPS, `A design has at most ${MOST_CLIPS} clips.`)
  .test(
    'ids',
    'Each clip has an id of its own.',
    (clips) => !clips || new Set(clips.map((one) => one.id)).size === clips.length,
  )
  .optional();
