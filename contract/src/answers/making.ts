import { CLIP_SHAPES, PICTURE_FORMATS, type ClipShape, type PictureFormat } from '@kettle/core/model';
import type { CertificateRow } from '@kettle/core/requirement';
import { CLIP_FILE_KINDS, type ClipFileKind } from '@kettle/core/clip';
import type { InferType } from 'yup';
import { pictureFitSchema } from '../fields.js';
import { schemaOf } from '../proved.js';
import { maybe, record, told } from '../told.js';

/** What was asked for is on its way. */
export const queuedSchema = record({ jobId: told.id() });

export const JOB_STATES = ['queued', 'running', 'paused', 'done', 'failed', 'cancelled'] as const;
export type JobState = (typeof JOB_STATES)[number];

const cloth = () => told.oneOf('light', 'dark');

/** A run of one or more steps. `done` and `total` count steps. */
export const jobSchema = record({
  id: told.id(),
  /** `print-files`, `pictures`, or the name of the kind of output it makes. */
  kind: told.text(),
  /** The design it is of; null for a run of several designs, or of none. */
  designId: told.id().nullable(),
  /** All designs whose files it makes. */
  designIds: told.list(told.id()),
  /** Revision of the design that it was asked for; 0 without one. */
  revision: told.whole(),
  state: told.oneOf(...JOB_STATES),
  done: told.whole(),
  total: told.whole(),
  /** How far the steps under way are, in steps: 0.5 is half of one. */
  within: told.number(),
  message: told.text(),
  results: told.list(record({ kind: told.text(), id: told.id() })),
});
export type Job = InferType<typeof jobSchema>;

/** One step of a run as it stands: what it makes, how far it is, and why it failed. */
export const jobStepSchema = record({
  id: told.whole(),
  kind: told.text(),
  designId: told.id(),
  requirementId: told.id().nullable(),
  version: cloth().nullable(),
  filename: told.text(),
  state: told.oneOf('waiting', ...JOB_STATES),
  /** 0 to 1. */
  progress: told.number(),
  message: told.text(),
  resultId: told.id().nullable(),
});
export type JobStep = InferType<typeof jobStepSchema>;

/** Something that was asked for of a design and could not be made. It stays until it is made or dismissed. */
export const failureSchema = record({
  id: told.id(),
  /** Kind of what was to be made, as outputs have it. */
  kind: told.text(),
  /** Key of the target, id of the blank or of the clip that it is of. */
  about: told.text(),
  filename: told.text(),
  /** Why, in a sentence. */
  sentence: told.text(),
  at: told.time(),
});
export type Failure = InferType<typeof failureSchema>;

/** Something that was made, of any kind. */
export const outputSchema = record({
  id: told.id(),
  kind: told.text(),
  designId: told.id().nullable(),
  filename: told.text(),
  mediaType: told.text(),
  sha256: told.sha256(),
  bytes: told.whole(),
  /** False when it does not hold what is demanded of it. */
  accepted: told.flag(),
  madeAt: told.time(),
});
export type Output = InferType<typeof outputSchema>;

const certificateRow = schemaOf<CertificateRow>()(
  record({
    demand: told.text(),
    demanded: told.text(),
    found: told.text(),
    ok: told.flag(),
    reason: told.text().optional(),
  }),
);

export const printFileSchema = record({
  id: told.id(),
  designId: told.id(),
  requirementId: told.id(),
  filename: told.text(),
  /** Names all that decides its bytes. */
  recipe: told.sha256(),
  sha256: told.sha256(),
  bytes: told.whole(),
  mediaType: told.text(),
  /** True when every row of the certificate is ok. */
  accepted: told.flag(),
  /** Version it was made for; null where the target had none. */
  version: cloth().nullable(),
  /** Versions of the target that would be the same file today. */
  standsFor: told.list(cloth().nullable()),
  outOfDate: told.flag(),
  madeAt: told.time(),
  certificate: told.list(certificateRow),
});
export type PrintFile = InferType<typeof printFileSchema>;

/** A listing picture. */
export const pictureSchema = record({
  id: told.id(),
  designId: told.id(),
  blankId: told.id(),
  colourway: told.text(),
  garment: told.text(),
  size: told.number(),
  format: told.oneOf<PictureFormat>(...PICTURE_FORMATS),
  fit: maybe(pictureFitSchema),
  filename: told.text(),
  /** Names all that decides its bytes. */
  recipe: told.sha256(),
  sha256: told.sha256(),
  bytes: told.whole(),
  outOfDate: told.flag(),
  madeAt: told.time(),
});
export type Picture = InferType<typeof pictureSchema>;

/** What a clip's file says of itself to a reader that did not write it. */
export const clipCertificateSchema = record({
  container: told.oneOf<ClipFileKind>(...CLIP_FILE_KINDS),
  /** Pictures in it, counted. */
  frames: told.whole(),
  seconds: told.number(),
  width: told.whole(),
  height: told.whole(),
  video: told.text(),
  /** Null for a clip without sound. */
  sound: told.text().nullable(),
  /** When its sound ends; null without any. */
  soundSeconds: told.number().nullable(),
  sha256: told.sha256(),
});
export type ClipCertificate = InferType<typeof clipCertificateSchema>;

/** A clip of a design that was made: its file as it was read back. */
export const clipFileSchema = record({
  id: told.id(),
  designId: told.id(),
  /** The clip of the design that it shows. */
  clipId: told.id(),
  filename: told.text(),
  bytes: told.whole(),
  mediaType: told.text(),
  shape: told.oneOf<ClipShape>(...CLIP_SHAPES),
  file: told.oneOf<ClipFileKind>(...CLIP_FILE_KINDS),
  /** True when a cover lies beside it. */
  cover: told.flag(),
  /** Shorter side that was asked for, px. */
  side: told.whole(),
  outOfDate: told.flag(),
  madeAt: told.time(),
  certificate: clipCertificateSchema,
});
export type ClipFile = InferType<typeof clipFileSchema>;

/** Kinds of clips that a server makes by itself, and why not all of them; empty where it makes them all. */
export const clipMakersSchema = record({
  files: told.list(told.oneOf<ClipFileKind>(...CLIP_FILE_KINDS)),
  sentence: told.text(),
});
export type ClipMakers = InferType<typeof clipMakersSchema>;

/** How files are named. */
export const namingTold = record({ pattern: told.text() });
export type Naming = InferType<typeof namingTold>;

const packed = {
  id: told.id(),
  name: told.text(),
  folders: told.oneOf('channel', 'design', 'none'),
  changedOnly: told.flag(),
  files: told.whole(),
  bytes: told.whole(),
  madeAt: told.time(),
};
/** Files that were packed together. */
export const packageSchema = record(packed);
export type Package = InferType<typeof packageSchema>;

/** A package with the paths in it, and what was asked for and is not in it, with why. */
export const packageDetailSchema = record({
  ...packed,
  entries: told.list(record({ path: told.text(), bytes: told.whole(), sha256: told.sha256() })),
  missing: told.list(record({ design: told.text(), requirement: told.text(), why: told.text() })),
});
export type PackageDetail = InferType<typeof packageDetailSchema>;
