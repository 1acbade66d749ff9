import type { Blank, Graphic, Lettering, LetteringSettings, PictureRecipe, PrintRecipe, RecipeLayer } from '@kettle/core';
import type { Derivation } from './derive.js';
import type { FontFacts } from './text/check-font.js';
import type { Inspection } from './artwork/inspect.js';
import type { OraJob } from './archive/open-raster.js';
import type { MadePrintFile } from './print/print-file.js';
import type { Files } from './print/draw-layers.js';
import type { Stack } from './archive/ora-stack.js';
import type { Unpacked, ZipInput } from './archive/zip.js';

/** What a render process can be asked to do. Files come and go as paths; it never speaks to the database. */
export interface RenderTasks {
  inspect: { input: { path: string; families?: readonly string[] }; output: Inspection };
  printFile: { input: { recipe: PrintRecipe; files: Files; out: string }; output: MadePrintFile };
  picture: { input: { recipe: PictureRecipe; blank: Blank; folder: string; files: Files; out: string }; output: { sha256: string } };
  areaDensity: { input: { blank: Blank; folder: string; areaId: string; size: number }; output: number };
  rendition: { input: { sha256: string; path: string; size: number; out: string }; output: null };
  miniature: { input: { grid: { width: number; height: number }; layers: readonly RecipeLayer[]; files: Files; out: string }; output: null };
  checkFont: { input: { path: string; out?: string }; output: FontFacts };
  setFace: { input: { path: string; out: string; face: string }; output: null };
  lettering: { input: { paths: readonly string[]; text: string; settings: LetteringSettings }; output: { outlines: Lettering | null; missing: string[] } };
  graphics: { input: null; output: readonly Graphic[] };
  zip: { input: { out: string; inputs: readonly ZipInput[] }; output: null };
  checkDesign: { input: { text: string }; output: { fields: Record<string, string> | null } };
  derive: { input: { text: string; name: Derivation; input: unknown }; output: unknown };
  oraStack: { input: { path: string }; output: Stack };
  manifest: { input: { path: string }; output: unknown };
  unzip: { input: { path: string; folder: string }; output: Unpacked };
  openRaster: { input: OraJob; output: null };
  blankThumbnail: { input: { blank: Blank; folder: string; out: string }; output: null };
}

export type RenderTask = keyof RenderTasks;

/** Message to a render process. */
export interface RenderRequest<T extends RenderTask = RenderTask> { readonly task: T; readonly input: RenderTasks[T]['input'] }

/** Messages back. */
export type RenderReply =
  | { readonly kind: 'done'; readonly output: unknown }
  | { readonly kind: 'refused'; readonly status: number; readonly code: string; readonly sentence: string }
  | { readonly kind: 'failed'; readonly message: string; readonly errno: string | null };
