import type { Pixels } from '../geometry/pixels.js';
import { cutColour, type TreatKernel } from './colour-cut.js';
import { dissolve } from './dissolve.js';
import { applyEdge, solveEdge, type EdgeSolved } from './edge.js';
import { applyMatte, type Matte } from './matte.js';
import { cutByStrokes } from './stroke-cut.js';
import { applyTone, toneTable } from './tone.js';
import { touchUp } from './touch.js';
import {
  atWork,
  cropOf,
  cropPixels,
  type Dissolve,
  type EdgeWork,
  type Tone,
  type Touch,
  type Treatment,
} from '../model/treatment.js';

/** Grows whenever the same picture and treatments would give other pixels. */
export const TREATMENT_VERSION = 1;

/** A treatment with what was found for it on the working copy: all that a picture of any size needs. */
type Solved =
  | { readonly kind: 'matte'; readonly matte: Matte | null }
  | { readonly kind: 'dissolve'; readonly step: Dissolve }
  | { readonly kind: 'edge'; readonly step: EdgeWork; readonly found: EdgeSolved }
  | { readonly kind: 'touch'; readonly step: Touch }
  | { readonly kind: 'tone'; readonly step: Tone; readonly table: Float32Array };

/** A step that was worked out: what it was, what was found, and how the working copy looks after it. */
interface Done {
  readonly key: string;
  readonly solved: Solved;
  readonly after: Pixels;
}

const copied = ({ width, height, data }: Pixels): Pixels => ({ width, height, data: new Uint8ClampedArray(data) });

/**
 * Works out treatments of one picture on its working copy. What was worked out for the beginning of a list is kept, so
 * that a change to its last step costs that step alone.
 */
export class Treater {
  private done: Done[] = [];

  /**
   * @param kernel compiled loops, which several may share
   * @param working the picture at its working size; never changed
   * @param width, height of the picture itself, px
   */
  constructor(
    private readonly kernel: TreatKernel,
    readonly working: Pixels,
    private readonly width: number,
    private readonly height: number,
  ) {}

  /** Working px for one px of the picture. */
  private get scale(): number {
    return Math.max(this.working.width, this.working.height) / Math.max(this.width, this.height);
  }

  /** The working copy after all treatments that change pixels, uncropped. Not to be changed. */
  treated(treatments: readonly Treatment[] | undefined): Pixels {
    return this.solve(treatments).at(-1)?.after ?? this.working;
  }

  /** The working copy after all treatments, cropped. */
  shown(treatments: readonly Treatment[] | undefined): Pixels {
    return cropped(this.treated(treatments), treatments);
  }

  /**
   * Treats the picture itself, or a smaller copy of it.
   * @param picture of the proportions of the working copy; changed in place and not to be used again
   * @returns cropped
   */
  apply(picture: Pixels, treatments: readonly Treatment[] | undefined): Pixels {
    const steps = this.solve(treatments).map((one) => one.solved);
    const scale = Math.max(picture.width, picture.height) / Math.max(this.width, this.height);
    const original = steps.some(({ kind }) => kind === 'touch') ? copied(picture) : picture;
    for (const step of steps) applySolved(picture, original, step, scale);
    return cropped(picture, treatments);
  }

  private solve(treatments: readonly Treatment[] | undefined): readonly Done[] {
    const steps = atWork(treatments).filter((step) => step.kind !== 'crop');
    const done: Done[] = [];
    for (const [n, step] of steps.entries()) {
      const key = JSON.stringify(step);
      const known = this.done[n];
      if (known?.key === key && done.length === n && (n === 0 || this.done[n - 1] === done[n - 1])) {
        done.push(known);
        continue;
      }
      const before = done.at(-1)?.after ?? this.working;
      const solved = this.solveStep(before, step);
      const after = copied(before);
      applySolved(after, this.working, solved, this.scale);
      done.push({ key, solved, after });
    }
    this.done = done;
    return done;
  }

  private solveStep(before: Pixels, step: Exclude<Treatment, { kind: 'crop' }>): Solved {
    switch (step.kind) {
      case 'colour':
        return { kind: 'matte', matte: cutColour(this.kernel, before, step) };
      case 'strokes':
        return { kind: 'matte', matte: cutByStrokes(before, step) };
      case 'edge':
        return { kind: 'edge', step, found: solveEdge(before, step, this.scale) };
      case 'tone':
        return { kind: 'tone', step, table: toneTable(step) };
      case 'dissolve':
        return { kind: 'dissolve', step };
      case 'touch':
        return { kind: 'touch', step };
    }
  }
}

function applySolved(pixels: Pixels, original: Pixels, solved: Solved, scale: number): void {
  switch (solved.kind) {
    case 'matte':
      if (solved.matte) applyMatte(pixels, solved.matte);
      return;
    case 'dissolve':
      return dissolve(pixels, solved.step);
    case 'edge':
      return applyEdge(pixels, solved.step, solved.found, scale);
    case 'touch':
      return touchUp(pixels, original, solved.step);
    case 'tone':
      return applyTone(pixels, solved.step, solved.table);
  }
}

/** The part of a picture that a crop shows. */
export function cropped(pixels: Pixels, treatments: readonly Treatment[] | undefined): Pixels {
  const { x, y, width, height } = cropPixels(cropOf(treatments), pixels.width, pixels.height);
  if (width === pixels.width && height === pixels.height) return pixels;
  const data = new Uint8ClampedArray(width * height * 4);
  for (let row = 0; row < height; row++) {
    const from = ((y + row) * pixels.width + x) * 4;
    data.set(pixels.data.subarray(from, from + width * 4), row * width * 4);
  }
  return { width, height, data };
}
