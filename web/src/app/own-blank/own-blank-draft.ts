import { Injectable, computed, inject, signal } from '@angular/core';
import type { Point } from '@kettle/core/geometry';
import { MAX_SEED_STROKES, type SeedStroke, type StrokeCut, type Treatment } from '@kettle/core/model';
import { layArea, OWN_PRODUCTS, type AreaShape, type OwnBlankSource, sizeFromKnown } from '@kettle/core/own-blank';
import { TreatPainter, type TreatedPicture } from '../cutout/treat-painter';
import type { ReadyPicture } from '../cutout/treat-messages';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';

/** What is being made, or changed of a blank, is kept in this browser until it is kept as a blank. */
const keyOf = (id: string | null): string => `kettle.blank-draft${id === null ? '' : `.${id}`}`;
const MOST_STEPS = 200;

/** A flat face in the middle of the photo. */
const START: AreaShape = {
  kind: 'corners',
  corners: [
    { x: 0.36, y: 0.28 },
    { x: 0.64, y: 0.28 },
    { x: 0.64, y: 0.65 },
    { x: 0.36, y: 0.65 },
  ],
};

/** Where a product usually is: in the middle, and not at the border. Strokes of the seller's own take over. */
const USUAL: readonly SeedStroke[] = [
  { keep: true, points: [0.5, 0.35, 0.5, 0.65], size: 0.06 },
  ...[
    [0.015, 0.015, 0.985, 0.015],
    [0.015, 0.015, 0.015, 0.985],
    [0.985, 0.015, 0.985, 0.985],
    [0.015, 0.985, 0.985, 0.985],
  ].map((points): SeedStroke => ({ keep: false, points, size: 0.02 })),
];

export const EMPTY_DRAFT: OwnBlankSource = {
  name: '',
  product: 'T-shirt',
  assetId: '',
  treatments: [],
  shape: START,
  widthMm: 300,
  heightMm: 400,
  inRoom: true,
  folds: 0.5,
  anyColour: true,
};

/** An own blank while it is made: undone step by step, and still there after a reload. Provided by its page. */
@Injectable()
export class OwnBlankDraft {
  private readonly painter = inject(TreatPainter);
  private readonly notices = inject(Notices);
  readonly source = signal<OwnBlankSource>(EMPTY_DRAFT);
  /** Id of the blank that is changed; null for a new one. */
  readonly id = signal<string | null>(null);
  readonly ready = signal<ReadyPicture | null>(null);
  readonly treated = signal<TreatedPicture | null>(null);
  private readonly past = signal<readonly OwnBlankSource[]>([]);
  private readonly coming = signal<readonly OwnBlankSource[]>([]);
  private mergeKey: string | null = null;
  readonly canUndo = computed(() => this.past().length > 0);
  readonly canRedo = computed(() => this.coming().length > 0);
  /** True when the product is told from what is around it. */
  readonly isCut = computed(() => this.source().treatments.length > 0);
  readonly strokes = computed<readonly SeedStroke[]>(
    () => this.source().treatments.find((one): one is StrokeCut => one.kind === 'strokes')?.strokes ?? [],
  );
  /** Why the print area is none, in a sentence. */
  readonly wrongArea = computed(() => {
    try {
      layArea(this.source().shape, 240, Math.max(16, Math.round(240 * this.ratio())));
      return null;
    } catch (error) {
      return error instanceof RangeError ? error.message : null;
    }
  });
  /** Height of the photo by its width. */
  readonly ratio = computed(() => {
    const ready = this.ready();
    return ready ? ready.height / ready.width : 1;
  });
  readonly products = Object.keys(OWN_PRODUCTS);

  constructor() {
    this.painter.treated.subscribe((result) => {
      if (result instanceof Error) this.notices.complain(result.message);
      else this.treated.set(result);
    });
  }

  /** Begins with what was being made when the page was left, if that was something. */
  restore(): void {
    const kept = draftOf(null);
    if (kept) this.open(kept, null);
  }

  /** Opens a blank to be changed. */
  open(source: OwnBlankSource, id: string | null): void {
    this.id.set(id);
    // What was changed and not kept when the page was left is still there.
    this.source.set(draftOf(id) ?? source);
    this.load(false);
  }

  /** A photo that has just come in. */
  begin(assetId: string, name: string): void {
    this.id.set(null);
    this.source.set({ ...EMPTY_DRAFT, assetId, name });
    this.past.set([]);
    this.coming.set([]);
    this.load(true);
  }

  private load(isNew: boolean): void {
    const { assetId } = this.source();
    this.ready.set(null);
    this.treated.set(null);
    this.painter.load(assetId).subscribe({
      next: (ready) => {
        if (this.source().assetId !== assetId) return;
        this.ready.set(ready);
        if (isNew) {
          // A product in the dark is no glow: it is cut out.
          const guess: Treatment =
            ready.guess?.kind === 'colour'
              ? { ...ready.guess, id: newId('t') }
              : { id: newId('t'), kind: 'strokes', hair: 0.004, strokes: USUAL };
          this.source.update((source) => ({ ...source, treatments: [guess] }));
          this.remember();
        }
        this.changed();
      },
      error: (error: Error) => this.notices.complain(error.message),
    });
  }

  /** @param mergeKey changes with the same key in a row are one step */
  change(change: Partial<OwnBlankSource>, mergeKey: string | null = null): void {
    if (mergeKey === null || mergeKey !== this.mergeKey)
      this.past.update((past) => [...past, this.source()].slice(-MOST_STEPS));
    this.mergeKey = mergeKey;
    this.coming.set([]);
    this.source.update((source) => ({ ...source, ...change }));
    this.remember();
    this.changed('treatments' in change);
  }

  settle(): void {
    this.mergeKey = null;
  }

  undo(): void {
    this.travel(this.past, this.coming);
  }

  redo(): void {
    this.travel(this.coming, this.past);
  }

  private travel(from: typeof this.past, to: typeof this.past): void {
    const next = from().at(-1);
    if (!next) return;
    to.update((list) => [...list, this.source()]);
    from.update((list) => list.slice(0, -1));
    this.source.set(next);
    this.mergeKey = null;
    this.remember();
    this.changed();
  }

  private remember(): void {
    localStorage.setItem(keyOf(this.id()), JSON.stringify(this.source()));
  }

  private changed(isCut = true): void {
    const source = this.source();
    if (isCut && this.ready()) this.painter.treat(source.assetId, source.treatments);
  }

  /** A line rubbed over what is product, or over what is not. */
  rub(keep: boolean, points: readonly number[], size: number): void {
    const before = this.strokes();
    if (before.length >= MAX_SEED_STROKES) {
      this.notices.say('That is as many strokes as a cut-out keeps. Undo some of them first.');
      return;
    }
    // A stroke of the seller's own says more than where products usually are: those stay only for the other side.
    const own = before.filter((stroke) => stroke.keep !== keep || !USUAL.some((usual) => same(usual, stroke)));
    this.cut([...own, { keep, points, size }]);
  }

  private cut(strokes: readonly SeedStroke[]): void {
    const others = this.source().treatments.filter((one) => one.kind !== 'strokes');
    // What strokes say counts, whatever a colour said before.
    const kept = others.filter((one) => one.kind !== 'colour');
    this.change({ treatments: [...kept, { id: newId('t'), kind: 'strokes', hair: 0.004, strokes }] });
  }

  /** The whole photo is product, as of a poster that fills it. */
  takeAll(): void {
    this.change({ treatments: [] });
  }

  /** Begins the cut-out again where products usually are. */
  startOver(): void {
    this.cut(USUAL);
  }

  setKind(kind: AreaShape['kind']): void {
    const { shape } = this.source();
    if (shape.kind === kind) return;
    const corners = cornersOf(shape);
    this.change({
      shape:
        kind === 'corners'
          ? { kind, corners }
          : kind === 'grid'
            ? gridOf(corners, 3, 3)
            : { kind, corners, sag: 0.05, arc: 150, shows: [0.32, 0.68] },
    });
  }

  setGrid(columns: number, rows: number): void {
    this.change({ shape: gridOf(cornersOf(this.source().shape), columns, rows) });
  }

  /** Points that a hand moves. */
  readonly handles = computed<readonly Point[]>(() => {
    const { shape } = this.source();
    return shape.kind === 'grid' ? shape.points : shape.corners;
  });

  /** A line over something of known length, and that length in mm; null while sizes are typed. */
  readonly known = signal<{ readonly line: readonly [Point, Point]; readonly lengthMm: number } | null>(null);

  /** Lays a line over the photo to be drawn along something of known length. */
  measure(): void {
    this.known.set(
      this.known()
        ? null
        : {
            line: [
              { x: 0.35, y: 0.8 },
              { x: 0.65, y: 0.8 },
            ],
            lengthMm: 210,
          },
    );
  }

  /** Takes the size of the print area from what is known, once all of it is. */
  setKnown(change: Partial<NonNullable<ReturnType<typeof this.known>>>): void {
    const known = this.known();
    if (!known) return;
    this.known.set({ ...known, ...change });
    const { line, lengthMm } = { ...known, ...change };
    try {
      const { widthMm, heightMm } = sizeFromKnown(this.source().shape, this.ratio(), line, lengthMm);
      const whole = (mm: number): number => Math.round(mm);
      this.change({ widthMm: whole(widthMm), heightMm: whole(heightMm) }, 'known');
    } catch (error) {
      // A line without length says nothing yet: the size stays.
      if (!(error instanceof RangeError)) throw error;
    }
  }

  moveKnown(at: number, to: Point): void {
    const known = this.known();
    if (!known) return;
    const [a, b] = known.line;
    this.setKnown({ line: at === 0 ? [withinPhoto(to), b] : [a, withinPhoto(to)] });
  }

  movePoint(at: number, to: Point, mergeKey: string): void {
    const { shape } = this.source();
    const point = withinPhoto(to);
    const moved = (points: readonly Point[]): Point[] => points.map((one, i) => (i === at ? point : one));
    this.change(
      {
        shape:
          shape.kind === 'grid'
            ? { ...shape, points: moved(shape.points) }
            : { ...shape, corners: moved(shape.corners) },
      },
      mergeKey,
    );
  }

  /** It is kept: nothing is left to be restored. */
  done(): void {
    localStorage.removeItem(keyOf(this.id()));
  }
}

/** A point no farther beside the photo than a print area may reach. */
function withinPhoto({ x, y }: Point): Point {
  const inside = (value: number): number => Math.round(Math.min(1.2, Math.max(-0.2, value)) * 1e5) / 1e5;
  return { x: inside(x), y: inside(y) };
}

function draftOf(id: string | null): OwnBlankSource | null {
  try {
    const kept = JSON.parse(localStorage.getItem(keyOf(id)) ?? 'null') as OwnBlankSource | null;
    return kept?.assetId ? kept : null;
  } catch {
    localStorage.removeItem(keyOf(id));
    return null;
  }
}

const same = (a: SeedStroke, b: SeedStroke): boolean => a.keep === b.keep && a.points.join() === b.points.join();

function cornersOf(shape: AreaShape): readonly Point[] {
  if (shape.kind !== 'grid') return shape.corners;
  const { columns, rows, points } = shape;
  return [points[0], points[columns - 1], points[columns * rows - 1], points[columns * (rows - 1)]];
}

/** A grid of points over four corners. */
function gridOf([a, b, c, d]: readonly Point[], columns: number, rows: number): AreaShape {
  const points: Point[] = [];
  for (let j = 0; j < rows; j++)
    for (let i = 0; i < columns; i++) {
      const [u, v] = [i / (columns - 1), j / (rows - 1)];
      const mix = (k: 'x' | 'y'): number => (a[k] * (1 - u) + b[k] * u) * (1 - v) + (d[k] * (1 - u) + c[k] * u) * v;
      points.push({ x: mix('x'), y: mix('y') });
    }
  return { kind: 'grid', columns, rows, points };
}
