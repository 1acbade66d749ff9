import type { Box } from '../geometry/affine.js';

/**
 * `blocks`: the file would be refused or spoilt. `warns`: it prints, but perhaps not as meant. `tells`: good to know.
 */
export type Severity = 'blocks' | 'warns' | 'tells';

export type FindingCode =
  | 'no-art'
  | 'canvas-size'
  | 'canvas-dpi'
  | 'file-type'
  | 'white-box'
  | 'opaque-picture'
  | 'enlarged'
  | 'soft-ink'
  | 'off-canvas'
  | 'outside-safe'
  | 'off-cloth'
  | 'cut-away'
  | 'bare-cloth'
  | 'important-lost'
  | 'nothing-visible'
  | 'lost-on-garment'
  | 'partly-lost'
  | 'converted'
  | 'missing-asset'
  | 'missing-letters'
  | 'live-text'
  | 'thin-lines'
  | 'thin-gaps'
  | 'small-letters'
  | 'specks'
  | 'pinholes'
  | 'long-fade'
  | 'ink-coverage'
  | 'out-of-gamut'
  | 'close-inks'
  | 'empty-half'
  | 'in-the-bleed'
  | 'mirrored'
  /** What its print can hold has not been measured yet. */
  | 'not-measured'
  /** Said by a print shop of a file that it has seen. */
  | 'from-outside';

/** A change that mends a finding. The interface turns it into an edit; `label` is on its button. */
export type Fix =
  | {
      readonly kind: 'demanded-canvas' | 'demanded-dpi' | 'centre' | 'move-inside' | 'cover-cloth';
      readonly label: string;
    }
  | {
      readonly kind: 'own-pixels';
      readonly layerId: string;
      readonly width: number;
      readonly height: number;
      readonly label: string;
    }
  | { readonly kind: 'garment'; readonly hex: string; readonly label: string }
  /** Opens the picture where its ground is taken out, with a first guess to look at. */
  | { readonly kind: 'cut-out'; readonly layerId: string; readonly label: string }
  /** Shows the design on every colour on sale. */
  | { readonly kind: 'colours'; readonly label: string }
  /** Prints semi-transparent ink as dots. */
  | { readonly kind: 'dots'; readonly layerId: string; readonly label: string }
  /** Puts a line of the layer's own colour around it. `mm` is its width. */
  | {
      readonly kind: 'thicken';
      readonly layerId: string;
      readonly hex: string;
      readonly mm: number;
      readonly label: string;
    }
  /** Clears specks and fills holes of a picture up to an area in its own pixels. */
  | { readonly kind: 'clean'; readonly layerId: string; readonly px: number; readonly label: string }
  | { readonly kind: 'unflip'; readonly layerId: string; readonly label: string }
  /** Shows the target as it will print. */
  | { readonly kind: 'proof'; readonly label: string }
  /** Redraws a picture as outlines; the interface shows what comes of it first. */
  | { readonly kind: 'trace'; readonly layerId: string; readonly label: string }
  /** Needs a choice: the interface asks for the face. */
  | { readonly kind: 'face'; readonly layerId: string; readonly label: string };

export interface Finding {
  readonly code: FindingCode;
  readonly severity: Severity;
  readonly title: string;
  readonly sentence: string;
  readonly layerId: string | null;
  /** Where it is, in canvas mm. */
  readonly where: Box | null;
  /** All of its places, canvas mm, where there are several; the first is `where`. */
  readonly places?: readonly Box[];
  /** Pairs of colours that belong together: as designed and as printed, or two that are too close. */
  readonly swatches?: readonly (readonly [string, string])[];
  /** Why the seller takes it as it is; then it asks for nothing until the art changes. */
  readonly accepted?: string;
  readonly fix: Fix | null;
  /** Another way to mend it. */
  readonly also?: Fix;
}

/** True when a print file may be made: nothing blocks it that was not taken as it is. */
export const isPrintable = (findings: readonly Finding[]): boolean =>
  !findings.some((finding) => finding.severity === 'blocks' && finding.accepted === undefined);
