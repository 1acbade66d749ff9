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
import { AreaLookup, areaPointAt, formatLength, formatSize, type Box, type Point, type Scene } from '@kettle/core';
import { EMPTY, catchError, distinctUntilChanged, filter, map, startWith, switchMap } from 'rxjs';
import { Bench } from '../bench/bench';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { MockupBench } from './mockup-bench';
import { ScenePainter, type ReadyBlank } from './scene-painter';
import { SceneTexture } from './scene-texture';
import { SmallScenes } from './small-scenes';

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
  templateUrl: './scene-view.html',
  styleUrl: './scene-view.scss',
})
export class SceneView {
  private readonly bench = inject(Bench);
  protected readonly mockup = inject(MockupBench);
  private readonly painter = inject(ScenePainter);
  private readonly assets = inject(AssetShelf);
  private readonly notices = inject(Notices);
  private readonly preferences = inject(Preferences);
  private readonly surface = viewChild.required<ElementRef<HTMLCanvasElement>>('surface');
  private readonly texture = new SceneTexture(this.assets);
  private readonly small = inject(SmallScenes);
  private hold: Hold | null = null;
  private gestures = 0;
  /** Frames on their way: while the worker draws one, the next is prepared here. */
  private inFlight = 0;
  private again = false;

  protected readonly size = signal({ width: 1000, height: 1000 });
  /** Time the last frame took in the worker, ms; read by the bench. */
  protected readonly frame = signal(0);
  protected readonly ready = toSignal<ReadyBlank | null>(
    toObservable(computed(() => ({ blank: this.mockup.blank(), area: this.mockup.area() }))).pipe(
      filter(({ blank, area }) => blank !== null && area !== null),
      distinctUntilChanged((a, b) => a.blank === b.blank && a.area === b.area),
      switchMap(({ blank, area }) =>
        this.painter.load(blank!, area!.id).pipe(
          startWith(null),
          catchError((error: Error) => {
            this.notices.complain(error.message);
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
    return ready && area ? new AreaLookup(ready.maps, area, ready.width) : null;
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
  protected readonly handles = computed(() => {
    const [art, lookup] = [this.mockup.art(), this.lookup()];
    if (!art || !lookup) return [];
    return [
      [0, 0],
      [1, 0],
      [0, 1],
      [1, 1],
    ].flatMap(([i, j]) => lookup.pixelOf({ x: art.x + i * art.width, y: art.y + j * art.height }) ?? []);
  });
  protected readonly readout = computed(() => this.describe());
  /** True when the seller sees the print smaller than it is made. */
  protected readonly shrunk = computed(() => this.mockup.placement()?.shrunk === true);
  protected readonly leaves = computed(() => {
    const [art, area] = [this.mockup.art(), this.mockup.area()];
    return (
      art !== null &&
      area !== null &&
      (art.x < -0.5 ||
        art.y < -0.5 ||
        art.x + art.width > area.widthMm + 0.5 ||
        art.y + art.height > area.heightMm + 0.5)
    );
  });

  constructor() {
    effect(() => {
      this.assets.imagesReady();
      if (this.ready() && this.mockup.scene() && this.mockup.placement() && this.bench.desk.document()) this.draw();
    });
  }

  /** Two frames on their way at most; changes in between are drawn in the next. */
  private draw(): void {
    if (this.inFlight >= 2) {
      this.again = true;
      return;
    }
    const [ready, scene, area, placement, design] = [
      this.ready(),
      this.mockup.scene(),
      this.mockup.area(),
      this.mockup.placement(),
      this.bench.desk.document(),
    ];
    if (
      !ready ||
      !scene ||
      !area ||
      !placement ||
      !design ||
      ready.blank.id !== scene.blankId ||
      ready.areaId !== area.id
    )
      return;
    const { grid, texture } = this.texture.draw({
      design,
      requirement: this.mockup.requirement(),
      garment: scene.garment,
      area,
      placement,
      pixelsPerMm: ready.maps.pixelsPerMm,
    });
    this.inFlight++;
    this.painter.draw(ready, scene, grid, texture).subscribe({
      next: ({ width, height, top, pixels, milliseconds }) => {
        this.frame.set(milliseconds);
        if (ready.blank.id === this.mockup.blank()?.id) this.drawnBlank.set(ready.blank.id);
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
    const [art, area, placement] = [this.mockup.art(), this.mockup.area(), this.mockup.placement()];
    if (!art || !area || !placement) return [];
    const unit = this.preferences.unit() === 'px' ? 'mm' : this.preferences.unit();
    const share = `${Math.round(placement.factor * 100)} %`;
    const onProduct =
      Math.abs(placement.factor - 1) < 0.005
        ? 'true printed size'
        : placement.shrunk
          ? `shown at ${share} of that, so that this product’s print area cuts nothing off`
          : `fitted to this product at ${share}`;
    return [
      formatSize(art.width / placement.factor, art.height / placement.factor, unit, 300),
      onProduct,
      `${formatLength(art.y, unit, 300)} below the top of the print area`,
    ];
  }

  private pointAt(event: PointerEvent): Point | null {
    const [ready, area] = [this.ready(), this.mockup.area()];
    if (!ready || !area) return null;
    const box = this.surface().nativeElement.getBoundingClientRect();
    const x = Math.floor(((event.clientX - box.left) / box.width) * ready.width);
    const y = Math.floor(((event.clientY - box.top) / box.height) * ready.height);
    return areaPointAt(ready.maps, area, y * ready.width + x);
  }

  protected grab(event: PointerEvent, kind: 'move' | 'size'): void {
    const [art, from] = [this.mockup.art(), this.pointAt(event)];
    if (!art || (!from && kind === 'move')) return;
    event.preventDefault();
    (event.target as Element).setPointerCapture(event.pointerId);
    this.mockup.hold();
    this.hold = { kind, from: from ?? { x: art.x, y: art.y }, art, key: `scene ${++this.gestures}` };
  }

  protected drag(event: PointerEvent): void {
    const { hold } = this;
    const to = hold && this.pointAt(event);
    if (!hold || !to) return;
    const { art, from } = hold;
    if (hold.kind === 'move')
      this.mockup.moveArt({ ...art, x: art.x + to.x - from.x, y: art.y + to.y - from.y }, hold.key);
    else {
      // From a corner, about the middle of the upper edge: a chest print grows without wandering.
      const middle = art.x + art.width / 2;
      const width = Math.max(5, 2 * Math.abs(to.x - middle));
      this.mockup.moveArt(
        { x: middle - width / 2, y: art.y, width, height: (width * art.height) / art.width },
        hold.key,
      );
    }
  }

  protected release(): void {
    if (this.hold) this.mockup.settle();
    this.hold = null;
  }

  protected keys(event: KeyboardEvent): void {
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
  private readonly drawnBlank = signal<string | null>(null);
  protected backdrop(scene: Scene | null): string {
    return scene?.backdrop ?? '#eee';
  }
}
