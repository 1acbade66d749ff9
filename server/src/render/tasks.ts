import type { Box } from '@kettle/core/geometry';
import type { Lettering, LetteringSettings } from '@kettle/core/text';
import type { Blank, ColourConversion } from '@kettle/core/model';
import type { Graphic } from '@kettle/core/drawing';
import type { Treated } from '@kettle/core/treatments';
import type { RecipeLayer } from '@kettle/core/recipes';
import type { ClothMeasure, PressMeasure } from '@kettle/core/press';
import type { AreaGrid, BlankView, MovingBlank } from '@kettle/core/mockup';
import type { MakeJob } from './make-job.js';
import type { OraJob } from './archive/open-raster.js';
import type { Stack } from './archive/ora-stack.js';
import type { Unpacked, ZipInput } from './archive/zip.js';
import type { Inspection, KnownFonts } from './artwork/inspect.js';
import type { ShownSource } from './artwork/shown.js';
import type { Traced } from './artwork/trace.js';
import type { TreatedFacts } from './artwork/treated.js';
import type { MusicFacts } from './clip/check-music.js';
import type { ReadClip } from './clip/read-clip.js';
import type { CheckedDesign, Derivation } from './documents/derive.js';
import type { AreaPart, PackFiles } from './mockup/blank-pack.js';
import type { MockupFileJob } from './mockup/layered.js';
import type { PictureFacts } from './mockup/picture.js';
import type { OwnPackJob } from './mockup/own-pack.js';
import type { Files } from './artwork/files.js';
import type { PartFileJob } from './print/part-file.js';
import type { ClothJob, MeasureJob } from './press/measure-print.js';
import type { Paper } from './press/paper.js';
import type { ProfileFacts } from './colour/profiles.js';
import type { FontFacts } from './text/check-font.js';

/** What a render process can be asked to do. Files come and go as paths; it never speaks to the database. */
export interface RenderTasks {
  inspect: { input: { path: string; fonts?: KnownFonts; out?: string }; output: Inspection };
  /** Makes an output of a registered kind. */
  make: { input: MakeInput; output: unknown };
  ownPack: { input: OwnPackJob; output: string[] };
  checkPack: { input: { blank: Blank; files: PackFiles }; output: null };
  areaGrid: { input: { blank: Blank; files: PackFiles; areaId: string }; output: AreaGrid };
  rendition: {
    input: { sha256: string; treated?: Treated; path: string; size: number; light?: boolean; out: string };
    output: null;
  };
  /** Looks at a treated picture. */
  treatedFacts: { input: { path: string; treated: Treated }; output: TreatedFacts };
  trace: { input: { shown: ShownSource; path: string; colours: number }; output: Traced };
  working: { input: { path: string; out: string }; output: null };
  miniature: {
    input: { grid: { width: number; height: number }; layers: readonly RecipeLayer[]; files: Files; out: string };
    output: null;
  };
  checkFont: { input: { path: string }; output: FontFacts };
  checkProfile: { input: { path: string }; output: ProfileFacts };
  measurePrint: { input: MeasureJob; output: PressMeasure };
  mockupFile: { input: MockupFileJob; output: null };
  measureOnCloths: { input: ClothJob; output: ClothMeasure };
  proofTables: { input: { conversion: ColourConversion; paper: boolean; files: Files; out: string }; output: null };
  /** Writes an HEIC photo as a PNG. */
  fromHeic: { input: { path: string; out: string }; output: null };
  setFace: { input: { path: string; out: string; face: string }; output: null };
  lettering: {
    input: { paths: readonly string[]; text: string; settings: LetteringSettings };
    output: { outlines: Lettering | null; missing: string[] };
  };
  graphics: { input: null; output: readonly Graphic[] };
  zip: { input: { out: string; inputs: readonly ZipInput[] }; output: null };
  checkDesign: { input: { text: string }; output: CheckedDesign };
  derive: { input: { text: string; name: Derivation; input: unknown }; output: unknown };
  oraStack: { input: { path: string }; output: Stack };
  manifest: { input: { path: string }; output: unknown };
  unzip: { input: { path: string; folder: string }; output: Unpacked };
  openRaster: { input: OraJob; output: null };
  /** Makes a file of some layers of a design. */
  partFile: { input: PartFileJob; output: null };
  strip: { input: { files: readonly string[]; box: { width: number; height: number }; out: string }; output: null };
  halfPack: { input: { blank: MovingBlank; files: PackFiles; out: string }; output: null };
  /** Reads a clip's file back. */
  readClip: { input: { path: string }; output: ReadClip };
  /** Writes a paper of text, rows and pictures as a PDF. */
  paper: { input: { paper: Paper; files: Readonly<Record<string, string>>; out: string }; output: null };
  /** Where the ink of a print file lies, px; null where there is none. */
  inkOf: { input: { path: string }; output: Box | null };
  /** Decodes a picture to its last pixel. */
  readPicture: { input: { path: string }; output: PictureFacts };
  checkMusic: { input: { path: string }; output: MusicFacts };
  blankThumbnail: { input: { blank: Blank; files: PackFiles; out: string }; output: null };
  blankPreview: {
    input: {
      blank: Blank;
      files: PackFiles;
      area: AreaPart & { readonly alone: boolean };
      view: BlankView;
      out: string;
    };
    output: null;
  };
}

/** An order for an output, as it goes to a render process. */
export interface MakeInput extends Omit<MakeJob<object>, 'progress'> {
  readonly kind: string;
}

export type RenderTask = keyof RenderTasks;
