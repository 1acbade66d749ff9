import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  afterNextRender,
  computed,
  effect,
  inject,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatIconModule } from '@angular/material/icon';
import { formatLength, formatSize } from '@kettle/core/units';
import { apply, panned, PRINT_SIZE_SCALE, viewOfBox, zoomedAt, type Viewport } from '@kettle/core/geometry';
import type { Layer, PictureLayer } from '@kettle/core/model';
import { factsOfLayer } from '@kettle/core/layers';
import {
  addGuide,
  changeShape,
  changeTarget,
  effectiveDpi,
  moveGuide,
  removeGuide,
  type ShownGuide,
} from '@kettle/core/document';
import { Subject, repeat, takeUntil, throttleTime } from 'rxjs';
import { Arranging } from '../editor/arranging';
import { Editor, type Places } from '../editor/editor';
import { Maker } from '../editor/maker';
import { Tools } from '../editor/tools';
import { AssetShelf } from '../data/asset-shelf';
import { PrintView } from '../proof/print-view';
import { PressProof } from '../proof/press-proof';
import { ProofBar } from '../proof/proof-bar';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { Ruler } from './ruler';
import type { CanvasPlace, StageEvents } from './stage-content';
import { StageView, viewOfCanvas } from './stage-view';
import { Swatches } from '../units/swatches';
import { WordsOnStage } from './words-on-stage';

/** Time between two readouts of a drag. */
const READOUT_MS = 60;

/** The canvas of the chosen target, at true proportions, where layers are dragged, turned, drawn and nudged. */
@Component({
  selector: 'ks-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, PrintView, ProofBar, Ruler, Swatches, WordsOnStage],
  templateUrl: './stage.html',
  styleUrl: './stage.scss',
})
export class Stage {
  protected readonly editor = inject(Editor);
  protected readonly proof = inject(PressProof);
  protected readonly tools = inject(Tools);
  private readonly arranging = inject(Arranging);
  private readonly maker = inject(Maker);
  private readonly assets = inject(AssetShelf);
  private readonly preferences = inject(Preferences);
  private readonly notices = inject(Notices);
  private readonly surface = viewChild.required<ElementRef<HTMLDivElement>>('surface');
  private readonly table = viewChild.required<ElementRef<HTMLDivElement>>('table');
  private readonly size = signal({ width: 0, height: 0 });
  private readonly view = signal<StageView | null>(null);
  /** What a hand chose to look at; null shows the whole canvas. */
  private readonly looked = signal<Viewport | null>(null);
  private gesture = 0;
  private readonly held = new Subject<Places>();
  private readonly released = new Subject<void>();

  protected readonly fit = computed<Viewport>(() => {
    const [current, { width, height }] = [this.editor.current(), this.size()];
    if (!current || !width) return { scale: 1, left: 0, top: 0 };
    return this.looked() ?? viewOfCanvas(current.layout.canvas, width, height);
  });
  protected readonly box = this.size.asReadonly();
  /** Checker pattern instead of the garment, chosen for looking only. */
  protected readonly checker = signal(false);
  protected readonly percent = computed(() => Math.round((this.fit().scale / PRINT_SIZE_SCALE) * 100));
  protected readonly paper = computed(() => {
    const [{ scale, left, top }, current] = [this.fit(), this.editor.current()];
    return (
      current && {
        left,
        top,
        width: current.layout.canvas.widthMm * scale,
        height: current.layout.canvas.heightMm * scale,
        ground: this.checker() ? null : current.garment,
      }
    );
  });
  protected readonly heading = computed(() => {
    const current = this.editor.current();
    if (!current) return '';
    const { widthPx, heightPx, dpi } = current.layout.canvas;
    const { mode, transparency } = current.requirement;
    return `${widthPx} × ${heightPx} px · ${dpi} DPI · ${mode === 'grey' ? 'grey' : mode.toUpperCase()} · ${transparency === 'forbidden' ? 'flat' : 'transparent'}`;
  });
  protected readonly readout = computed(() => this.describe());
  /** Middle of what a move takes along, px in the window: where a test can take hold of it. */
  protected readonly heldAt = computed(() => {
    const [box, { scale, left, top }] = [this.editor.movedBox(), this.fit()];
    return (
      box &&
      JSON.stringify({
        x: Math.round(left + (box.x + box.width / 2) * scale),
        y: Math.round(top + (box.y + box.height / 2) * scale),
      })
    );
  });
  /** True while the print is shown; what a hand holds is shown as it is. */
  protected readonly proofed = computed(
    () => this.proof.shown() && this.proof.ready() !== null && this.editor.moving() === null,
  );
  /** Places that are pointed at, px in the window, with room around them so that small ones are seen. */
  protected readonly marks = computed(() => {
    const { scale, left, top } = this.fit();
    return this.editor.pointedAt().map(({ x, y, width, height }) => {
      const room = Math.max(5, (18 - Math.min(width, height) * scale) / 2);
      return {
        left: left + x * scale - room,
        top: top + y * scale - room,
        width: width * scale + 2 * room,
        height: height * scale + 2 * room,
      };
    });
  });
  /** Lettering that is written in place, and where. */
  protected readonly words = computed(() => {
    const id = this.editor.editing();
    const layer = this.editor.layers().find((one) => one.id === id);
    this.fit();
    const [view, current] = [this.view(), this.editor.current()];
    if (layer?.kind !== 'text' || !view || !current) return null;
    const { scale, left, top } = this.fit();
    const { toCanvas, factor } = current.layout;
    const [w, h] = [layer.place.width * factor * scale, layer.place.height * factor * scale];
    const { x, y } = apply(toCanvas, layer.place);
    return {
      layer,
      box: { x: left + x * scale - w / 2, y: top + y * scale - h / 2, width: w, height: h, turn: layer.place.turn },
    };
  });

  /** What the brush or the eraser in hand works on. */
  protected readonly drawingWords = computed(() => {
    if (!this.tools.brush().erase) return 'Drawing freehand.';
    const [one, ...others] = this.editor.held();
    return !one
      ? 'Select what the eraser shall rub out of.'
      : `Rubbing out of ${others.length ? `${others.length + 1} layers` : `“${one.name}”`}.`;
  });

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.surface().nativeElement;
      const view = new StageView(element, this.events());
      const observer = new ResizeObserver(() =>
        this.size.set({ width: element.clientWidth, height: element.clientHeight }),
      );
      observer.observe(element);
      destroyed.onDestroy(() => {
        observer.disconnect();
        view.destroy();
      });
      this.view.set(view);
    });
    // The numbers follow a drag as fast as they can be read; the layers themselves follow every frame.
    this.held
      .pipe(
        throttleTime(READOUT_MS, undefined, { leading: true, trailing: true }),
        takeUntil(this.released),
        repeat(),
        takeUntilDestroyed(),
      )
      .subscribe((places) => this.editor.moving.set(places));
    // Another target is looked at whole.
    effect(() => {
      this.editor.chosenId();
      untracked(() => this.looked.set(null));
    });
    effect(() => {
      const [view, document, current, { width, height }] = [
        this.view(),
        this.editor.desk.document(),
        this.editor.current(),
        this.size(),
      ];
      this.assets.imagesReady();
      this.preferences.theme();
      if (!view || !document || !current || !width) return;
      const fit = this.fit();
      const density = devicePixelRatio * fit.scale * current.layout.factor;
      const unit = this.preferences.unit();
      view.show(
        {
          design: current.design,
          current,
          selection: this.editor.selection(),
          onlyHere: this.editor.onlyHere(),
          editing: this.editor.editing(),
          snapping: this.tools.snapping(),
          showSoft: this.tools.showSoft(),
          proofed: this.proofed(),
          tool: this.tools.sampling() ? 'sampler' : this.tools.drawing() ? 'brush' : 'move',
          brush: this.tools.brush(),
          lengthOf: (mm) => formatLength(mm, unit, current.layout.canvas.dpi),
          imageOf: (layer: PictureLayer) =>
            this.assets.image(layer.assetId, layer.treatments, layer.place.width * density > 1024 ? 2048 : 1024) ??
            this.assets.image(layer.assetId, layer.treatments, 1024),
        },
        fit,
        width,
        height,
      );
    });
  }

  /** True while a hand changes the document as it goes. */
  private live = false;

  private events(): StageEvents {
    const { editor } = this;
    return {
      select: (ids, how) => {
        if (how === 'within') editor.selectWithin(ids[0]);
        else editor.select(ids, how === 'add');
      },
      place: (places, done) => {
        const onField = this.onField(places);
        if (!done) {
          this.held.next(onField);
          return;
        }
        this.released.next();
        editor.moving.set(null);
        editor.placeAll(onField);
        editor.desk.settle();
      },
      art: (to, done) => {
        this.live = !done;
        editor.moveTo(to, `hand ${this.gesture}`);
        if (done) {
          this.gesture++;
          editor.desk.settle();
        }
      },
      parameter: (id, key, value, done) => {
        this.live = !done;
        const layer = editor.layers().find((one) => one.id === id);
        if (layer?.kind === 'shape')
          editor.edit(changeShape(id, { ...layer.parameters, [key]: value }), `${key} ${id} ${this.gesture}`);
        if (done) {
          this.gesture++;
          editor.desk.settle();
        }
      },
      letGo: () => {
        this.released.next();
        editor.moving.set(null);
        // What follows a hand at once is taken back as a step.
        if (this.live) editor.desk.undo();
        this.live = false;
      },
      guide: (guide, at) => this.putGuide(guide, at),
      edit: (id) => this.write(id),
      stroke: (points) => this.maker.stroke(points),
      sample: (hex) => {
        this.tools.sampling()?.(hex ?? editor.current()?.garment.toLowerCase() ?? '#ffffff');
        this.tools.sampling.set(null);
      },
      comes: ({ name }) => this.notices.say(`“${name}” has not come yet. Take its colour once it is there.`),
      look: (view) => this.looked.set(view),
    };
  }

  private onField(places: Readonly<Record<string, CanvasPlace>>): Places {
    const byId = new Map<string, Layer>(this.editor.layers().map((layer) => [layer.id, layer]));
    return Object.fromEntries(
      Object.entries(places).map(([id, place]) => [id, this.editor.onField(byId.get(id)!, place)]),
    );
  }

  private putGuide(guide: ShownGuide, at: number | null): void {
    const layout = this.editor.current()!.layout;
    if (guide.index < 0) {
      if (at !== null) this.editor.edit(addGuide(layout, guide.owner, guide.axis, at));
    } else this.editor.edit(at === null ? removeGuide(guide) : moveGuide(layout, guide, at));
    this.editor.desk.settle();
  }

  /** Pulls a guide out of a ruler. It belongs to the design, or to the chosen target while changes reach that alone. */
  protected pull(event: PointerEvent, axis: 'x' | 'y'): void {
    const current = this.editor.current();
    if (event.button !== 0 || !current) return;
    event.preventDefault();
    this.view()?.pullGuide(axis, this.editor.alone() || this.editor.onlyHere() ? current.requirement.id : null);
  }

  private write(id: string): void {
    const layer = this.editor.layers().find((one) => one.id === id);
    if (layer?.kind !== 'text' || layer.locked) return;
    this.editor.selectWithin(id);
    this.editor.editing.set(id);
  }

  protected written(): void {
    this.editor.editing.set(null);
    this.editor.desk.settle();
    this.focusTable();
  }

  /** What is pressed on the canvas is what the keys act on from now on, whether it was selected before or not. */
  protected focusTable(): void {
    this.table().nativeElement.focus({ preventScroll: true });
  }

  protected see(hex: string | null): void {
    const current = this.editor.current();
    this.checker.set(hex === null);
    if (hex !== null && current)
      this.editor.desk.edit(changeTarget(current.requirement.id, { garment: hex }), 'garment');
    // The version on the stage is the one of the garment that was chosen.
    this.editor.chosenCloth.set(null);
  }

  protected zoom(to: 'fit' | 'selection' | 'print' | 'nearer' | 'farther'): void {
    const { width, height } = this.size();
    const middle = { x: width / 2, y: height / 2 };
    const fit = this.fit();
    switch (to) {
      case 'fit':
        this.looked.set(null);
        return;
      case 'print':
        this.looked.set(zoomedAt(fit, middle, PRINT_SIZE_SCALE));
        return;
      case 'nearer':
        this.looked.set(zoomedAt(fit, middle, fit.scale * 1.4));
        return;
      case 'farther':
        this.looked.set(zoomedAt(fit, middle, fit.scale / 1.4));
        return;
      case 'selection': {
        const box = this.editor.movedBox();
        if (box) this.looked.set(viewOfBox(box, { width, height, margin: 60, foot: 22 }));
      }
    }
  }

  /** Printed size, distance from the top and the centre line, and effective DPI of what a move takes along. */
  private describe(): string[] {
    const [current, box, layer] = [this.editor.current(), this.editor.movedBox(), this.editor.selected()];
    if (!current || !box) return [];
    const unit = this.preferences.unit();
    const { canvas, factor } = current.layout;
    const length = (mm: number) => formatLength(mm, unit, canvas.dpi);
    const shift = box.x + box.width / 2 - canvas.widthMm / 2;
    const centred =
      Math.abs(shift) < 0.05 ? 'centred' : `${length(Math.abs(shift))} ${shift > 0 ? 'right' : 'left'} of centre`;
    const down = `${length(Math.abs(box.y))} ${box.y >= 0 ? 'below the top edge' : 'above the top edge'}`;
    const facts = layer && factsOfLayer(layer, this.assets.facts());
    const sharpness =
      !facts || this.editor.onlyHere()
        ? []
        : [
            facts.vector
              ? 'outlines: sharp at any size'
              : `${Math.round(effectiveDpi(layer, facts, factor))} DPI effective`,
          ];
    const turned = layer && layer.place.turn !== 0 && !this.editor.onlyHere();
    const size = layer && turned ? [layer.place.width * factor, layer.place.height * factor] : [box.width, box.height];
    return [formatSize(size[0], size[1], unit, canvas.dpi), down, centred, ...sharpness];
  }

  protected keys(event: KeyboardEvent): void {
    if (event.target !== event.currentTarget) return;
    const step = event.shiftKey ? 10 : 1;
    const nudge = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[
      event.key
    ];
    const { editor, view } = this;
    if (event.key === ' ') {
      event.preventDefault();
      const shown = view();
      if (shown) shown.panning = true;
      return;
    }
    if (nudge && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      const current = editor.current();
      if (current)
        this.looked.set(
          panned(this.fit(), { x: -nudge[0] * 40, y: -nudge[1] * 40 }, current.layout.canvas, this.size()),
        );
    } else if (nudge && !event.altKey) {
      event.preventDefault();
      editor.nudge(nudge[0], nudge[1]);
    } else if (
      (event.key === 'Delete' || event.key === 'Backspace') &&
      editor.selection().length &&
      !editor.onlyHere()
    ) {
      event.preventDefault();
      this.arranging.remove();
    } else if (event.key === 'Enter' && editor.selected()?.kind === 'text') {
      event.preventDefault();
      this.write(editor.selectedId()!);
    } else if (event.key === '+' || event.key === '-') {
      event.preventDefault();
      this.zoom(event.key === '+' ? 'nearer' : 'farther');
    } else if (event.key === 'Escape') {
      if (this.tools.sampling()) this.tools.sampling.set(null);
      else if (this.tools.drawing()) this.tools.drawing.set(false);
      else editor.select([]);
    }
  }

  protected keyUp(event: KeyboardEvent): void {
    const view = this.view();
    if (event.key === ' ' && view) view.panning = false;
    if (event.key.startsWith('Arrow')) this.editor.desk.settle();
  }
}
