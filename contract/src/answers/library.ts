import type { Lettering } from '@kettle/core/text';
import type { Blank } from '@kettle/core/model';
import type { Graphic } from '@kettle/core/drawing';
import type { AreaGrid, MovingBlank } from '@kettle/core/mockup';
import type { MusicTrack } from '@kettle/core/clip';
import * as yup from 'yup';
import type { InferType } from 'yup';
import { blankFields } from '../blank-schema.js';
import { partSchema } from '../layer-schemas.js';
import { schemaOf } from '../proved.js';
import { maybe, orNull, record, told } from '../told.js';

/** One weight of a family. Its files are asked for letters in their order. */
export const fontFaceSchema = record({ id: told.id(), weight: told.number(), files: told.whole() });
export type FontFace = InferType<typeof fontFaceSchema>;
export type FontScript = 'Latin' | 'Arabic' | 'Devanagari' | 'Japanese';
export type FontCategory = 'display' | 'slab' | 'script' | 'condensed' | 'hand-drawn' | 'text' | 'own';

/** Fonts of one name that lettering can be set in. */
export const fontFamilySchema = record({
  name: told.text(),
  category: told.word<FontCategory>(),
  scripts: told.list(told.word<FontScript>()),
  /** By weight. */
  faces: told.list(fontFaceSchema),
  /** Id of the face it begins with. */
  start: told.id(),
});
export type FontFamily = InferType<typeof fontFamilySchema>;

const outlines = schemaOf<Lettering>()(
  record({ path: told.text(), width: told.number(), height: told.number() }).required(),
);
/** Lettering as it was set, with the letters the font does not have and fonts that have them. */
export const letteringAnswerSchema = record({
  /** Null when nothing would be seen. */
  outlines: orNull(outlines),
  missing: told.list(told.text()),
  instead: told.list(fontFamilySchema),
});
export type LetteringAnswer = InferType<typeof letteringAnswerSchema>;

/** A colour profile of a press that the seller brought in. */
export const pressProfileSchema = record({
  /** SHA-256 of its bytes. */
  id: told.id(),
  name: told.text(),
  filename: told.text(),
  bytes: told.whole(),
});
export type PressProfile = InferType<typeof pressProfileSchema>;

export const graphicSchema = schemaOf<Graphic>()(
  record({
    id: told.id(),
    name: told.text(),
    category: told.text(),
    width: told.number(),
    height: told.number(),
    parts: told.list(partSchema),
  }),
);

/** What is told of a blank, also of how it moves. */
type ToldBlank = Blank & Partial<Pick<MovingBlank, 'fps' | 'frames' | 'play' | 'poster' | 'scales' | 'shadow'>>;
/** A blank, with whatever else its pack says. */
export const blankAnswerSchema = schemaOf<ToldBlank>()(blankFields);
/** A blank as it is listed. */
export const listedBlankSchema = schemaOf<ToldBlank & { readonly own?: true }>()(
  blankFields.shape({ own: yup.boolean<true>().oneOf([true]).optional() }),
);
export type ListedBlank = InferType<typeof listedBlankSchema>;

/** A blank that was made of a photo, and what is to be doubted about it, in sentences. */
export const madeBlankSchema = record({ blank: blankAnswerSchema, doubts: told.list(told.text()) });

export const areaGridSchema = schemaOf<AreaGrid>()(
  record({
    side: told.whole(),
    places: told.list(orNull(record({ x: told.number(), y: told.number() }))),
    density: told.number(),
  }),
);

export const trackSchema = schemaOf<MusicTrack>()(
  record({
    id: told.id(),
    title: told.text(),
    mood: told.text(),
    tempo: told.number().nullable(),
    beats: orNull(record({ bpm: told.number(), offset: told.number(), perBar: told.number() })),
    durationSeconds: told.number(),
    loopStart: told.number(),
    loopEnd: told.number(),
    own: maybe(told.flag()),
  }),
);
