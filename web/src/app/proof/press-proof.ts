import { DestroyRef, Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import { conversionOf, type ColourConversion, type Intent } from '@kettle/core/model';
import { DELTA_LEVELS, OUT_OF_GAMUT, PressKernel, unpackProof, type ProofTables } from '@kettle/core/press';
import { firstValueFrom } from 'rxjs';
import { fetchPatiently } from '../data/again';
import { Api } from '../data/api';
import { sentenceOf } from '../data/problems';
import { Notices } from '../data/notices';
import { Editor } from '../editor/editor';

/** What colours out of the press's reach are covered with. */
const WARNING = [106, 59, 91] as const;

let kernel: Promise<PressKernel> | null = null;
const pressKernel = (): Promise<PressKernel> =>
  (kernel ??= fetchPatiently('/press.wasm')
    .then((answer) => answer.arrayBuffer())
    .then((bytes) => new PressKernel(bytes))
    .catch((error: unknown) => {
      // What came was no kernel: the next to ask fetches it anew.
      kernel = null;
      throw error;
    }));

/** How the chosen target will look in print, by the profile of its requirement or by what is tried. Provided by the bench. */
@Injectable()
export class PressProof {
  private readonly api = inject(Api);
  private readonly editor = inject(Editor);
  private readonly notices = inject(Notices);
  /** True while the stage shows the print instead of the screen's colours. */
  readonly shown = signal(false);
  /** An intent and a black point that are tried; those of the requirement when null. */
  readonly intent = signal<Intent | null>(null);
  readonly blackPoint = signal<boolean | null>(null);
  /** The colour of the paper is shown too. */
  readonly paper = signal(false);
  /** Colours that the press does not have are covered. */
  readonly warning = signal(false);
  private readonly tables = signal<{ key: string; tables: ProofTables; kernel: PressKernel } | null>(null);
  private readonly kept = new Map<string, Promise<ProofTables>>();
  /** True once the bench is closed: what comes in after that is nobody's business. */
  private gone = false;

  readonly conversion = computed<ColourConversion | null>(() => {
    const current = this.editor.current();
    if (!current) return null;
    const own = conversionOf(current.requirement);
    return { ...own, intent: this.intent() ?? own.intent, blackPoint: this.blackPoint() ?? own.blackPoint };
  });
  private readonly key = computed(() => {
    const conversion = this.conversion();
    return conversion && JSON.stringify([conversion, this.paper()]);
  });
  /** Grows whenever prints look otherwise; null until they can be shown. */
  readonly ready = computed(() => (this.tables()?.key === this.key() ? this.tables() : null));
  /** Why a print cannot be shown; empty while it can, or is on its way. */
  readonly failed = signal('');
  /** True once somebody wants to see a print: the tables are asked for then. */
  readonly wanted = signal(false);

  constructor() {
    inject(DestroyRef).onDestroy(() => (this.gone = true));
    effect(() => {
      const [key, wanted] = [this.key(), this.wanted() || this.shown()];
      if (key && wanted) untracked(() => void this.load(key));
    });
  }

  again(): void {
    const key = this.key();
    if (key) void this.load(key);
  }

  private async load(key: string): Promise<void> {
    this.failed.set('');
    try {
      let tables = this.kept.get(key);
      if (!tables) {
        const [conversion, paper] = JSON.parse(key) as [ColourConversion, boolean];
        tables = firstValueFrom(this.api.bytes('get /api/proof', { query: { ...conversion, paper } }))
          .then((bytes) => bytes.arrayBuffer())
          .then((bytes) => unpackProof(new Uint8Array(bytes)));
        this.kept.set(key, tables);
      }
      const [known, ready] = await Promise.all([tables, pressKernel()]);
      if (this.gone) return;
      this.tables.set({ key, tables: known, kernel: ready });
    } catch (error) {
      this.kept.delete(key);
      if (this.gone) return;
      this.shown.set(false);
      this.failed.set(sentenceOf(error));
      this.notices.complain(error);
    }
  }

  /** Turns the colours of a picture into those of the print, in place. Its alpha stays. */
  apply(image: ImageData): void {
    const ready = this.ready();
    if (!ready) return;
    const { data } = image;
    const seen = ready.kernel.convert(data, ready.tables.seen, false);
    const limit = this.warning() ? OUT_OF_GAMUT * DELTA_LEVELS : 256;
    for (let i = 0; i < data.length; i += 4) {
      const out = seen[i + 3] > limit;
      data[i] = out ? WARNING[0] : seen[i];
      data[i + 1] = out ? WARNING[1] : seen[i + 1];
      data[i + 2] = out ? WARNING[2] : seen[i + 2];
    }
  }

  /** Percent of each ink for a colour, cyan, magenta, yellow, black; null until the tables are there. */
  inksOf(rgb: readonly [number, number, number]): readonly [number, number, number, number] | null {
    const ready = this.ready();
    if (!ready) return null;
    const inks = ready.kernel.convert(Uint8Array.from([...rgb, 255]), ready.tables.inks, false);
    return [0, 1, 2, 3].map((i) => Math.round((inks[i] / 255) * 100)) as [number, number, number, number];
  }

  /** The colour of bare paper in the proof, or null where it is not shown. */
  paperColour(): string | null {
    const ready = this.ready();
    if (!ready || !this.paper()) return null;
    const [r, g, b] = ready.kernel.convert(Uint8Array.from([255, 255, 255, 255]), ready.tables.seen, false);
    return `rgb(${r} ${g} ${b})`;
  }
}
