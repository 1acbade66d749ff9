import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { formatLength, formatSize } from '@kettle/core/units';
import type { Box, Point } from '@kettle/core/geometry';
import type { Scene } from '@kettle/core/model';
import { coversCloth } from '@kettle/core/requirement';
import {
  AreaLookup,
  areaPointAt,
  CoveredPlaces,
  measureLines,
  measuresSvg,
  seenCells,
  seenCorners,
  seenLine,
} from '@kettle/core/mockup';
import { EMPTY, catchError, filter, map, startWith, switchMap, tap } from 'rxjs';
import { Editor } from '../editor/editor';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { MockupEditor } from './mockup-editor';
import type { SeenBlank } from './scene-messages';
import { PREVIEW_SIZE, ScenePainter, type ReadyBlank } from './scene-painter';
import { SceneTexture } from './scene-texture';
import { SmallScenes } from './small-scenes';
import { ChipRow, chip } from '../units/chips';

const sameSeen = (a: SeenBlank | null, b: SeenBlank | null): boolean =>
  a === b ||
  (!!a &&
    !!b &&
    a.blank === b.blank &&
    a.areaIds.join(' ') === b.areaIds.join(' ') &&
    a.crop?.x === b.crop?.x &&
    a.crop?.y === b.crop?.y &&
    a.crop?.width === b.crop?.width &&
    a.crop?.height === b.crop?.height);

interface Hold {
  readonly kind: 'move' | 'size';
  readonly from: Point;
  readonly art: Box;
  readonly key: string;
}

/** The product with the design on it, live. The art is dragged and resized where it is seen. */
@Component({
  selector: 'ks-scene-view',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow],
  templateUrl: './scene-view.html',
  styleUrl: './scene-view.scss',
})
export class SceneView {
  private readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  private readonly painter = inject(ScenePainter);
  private readonly assets = inject(AssetShelf);
  private readonly notices = inject(Notices);
  private readonly preferences = inject(Preferences);
  private readonly surface = viewChild.required<ElementRef<HTMLCanvasElement>>('surface');
  private readonly texture = new SceneTexture(this.assets);
  private readonly small = inject(SmallScenes);
  private hold: Hold | null = null;
  private frameHold: {
    readonly from: Point;
    readonly box: Box;
    readonly away: Point | null;
    readonly key: string;
  } | null = null;
  private gestures = 0;
  /** Frames on their way: while the worker draws one, the next is prepared here. */
  private inFlight = 0;
  private again = false;

  protected readonly size = signal({ width: 1000, height: 1000 });
  /** Time the last frame took in the worker, ms; read by the bench. */
  protected readonly frame = signal(0);
  /** What is to be seen: the blank, the areas that are printed on, the part that is shown. */
  private readonly wanted = computed<SeenBlank | null>(
    () => {
      const [blank, prints] = [this.mockup.blank(), this.mockup.prints()];
      return blank && prints.length
        ? { blank, areaIds: prints.map(({ area }) => area.id), crop: this.mockup.seen(), size: PREVIEW_SIZE }
        : null;
    },
    { equal: sameSeen },
  );
  /** Why the product cannot be shown; empty while it can, or is on its way. */
  protected readonly failed = signal('');
  private readonly tries = signal(0);
  protected readonly ready = toSignal<ReadyBlank | null>(
    toObservable(computed(() => ({ seen: this.wanted(), tries: this.tries() }))).pipe(
      map(({ seen }) => seen),
      filter((seen) => seen !== null),
      tap(() => this.failed.set('')),
      switchMap((seen) =>
        this.painter.load(seen).pipe(
          // The picture of a part stays until the next is there: it is the same product.
          startWith(null),
          catchError((error: Error) => {
            this.failed.set(error.message);
            return EMPTY;
          }),
        ),
      ),
      map((ready) => ready),
    ),
    { initialValue: null },
  );
  private readonly lookup = computed(() => {
    const [ready, area] = [this.ready(), this.mockup.area()];
    return ready && area ? new AreaLookup(ready.maps[0], area, ready.width) : null;
  });
  protected readonly areaPath = computed(() => {
    const area = this.mockup.area();
    return area ? this.outline({ x: 0, y: 0, width: area.widthMm, height: area.heightMm }) : '';
  });
  protected readonly safePath = computed(() => {
    const area = this.mockup.area();
    return area
      ? this.outline({
          x: area.safeInsetMm,
          y: area.safeInsetMm,
          width: area.widthMm - 2 * area.safeInsetMm,
          height: area.heightMm - 2 * area.safeInsetMm,
        })
      : '';
  });
  protected readonly artPath = computed(() => {
    const art = this.mockup.art();
    return art ? this.outline(art) : '';
  });
  /** Where the art is taken: all of it that is seen. */
  protected readonly artCells = computed(() => {
    const [art, lookup] = [this.mockup.art(), this.lookup()];
    return art && lookup ? seenCells(art, (point) => lookup.pixelOf(point)) : '';
  });
  protected readonly handles = computed(() => {
    const [art, lookup] = [this.mockup.art(), this.lookup()];
    return art && lookup ? seenCorners(art, (point) => lookup.pixelOf(point)) : [];
  });
  protected readonly readout = computed(() => this.describe());
  /** What lies over the print area on this picture of it, where all of it is known. */
  private readonly covered = computed(() => {
    const ready = this.ready();
    // Round things turn their print away at both sides: nothing lies over it there.
    return ready &&
      ready.seen.blank.category !== 'Drinkware' &&
      ready.maps[0].part.width === 1 &&
      ready.maps[0].part.height === 1
      ? new CoveredPlaces(ready.maps[0])
      : null;
  });
  /** True for art that covers a panel of cloth: it is meant to be cut off with it. */
  private readonly coversCloth = computed(() => {
    const [art, area] = [this.mockup.art(), this.mockup.area()];
    return !!art && !!area?.cut && coversCloth({ cut: area.cut }, art);
  });
  /** Share of the art that lies under something, 0 when none does. */
  protected readonly coveredShare = computed(() => {
    const [covered, art, area] = [this.covered(), this.mockup.art(), this.mockup.area()];
    return covered?.any && art && area && !this.coversCloth() ? covered.shareOf(art, area) : 0;
  });
  protected readonly percent = (share: number): string => (share < 0.01 ? 'under 1' : String(Math.round(share * 100)));
  /** Measured lines, as a picture over the picture. */
  protected readonly measures = computed(() => {
    const [art, lookup, area, blank] = [this.mockup.ink(), this.lookup(), this.mockup.area(), this.mockup.blank()];
    const [unit, placement] = [this.mockup.scene()?.measured, this.mockup.placement()];
    if (!unit || !art || !lookup || !area || !blank || !placement || this.mockup.framing()) return null;
    const lines = measureLines(art, area, blank, placement.factor, unit).map((line) => ({
      points: seenLine(line, (point) => lookup.pixelOf(point)),
      text: line.text,
    }));
    return `data:image/svg+xml,${encodeURIComponent(measuresSvg(lines, this.size()))}`;
  });
  /** True when the seller sees the print smaller than it is made. */
  private readonly shrunk = computed(() => this.mockup.placement()?.shrunk === true);
  protected readonly leaves = computed(() => {
    const [art, area] = [this.mockup.art(), this.mockup.area()];
    return (
      art !== null &&
      area !== null &&
      !this.coversCloth() &&
      (art.x < -0.5 ||
        art.y < -0.5 ||
        art.x + art.width > area.widthMm + 0.5 ||
        art.y + art.height > area.heightMm + 0.5)
    );
  });

  constructor() {
    effect(() => {
      this.assets.imagesReady();
      this.mockup.before();
      if (this.ready() && this.mockup.scene() && this.mockup.placement() && this.editor.desk.document()) this.draw();
    });
  }

  /** Two frames on their way at most; changes in between are drawn in the next. */
  private draw(): void {
    if (this.inFlight >= 2) {
      this.again = true;
      return;
    }
    const [ready, scene, prints, design] = [
      this.ready(),
      this.mockup.scene(),
      this.mockup.prints(),
      this.editor.desk.document(),
    ];
    if (!ready || !scene || !design || !sameSeen(ready.seen, this.wanted())) return;
    const drawn = prints.map((print, i) =>
      this.texture.draw({ ...print, design, garment: scene.garment, seen: ready.maps[i] }),
    );
    this.inFlight++;
    const look = this.mockup.drawnScene(ready.seen.blank, scene, prints[0]?.requirement ?? null, this.mockup.before());
    this.painter.draw(ready, look, drawn).subscribe({
      next: ({ width, height, top, pixels, milliseconds }) => {
        this.frame.set(milliseconds);
        // Until the art is there, the small picture with the design on it says more than a bare product.
        if (ready.seen.blank.id === this.mockup.blank()?.id && !drawn.some((print) => print.isComing))
          this.drawnBlank.set(ready.seen.blank.id);
        // The others come when the one that is looked at is there.
        this.small.begin();
        const surface = this.surface().nativeElement;
        if (surface.width !== width || surface.height !== height) {
          surface.width = width;
          surface.height = height;
          this.size.set({ width, height });
        }
        const rows = new Uint8ClampedArray(pixels);
        if (rows.length) surface.getContext('2d')!.putImageData(new ImageData(rows, width), 0, top);
        this.nextFrame();
      },
      error: () => this.nextFrame(),
    });
  }

  /** What can be done about where the print lies. */
  protected readonly acts = computed(() => {
    const [{ mockup }, scene, leaves] = [this, this.mockup.scene(), this.leaves()];
    return [
      !!this.failed() && chip('Try again', () => this.tryAgain()),
      !!scene?.own && chip('As on the print file', () => mockup.placeForItself(false)),
      leaves && chip('Move it inside', () => mockup.moveInside()),
      leaves && !!scene?.trueSize && chip('Show it smaller', () => mockup.showTrueSize(false)),
      !leaves && !!this.coveredShare() && chip('Move it clear', () => this.moveClear()),
      !leaves && this.shrunk() && chip('Show its true size', () => mockup.showTrueSize(true)),
      chip('Fit to this area', () => mockup.fitArea()),
    ];
  });

  private tryAgain(): void {
    this.tries.update((n) => n + 1);
  }

  private nextFrame(): void {
    this.inFlight--;
    if (this.again) {
      this.again = false;
      this.draw();
    }
  }

  /** A box in area mm as a line over the picture, following the folds. */
  private outline(box: Box): string {
    const lookup = this.lookup();
    if (!lookup) return '';
    const corners = [
      [0, 0],
      [1, 0],
      [1, 1],
      [0, 1],
      [0, 0],
    ];
    const steps = 14;
    const points: (Point | null)[] = [];
    for (let side = 0; side < 4; side++) {
      for (let k = 0; k < steps; k++) {
        const t = k / steps;
        const [i, j] = [0, 1].map((axis) => corners[side][axis] + (corners[side + 1][axis] - corners[side][axis]) * t);
        points.push(lookup.pixelOf({ x: box.x + i * box.width, y: box.y + j * box.height }));
      }
    }
    points.push(points[0]);
    let pen = 'M';
    return points
      .map((point) => {
        if (!point) {
          pen = 'M';
          return '';
        }
        const text = `${pen}${point.x.toFixed(1)} ${point.y.toFixed(1)}`;
        pen = 'L';
        return text;
      })
      .join('');
  }

  private describe(): string[] {
    // What is printed is told, without the clear margin of a picture; of art that is repeated, one of it.
    const ink = this.mockup.repeat() ? null : this.mockup.ink();
    const [art, placement] = [ink ?? this.mockup.art(), this.mockup.placement()];
    if (!art || !this.mockup.area() || !placement) return [];
    const unit = this.preferences.unit() === 'px' ? 'mm' : this.preferences.unit();
    const share = `${Math.round(placement.factor * 100)} %`;
    const onProduct = this.mockup.scene()?.own
      ? `placed for this scene alone, at ${share} of its printed size`
      : Math.abs(placement.factor - 1) < 0.005
        ? 'true printed size'
        : placement.shrunk
          ? `shown at ${share} of that, so that this product’s print area cuts nothing off`
          : `fitted to this product at ${share}`;
    return [
      `${formatSize(art.width / placement.factor, art.height / placement.factor, unit, 300)}${ink ? ' of ink' : ''}`,
      onProduct,
      `${formatLength(Math.abs(art.y), unit, 300)} ${art.y < 0 ? 'above' : 'below'} the top of the print area`,
    ];
  }

  private pointAt(event: PointerEvent): Point | null {
    const [ready, area] = [this.ready(), this.mockup.area()];
    if (!ready || !area) return null;
    const box = this.surface().nativeElement.getBoundingClientRect();
    const x = Math.floor(((event.clientX - box.left) / box.width) * ready.width);
    const y = Math.floor(((event.clientY - box.top) / box.height) * ready.height);
    return areaPointAt(ready.maps[0], area, y * ready.width + x);
  }

  /** The frame of the picture while it is set, in pixels of the preview. */
  protected readonly frameBox = computed<Box | null>(() => {
    const [blank, crop] = [this.mockup.blank(), this.mockup.crop()];
    if (!this.mockup.framing() || !blank || !crop) return null;
    const scale = this.size().width / blank.width;
    return { x: crop.x * scale, y: crop.y * scale, width: crop.width * scale, height: crop.height * scale };
  });

  protected outside({ x, y, width, height }: Box): string {
    const all = this.size();
    return `M0 0H${all.width}V${all.height}H0ZM${x} ${y}h${width}v${height}h${-width}Z`;
  }

  /** Corners of a frame, each with the one that stays where it is while a hand moves it. */
  protected corners({ x, y, width, height }: Box): readonly (Point & { readonly away: Point })[] {
    return [
      { x, y, away: { x: x + width, y: y + height } },
      { x: x + width, y, away: { x, y: y + height } },
      { x, y: y + height, away: { x: x + width, y } },
      { x: x + width, y: y + height, away: { x, y } },
    ];
  }

  /** Where a pointer is, in pixels of the preview. */
  private previewPoint(event: PointerEvent): Point {
    const box = this.surface().nativeElement.getBoundingClientRect();
    const { width, height } = this.size();
    return {
      x: ((event.clientX - box.left) / box.width) * width,
      y: ((event.clientY - box.top) / box.height) * height,
    };
  }

  /** @param away the corner that stays while the frame is sized; null when all of it is moved */
  protected grabFrame(event: PointerEvent, away: Point | null): void {
    const box = this.frameBox();
    if (!box) return;
    event.preventDefault();
    (event.target as Element).setPointerCapture(event.pointerId);
    this.frameHold = { from: this.previewPoint(event), box, away, key: `frame ${++this.gestures}` };
  }

  private dragFrame(event: PointerEvent): void {
    const [hold, blank] = [this.frameHold, this.mockup.blank()];
    if (!hold || !blank) return;
    const to = this.previewPoint(event);
    const scale = blank.width / this.size().width;
    const { box, away } = hold;
    const next = away
      ? {
          x: Math.min(to.x, away.x),
          y: Math.min(to.y, away.y),
          width: Math.abs(to.x - away.x),
          height: Math.abs(to.y - away.y),
        }
      : { ...box, x: box.x + to.x - hold.from.x, y: box.y + to.y - hold.from.y };
    this.mockup.frameAs(
      { x: next.x * scale, y: next.y * scale, width: next.width * scale, height: next.height * scale },
      hold.key,
    );
  }

  /** @param corner the place on the area that is taken to size it */
  protected grab(event: PointerEvent, corner: Point | null): void {
    const [art, from] = [this.mockup.art(), corner ?? this.pointAt(event)];
    if (!art || !from) return;
    event.preventDefault();
    (event.target as Element).setPointerCapture(event.pointerId);
    this.mockup.hold();
    this.hold = { kind: corner ? 'size' : 'move', from, art, key: `scene ${++this.gestures}` };
  }

  protected drag(event: PointerEvent): void {
    if (this.frameHold) {
      this.dragFrame(event);
      return;
    }
    const { hold } = this;
    const to = hold && this.pointAt(event);
    if (!hold || !to) return;
    const { art, from } = hold;
    if (hold.kind === 'move')
      this.mockup.moveArt({ ...art, x: art.x + to.x - from.x, y: art.y + to.y - from.y }, hold.key);
    else {
      // From a corner, about the middle of the upper edge: a chest print grows without wandering.
      const middle = art.x + art.width / 2;
      // The corner itself may be out of sight: what counts is how far the place moves that was taken.
      const width = Math.max(5, (art.width * Math.abs(to.x - middle)) / Math.max(1, Math.abs(from.x - middle)));
      this.mockup.moveArt(
        { x: middle - width / 2, y: art.y, width, height: (width * art.height) / art.width },
        hold.key,
      );
    }
  }

  /** Moves the art to the nearest place where nothing lies over it. */
  private moveClear(): void {
    const [covered, art, area] = [this.covered(), this.mockup.art(), this.mockup.area()];
    const clear = covered && art && area && covered.clearOf(art, area);
    if (clear) this.mockup.moveArt(clear, 'move clear');
    else this.notices.say('There is no place on this print area that is large enough and lies free.');
    this.mockup.settle();
  }

  protected release(): void {
    if (this.hold || this.frameHold) this.mockup.settle();
    this.hold = null;
    this.frameHold = null;
  }

  protected keys(event: KeyboardEvent): void {
    if (this.mockup.framing()) {
      this.frameKeys(event);
      return;
    }
    const art = this.mockup.art();
    if (!art) return;
    const step = event.shiftKey ? 10 : 1;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    const grow = event.key === '+' || event.key === '=' ? 1.02 : event.key === '-' ? 1 / 1.02 : 0;
    if (way || grow) this.mockup.hold();
    if (way) this.mockup.moveArt({ ...art, x: art.x + way[0], y: art.y + way[1] }, 'scene keys');
    else if (grow)
      this.mockup.moveArt(
        { x: art.x - (art.width * (grow - 1)) / 2, y: art.y, width: art.width * grow, height: art.height * grow },
        'scene keys',
      );
    if (way || grow) event.preventDefault();
  }

  /** Arrow keys move the frame, plus and minus size it about its middle. */
  private frameKeys(event: KeyboardEvent): void {
    const [crop, blank] = [this.mockup.crop(), this.mockup.blank()];
    if (!crop || !blank) return;
    const step = (event.shiftKey ? 0.05 : 0.01) * blank.width;
    const way = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    const grow = event.key === '+' || event.key === '=' ? 1.05 : event.key === '-' ? 1 / 1.05 : 1;
    if (!way && grow === 1) return;
    event.preventDefault();
    const [width, height] = [crop.width * grow, crop.height * grow];
    this.mockup.frameAs(
      {
        x: crop.x + (way?.[0] ?? 0) - (width - crop.width) / 2,
        y: crop.y + (way?.[1] ?? 0) - (height - crop.height) / 2,
        width,
        height,
      },
      'frame keys',
    );
  }

  protected keyUp(): void {
    this.mockup.settle();
  }

  /** Picture pixels are drawn over at any size. */
  protected readonly viewBox = computed(() => `0 0 ${this.size().width} ${this.size().height}`);
  /** The small picture of a blank with the design on it, enlarged, until it is drawn with the design on it. */
  protected readonly early = computed(() => {
    const blank = this.mockup.blank();
    return blank && this.drawnBlank() !== blank.id ? this.small.picture(blank.id) : null;
  });
  /** Id of the blank that the surface shows. */
  protected readonly drawnBlank = signal<string | null>(null);
  /** What an empty stage waits for; empty once there is something on it, or once it was said why not. */
  protected readonly waitsFor = computed(() => {
    if (this.drawnBlank() || this.failed()) return '';
    return this.mockup.blank() ? 'Getting the product ready …' : 'Fetching the blanks …';
  });
  protected backdrop(scene: Scene | null): string {
    return scene?.backdrop ?? '#eee';
  }
}
