import type { InferType } from 'yup';
import type {
  Broken,
  ListingFields,
  ClipFileKind,
  ClipShape,
  AssetFacts,
  Blank,
  CertificateRow,
  Cloth,
  Colourway,
  DesignDocument,
  Finding,
  Graphic,
  GraphicPart,
  Lettering,
  PictureFit,
  PictureFormat,
  Requirement,
  TargetState,
} from '@kettle/core';
import type {
  letteringRequestSchema,
  packageRequestSchema,
  picturesRequestSchema,
  musicChangeSchema,
  runRequestSchema,
} from './requests.js';

/** An artwork file that is in, with what is known of it. */
export interface Asset extends AssetFacts {
  readonly id: string;
  readonly sha256: string;
  readonly filename: string;
  readonly bytes: number;
  /** Colour mode of the original, e.g. `CMYK`. */
  readonly mode: string;
}

/** A picture redrawn as outlines. */
export interface TracedPicture {
  readonly parts: readonly GraphicPart[];
  readonly box: { readonly width: number; readonly height: number };
  /** Share of the picture whose colour is another than the original's, 0 to 1. */
  readonly differing: number;
}

export interface SavedDesign {
  readonly id: string;
  readonly revision: number;
  /** ISO 8601, UTC. */
  readonly savedAt: string;
  readonly document: DesignDocument;
}

/** A row of a design's list of revisions. */
export interface RevisionRow {
  readonly revision: number;
  readonly savedAt: string;
  /** Given by the seller; null for most. */
  readonly name: string | null;
}

/** A design taken from a file, with what could not be taken over, in sentences. */
export interface DesignFileAnswer {
  readonly design: SavedDesign;
  readonly told: readonly string[];
}

export type JobState = 'queued' | 'running' | 'paused' | 'done' | 'failed' | 'cancelled';

/** Name of a kind of output, as the server's list of kinds has it. */
export type OutputKindName = string;

/** A run of one or more steps. `done` and `total` count steps. */
export interface Job {
  readonly id: string;
  /** `print-files`, `pictures`, or the name of the kind of output it makes. */
  readonly kind: string;
  /** The design it is of; null for a run of several designs, or of none. */
  readonly designId: string | null;
  /** All designs whose files it makes. */
  readonly designIds: readonly string[];
  /** Revision of the design that it was asked for; 0 without one. */
  readonly revision: number;
  readonly state: JobState;
  readonly done: number;
  readonly total: number;
  /** How far the steps under way are, in steps: 0.5 is half of one. */
  readonly within: number;
  readonly message: string;
  readonly results: readonly { readonly kind: OutputKindName; readonly id: string }[];
}

/** Something that was asked for of a design and could not be made. It stays until it is made or dismissed. */
export interface Failure {
  readonly id: string;
  /** Kind of what was to be made, as outputs have it. */
  readonly kind: OutputKindName;
  /** Key of the target, id of the blank or of the clip that it is of. */
  readonly about: string;
  readonly filename: string;
  /** Why, in a sentence. */
  readonly sentence: string;
  readonly at: string;
}

/** Kinds of clips that a server makes by itself, and why not all of them; empty where it makes them all. */
export interface ClipMakers {
  readonly files: readonly ClipFileKind[];
  readonly sentence: string;
}

/** Something that was made, of any kind. */
export interface Output {
  readonly id: string;
  readonly kind: OutputKindName;
  readonly designId: string | null;
  readonly filename: string;
  readonly mediaType: string;
  readonly sha256: string;
  readonly bytes: number;
  /** False when it does not hold what is demanded of it. */
  readonly accepted: boolean;
  readonly madeAt: string;
}

/** One step of a run as it stands: what it makes, how far it is, and why it failed. */
export interface JobStep {
  readonly id: number;
  readonly kind: OutputKindName;
  readonly designId: string;
  readonly requirementId: string | null;
  readonly version: Cloth | null;
  readonly filename: string;
  readonly state: 'waiting' | JobState;
  /** 0 to 1. */
  readonly progress: number;
  readonly message: string;
  readonly resultId: string | null;
}

/** Asks for print files of many designs in one run. */
export type RunRequest = Omit<InferType<typeof runRequestSchema>, 'targets'> & {
  readonly targets: readonly ChosenTargets[];
};

/** A design with some of its targets; none named stands for all of them. */
export interface ChosenTargets {
  readonly designId: string;
  readonly requirementIds: readonly string[];
  /** The revision that was looked at. What has changed since is not made, and that is told. */
  readonly revision?: number;
}

/** How files are named, with examples by the seller's own designs. */
export interface Naming {
  readonly pattern: string;
}

/** Asks for a package of what is made. */
export type PackageRequest = Omit<InferType<typeof packageRequestSchema>, 'targets'> & {
  readonly folders: 'channel' | 'design' | 'none';
  readonly targets: readonly ChosenTargets[];
};

/** Files that were packed together. */
export interface Package {
  readonly id: string;
  readonly name: string;
  readonly folders: 'channel' | 'design' | 'none';
  readonly changedOnly: boolean;
  readonly files: number;
  readonly bytes: number;
  readonly madeAt: string;
}

/** A package with the paths in it, and what was asked for and is not in it, with why. */
export interface PackageDetail extends Package {
  readonly entries: readonly { readonly path: string; readonly bytes: number; readonly sha256: string }[];
  readonly missing: readonly { readonly design: string; readonly requirement: string; readonly why: string }[];
}

/** A colour profile of a press that the seller brought in. */
export interface PressProfile {
  /** SHA-256 of its bytes. */
  readonly id: string;
  readonly name: string;
  readonly filename: string;
  readonly bytes: number;
}

export interface PrintFile {
  readonly id: string;
  readonly designId: string;
  readonly requirementId: string;
  readonly filename: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly mediaType: string;
  /** True when every row of the certificate is ok. */
  readonly accepted: boolean;
  /** Version it was made for; null where the target had none. */
  readonly version: Cloth | null;
  /** Versions of the target that would be the same file today. */
  readonly standsFor: readonly (Cloth | null)[];
  readonly outOfDate: boolean;
  readonly madeAt: string;
  readonly certificate: readonly CertificateRow[];
}

/** A blank as it is listed. */
export interface ListedBlank extends Blank {
  /** True for one of the seller's own; absent for shipped ones. */
  readonly own?: true;
}

export interface Picture {
  readonly id: string;
  readonly designId: string;
  readonly blankId: string;
  readonly colourway: string;
  readonly garment: string;
  readonly size: number;
  readonly format: PictureFormat;
  readonly fit?: PictureFit;
  readonly filename: string;
  readonly bytes: number;
  readonly outOfDate: boolean;
  readonly madeAt: string;
}

/** A clip of a design that was made: its file as it was read back. */
export interface ClipFile {
  readonly id: string;
  readonly designId: string;
  /** The clip of the design that it shows. */
  readonly clipId: string;
  readonly filename: string;
  readonly bytes: number;
  readonly mediaType: string;
  readonly shape: ClipShape;
  readonly file: ClipFileKind;
  /** True when a cover lies beside it. */
  readonly cover: boolean;
  /** Shorter side that was asked for, px. */
  readonly side: number;
  readonly outOfDate: boolean;
  readonly madeAt: string;
  readonly certificate: ClipCertificate;
}

/** What a clip's file says of itself to a reader that did not write it. */
export interface ClipCertificate {
  readonly container: ClipFileKind;
  /** Pictures in it, counted. */
  readonly frames: number;
  readonly seconds: number;
  readonly width: number;
  readonly height: number;
  readonly video: string;
  /** Null for a clip without sound. */
  readonly sound: string | null;
  /** When its sound ends; null without any. */
  readonly soundSeconds: number | null;
  readonly sha256: string;
}

/** What a seller says of a piece of music of their own. */
export type MusicChange = InferType<typeof musicChangeSchema>;

/**
 * Asks for listing pictures. A revision is the one that was looked at; the request is refused when it is no longer the
 * newest.
 */
export type PicturesRequest = Readonly<InferType<typeof picturesRequestSchema>> & {
  readonly colourways: readonly Colourway[];
};

export type FontScript = 'Latin' | 'Arabic' | 'Devanagari' | 'Japanese';
export type FontCategory = 'display' | 'slab' | 'script' | 'condensed' | 'hand-drawn' | 'text' | 'own';

/** One weight of a family. Its files are asked for letters in their order. */
export interface FontFace {
  readonly id: string;
  readonly weight: number;
  readonly files: number;
}

/** Fonts of one name that lettering can be set in. */
export interface FontFamily {
  readonly name: string;
  readonly category: FontCategory;
  readonly scripts: readonly FontScript[];
  /** By weight. */
  readonly faces: readonly FontFace[];
  /** Id of the face it begins with. */
  readonly start: string;
}

export type LetteringRequest = Readonly<InferType<typeof letteringRequestSchema>>;

/** Lettering as it was set, with the letters the font does not have and fonts that have them. */
export interface LetteringAnswer {
  /** Null when nothing would be seen. */
  readonly outlines: Lettering | null;
  readonly missing: readonly string[];
  readonly instead: readonly FontFamily[];
}

/** Room of each target in the strip of a design's small pictures, CSS px; the strip has twice as many pixels. */
export const STRIP_BOX = { width: 74, height: 58 } as const;

export interface SheetCell {
  readonly requirementId: string;
  readonly state: TargetState;
  /** Colour the cell's picture lies on. */
  readonly garment: string;
  /** Gravest finding in a few words, or null. */
  readonly finding: string | null;
  readonly printFileId: string | null;
  /** Names the picture's contents; a new one means a new picture. */
  readonly miniature: string;
  /** How its channel has taken it; absent where nothing was sent there, or it was taken down. */
  readonly listing?: 'sent' | 'live' | 'sold out' | 'accepted' | 'refused';
}

/** How far the set of a design is. */
export interface SheetSet {
  readonly id: string;
  readonly name: string;
  /** Pictures that the set has, and those of them that are made and current. */
  readonly wanted: number;
  readonly made: number;
  /** Ids of the first pictures that are. */
  readonly shown: readonly string[];
  /** Why one cannot be made, in a sentence. */
  readonly wrong: string | null;
}

export interface SheetRow {
  readonly designId: string;
  readonly name: string;
  readonly revision: number;
  readonly savedAt: string;
  readonly layers: number;
  /** True when other designs may start from it. */
  readonly template: boolean;
  readonly pictures: number;
  /** The set of listing pictures it is to have, and how far that is. */
  readonly set: SheetSet | null;
  readonly cells: readonly SheetCell[];
}

/** The job sheet, or a part of its rows. */
export interface Sheet {
  readonly requirements: readonly Requirement[];
  /** Number of all designs on the sheet. */
  readonly total: number;
  readonly rows: readonly SheetRow[];
}

export type { Blank, Finding, Graphic };

/** How a design stands on a market. */
export type PublicationState =
  'waiting' | 'sending' | 'checking' | 'draft' | 'live' | 'sold-out' | 'refused' | 'failed' | 'taking-down' | 'down';

/** Why a market refuses a listing, in its own words; `field` is empty where it names none. */
export interface PublishedReason {
  readonly field: string;
  readonly text: string;
}

/** A design on a market. */
export interface Publication {
  readonly id: string;
  readonly designId: string;
  readonly rulesId: string;
  readonly channel: string;
  readonly state: PublicationState;
  /** Where it is seen, once it is live. */
  readonly url: string | null;
  readonly reasons: readonly PublishedReason[];
  readonly changedAt: string;
}

/** How a design would stand on a channel if it were sent now. */
export interface ListingCheck {
  readonly rulesId: string;
  readonly broken: readonly Broken[];
  /** What is missing of its files, in sentences. */
  readonly missing: readonly string[];
  readonly publication: Publication | null;
  /** Words of what differs from what was sent last; empty when it is the same. */
  readonly changed: readonly string[];
  /** False where no market is connected for it. */
  readonly connected: boolean;
}

/** A picture that a listing can show. */
export interface ListingPicture {
  readonly id: string;
  readonly filename: string;
  readonly width: number;
  readonly height: number;
  /** True when one colour alone stands behind the product. */
  readonly plain: boolean;
}

/** A design's listing with what is needed to work on it. */
export interface ListingAnswer {
  /**
   * 0 for one that was never saved. Not `revision`, for that would be taken for the edition of all of this, which changes with
   * every answer of a market.
   */
  readonly savedRevision: number;
  readonly fields: ListingFields;
  /** Current listing pictures of the design, the newest first. */
  readonly pictures: readonly ListingPicture[];
  readonly checks: readonly ListingCheck[];
  /** Tags of the seller's other listings, those used most first. */
  readonly earlierTags: readonly string[];
}

/** A listing of another design, to begin from. */
export interface KeptListing {
  readonly designId: string;
  /** Name of the design. */
  readonly name: string;
  readonly fields: ListingFields;
}
