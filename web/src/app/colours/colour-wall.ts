import { ChangeDetectionStrategy, Component, DestroyRef, computed, effect, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import {
  asVersion,
  changeTarget,
  clothOf,
  dropVersion,
  lostInk,
  proposeVersion,
  seenBy,
  versionFor,
  versionWord,
  weighInk,
  type Cloth,
  type Colourway,
  type InkWeights,
  type Layer,
} from '@kettle/core';
import { drawLayers } from '../artwork/paint-layer';
import { Bench } from '../bench/bench';
import { TargetPicture } from '../bench/target-picture';
import { AssetShelf } from '../data/asset-shelf';
import { isTyping } from '../shell/finder';

/** Side of the picture that ink is weighed on, px. */
const WEIGHED = 320;
/** Shares of lost ink from which a colour needs help, and from which it should not be sold. */
const PARTLY = 0.05;
const MOSTLY = 0.4;

/** A colour on sale with what becomes of the design on it. */
interface OnColour extends Colourway {
  readonly cloth: Cloth;
  readonly layers: readonly Layer[];
  readonly lost: number;
  readonly lostHex: string | null;
  readonly leftOut: boolean;
}

/** The design on every colour on sale, the worst first, and its versions for light and dark cloth side by side. */
@Component({
  selector: 'ks-colour-wall',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, TargetPicture],
  templateUrl: './colour-wall.html',
  styleUrl: './colour-wall.scss',
  host: { '(document:keydown.escape)': 'leaveByKey($event)' },
})
export class ColourWall {
  protected readonly bench = inject(Bench);
  private readonly assets = inject(AssetShelf);
  protected readonly versionWord = versionWord;
  protected readonly kinds: readonly Cloth[] = ['light', 'dark'];
  private readonly weights = signal<ReadonlyMap<readonly Layer[], InkWeights>>(new Map());
  protected readonly percent = (share: number): string =>
    share < 0.005 ? 'nothing lost' : `${Math.max(1, Math.round(share * 100))} % lost`;

  /** The chosen target as the document has it. */
  protected readonly whole = computed(() => this.bench.current()?.whole ?? null);

  protected readonly sides = computed(() => {
    const [design, current] = [this.bench.desk.document(), this.bench.current()];
    if (!design || !current) return [];
    return this.kinds.map((cloth) => {
      const target = asVersion(current.whole, cloth, current.requirement);
      return {
        cloth,
        garment: target.garment ?? '#ffffff',
        layers: seenBy(design, target).layers,
        own: current.whole.versions?.[cloth] !== undefined,
        differing: Object.keys(current.whole.versions?.[cloth]?.layers ?? {}).length,
      };
    });
  });

  protected readonly colours = computed<readonly OnColour[]>(() => {
    const [design, current, weights] = [this.bench.desk.document(), this.bench.current(), this.weights()];
    if (!design || !current) return [];
    const { whole, requirement } = current;
    return requirement.colourways
      .map((colourway): OnColour => {
        const { layers } = seenBy(design, asVersion(whole, versionFor(whole, colourway.hex), requirement));
        const found = weights.get(layers);
        const { share, hex } = found ? lostInk(found, colourway.hex) : { share: 0, hex: null };
        return {
          ...colourway,
          cloth: clothOf(colourway.hex),
          layers,
          lost: share,
          lostHex: hex,
          leftOut: whole.leftOut?.includes(colourway.hex.toLowerCase()) ?? false,
        };
      })
      .sort((a, b) => Number(a.leftOut) - Number(b.leftOut) || b.lost - a.lost);
  });
  protected readonly summary = computed(() => {
    const sold = this.colours().filter((one) => !one.leftOut);
    const bad = sold.filter((one) => one.lost >= PARTLY).length;
    return bad === 0
      ? `Reads on all ${sold.length} colours on sale.`
      : `Loses ink on ${bad} of ${sold.length} colours on sale.`;
  });

  constructor() {
    let frame = 0;
    inject(DestroyRef).onDestroy(() => cancelAnimationFrame(frame));
    effect(() => {
      this.assets.imagesReady();
      const sides = this.sides();
      cancelAnimationFrame(frame);
      frame = requestAnimationFrame(() => {
        const each = new Map<readonly Layer[], InkWeights>();
        for (const { layers } of sides) each.set(layers, this.weigh(layers));
        for (const { layers } of this.colours()) if (!each.has(layers)) each.set(layers, this.weigh(layers));
        this.weights.set(each);
      });
    });
  }

  /** Weighs the ink of layers on the chosen canvas. */
  private weigh(layers: readonly Layer[]): InkWeights {
    const { canvas, toCanvas } = this.bench.current()!.layout;
    const scale = WEIGHED / Math.max(canvas.widthMm, canvas.heightMm);
    const width = Math.max(1, Math.round(canvas.widthMm * scale));
    const height = Math.max(1, Math.round(canvas.heightMm * scale));
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    drawLayers(context, layers, toCanvas, scale, (layer) => this.assets.image(layer.assetId, layer.treatments, 512));
    return weighInk({ width, height, data: context.getImageData(0, 0, width, height).data });
  }

  protected helps(one: OnColour): boolean {
    return !one.leftOut && one.lost >= PARTLY;
  }
  protected mark(one: OnColour): 'fine' | 'partly' | 'mostly' {
    return one.lost >= MOSTLY ? 'mostly' : one.lost >= PARTLY ? 'partly' : 'fine';
  }

  protected propose(cloth: Cloth): void {
    const current = this.bench.current();
    if (!current) return;
    this.bench.edit(proposeVersion(current.whole, current.requirement, cloth, this.assets.facts()));
    this.bench.desk.settle();
  }

  protected drop(cloth: Cloth): void {
    const whole = this.whole();
    if (!whole) return;
    this.bench.edit(dropVersion(whole, cloth));
    this.bench.desk.settle();
  }

  protected leaveOut(one: OnColour): void {
    const whole = this.whole();
    if (!whole) return;
    const hex = one.hex.toLowerCase();
    const rest = (whole.leftOut ?? []).filter((each) => each !== hex);
    const leftOut = one.leftOut ? rest : [...rest, hex];
    this.bench.edit(changeTarget(whole.requirementId, { leftOut: leftOut.length ? leftOut : undefined }));
    this.bench.desk.settle();
  }

  /** Shows a version on the canvas, where changes reach it alone. */
  protected work(cloth: Cloth): void {
    const current = this.bench.current();
    if (!current) return;
    this.bench.choose(current.requirement.id, current.whole.versions ? cloth : null);
    this.bench.alone.set(current.whole.versions !== undefined);
    this.bench.place.set(null);
  }

  protected choose(requirementId: string): void {
    this.bench.choose(requirementId);
  }

  protected leaveByKey(event: Event): void {
    if (!isTyping(event.target)) this.bench.place.set(null);
  }
}
