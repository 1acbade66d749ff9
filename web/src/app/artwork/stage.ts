import { ChangeDetectionStrategy, Component, DestroyRef, ElementRef, afterNextRender, computed, effect, inject, signal, viewChild } from '@angular/core';
import { changeTarget, effectiveDpi, factsOfLayer, formatLength, formatSize, removeLayer, type PictureLayer } from '@kettle/core';
import { AssetShelf } from '../data/asset-shelf';
import { Preferences } from '../data/preferences';
import { Bench } from '../bench/bench';
import { Ruler } from './ruler';
import { StageView, type StageFit } from './stage-view';

/** The canvas of the chosen target, at true proportions, where layers are dragged, turned and nudged. */
@Component({
  selector: 'ks-stage',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Ruler],
  templateUrl: './stage.html',
  styleUrl: './stage.scss',
})
export class Stage {
  protected readonly bench = inject(Bench);
  private readonly assets = inject(AssetShelf);
  private readonly preferences = inject(Preferences);
  private readonly surface = viewChild.required<ElementRef<HTMLDivElement>>('surface');
  private readonly size = signal({ width: 0, height: 0 });
  private readonly ready = signal(false);
  private view: StageView | null = null;
  private gesture = 0;

  protected readonly fit = signal<StageFit>({ scale: 1, left: 0, top: 0 });
  protected readonly box = this.size.asReadonly();
  /** Checker pattern instead of the garment, chosen for looking only. */
  protected readonly checker = signal(false);
  protected readonly paper = computed(() => {
    const [{ scale, left, top }, current] = [this.fit(), this.bench.current()];
    return current && { left, top, width: current.layout.canvas.widthMm * scale, height: current.layout.canvas.heightMm * scale, ground: this.checker() ? null : current.garment };
  });
  protected readonly heading = computed(() => {
    const current = this.bench.current();
    if (!current) return '';
    const { widthPx, heightPx, dpi } = current.layout.canvas;
    const { mode, transparency } = current.requirement;
    return `${widthPx} × ${heightPx} px · ${dpi} DPI · ${mode === 'grey' ? 'grey' : mode.toUpperCase()} · ${transparency === 'forbidden' ? 'flat' : 'transparent'}`;
  });
  protected readonly readout = computed(() => this.describe());

  constructor() {
    const destroyed = inject(DestroyRef);
    afterNextRender(() => {
      const element = this.surface().nativeElement;
      this.view = new StageView(element, {
        select: (id) => this.bench.selectedId.set(id),
        place: (id, place, done) => { this.bench.selectedId.set(id); this.bench.placeSelected(place, `hand ${this.gesture}`); if (done) this.endGesture(); },
        art: (to, done) => { this.bench.moveTo(to, `hand ${this.gesture}`); if (done) this.endGesture(); },
      });
      const observer = new ResizeObserver(() => this.size.set({ width: element.clientWidth, height: element.clientHeight }));
      observer.observe(element);
      destroyed.onDestroy(() => { observer.disconnect(); this.view?.destroy(); });
      this.ready.set(true);
    });
    effect(() => {
      const [design, current, { width, height }] = [this.bench.desk.document(), this.bench.current(), this.size()];
      this.assets.imagesReady();
      this.preferences.theme();
      if (!this.ready() || !this.view || !design || !current || !width) return;
      const imageOf = (layer: PictureLayer) => this.assets.image(layer.assetId, 1024);
      this.fit.set(this.view.show({ design, current, selectedId: this.bench.selectedId(), onlyHere: this.bench.onlyHere(), imageOf }, width, height, 34));
    });
  }

  private endGesture(): void {
    this.gesture++;
    this.bench.desk.settle();
  }

  protected see(hex: string | null): void {
    const current = this.bench.current();
    this.checker.set(hex === null);
    if (hex !== null && current) this.bench.desk.edit(changeTarget(current.requirement.id, { garment: hex }), 'garment');
  }

  /** Printed size, distance from the top and the centre line, and effective DPI of what a move takes along. */
  private describe(): string[] {
    const [current, box, layer] = [this.bench.current(), this.bench.movedBox(), this.bench.selected()];
    if (!current || !box) return [];
    const unit = this.preferences.unit();
    const { canvas, factor } = current.layout;
    const length = (mm: number) => formatLength(mm, unit, canvas.dpi);
    const shift = box.x + box.width / 2 - canvas.widthMm / 2;
    const centred = Math.abs(shift) < 0.05 ? 'centred' : `${length(Math.abs(shift))} ${shift > 0 ? 'right' : 'left'} of centre`;
    const down = `${length(Math.abs(box.y))} ${box.y >= 0 ? 'below the top edge' : 'above the top edge'}`;
    const facts = layer && factsOfLayer(layer, this.assets.facts());
    const sharpness = !facts || this.bench.onlyHere() ? [] : [facts.vector ? 'outlines: sharp at any size' : `${Math.round(effectiveDpi(layer, facts, factor))} DPI effective`];
    const turned = layer && layer.place.turn !== 0 && !this.bench.onlyHere();
    const size = layer && turned ? [layer.place.width * factor, layer.place.height * factor] : [box.width, box.height];
    return [formatSize(size[0], size[1], unit, canvas.dpi), down, centred, ...sharpness];
  }

  protected keys(event: KeyboardEvent): void {
    const step = event.shiftKey ? 10 : 1;
    const nudge = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[event.key];
    const id = this.bench.selectedId();
    if (nudge && !event.altKey) { event.preventDefault(); this.bench.nudge(nudge[0], nudge[1]); }
    else if ((event.key === 'Delete' || event.key === 'Backspace') && id && !this.bench.onlyHere()) { event.preventDefault(); this.bench.desk.edit(removeLayer(id)); this.bench.selectedId.set(null); }
    else if (event.key === 'Escape') this.bench.selectedId.set(null);
  }

  protected keyUp(event: KeyboardEvent): void { if (event.key.startsWith('Arrow')) this.bench.desk.settle(); }
}
