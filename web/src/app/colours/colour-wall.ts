import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  computed,
  effect,
  inject,
  output,
  signal,
} from '@angular/core';
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
  type DesignDocument,
  type Keyline,
  type InkWeights,
} from '@kettle/core';
import { drawLayers } from '../artwork/paint-layers';
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
  readonly design: DesignDocument;
  /** Share of the ink that is lost on it, 0 to 1; null while the design's pictures have not come. */
  readonly lost: number | null;
  readonly lostHex: string | null;
  readonly leftOut: boolean;
}

const isLosing = ({ lost }: OnColour): boolean => lost !== null && lost >= PARTLY;

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
  /** Asked to look at the chosen target on the canvas. */
  readonly canvas = output<void>();
  protected readonly versionWord = versionWord;
  protected readonly kinds: readonly Cloth[] = ['light', 'dark'];
  private readonly weights = signal<ReadonlyMap<DesignDocument, InkWeights>>(new Map());
  protected readonly percent = (share: number | null): string =>
    share === null
      ? 'not looked at yet'
      : share < 0.005
        ? 'nothing lost'
        : `${Math.max(1, Math.round(share * 100))} % lost`;

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
        design: seenBy(design, target),
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
        const seen = seenBy(design, asVersion(whole, versionFor(whole, colourway.hex), requirement));
        const found = weights.get(seen);
        const { share, hex } = found ? lostInk(found, colourway.hex) : { share: null, hex: null };
        return {
          ...colourway,
          cloth: clothOf(colourway.hex),
          design: seen,
          lost: share,
          lostHex: hex,
          leftOut: whole.leftOut?.includes(colourway.hex.toLowerCase()) ?? false,
        };
      })
      .sort((a, b) => Number(a.leftOut) - Number(b.leftOut) || (b.lost ?? 0) - (a.lost ?? 0));
  });
  protected readonly summary = computed(() => {
    if (this.assets.coming()) return 'Working out the pictures …';
    const sold = this.colours().filter((one) => !one.leftOut);
    if (sold.some((one) => one.lost === null))
      return 'A picture of this design has not come yet, so nothing is known of its ink.';
    const bad = sold.filter(isLosing).length;
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
        const each = new Map<DesignDocument, InkWeights>();
        for (const { design } of [...sides, ...this.colours()])
          if (!each.has(design) && this.isHere(design)) each.set(design, this.weigh(design));
        this.weights.set(each);
      });
    });
  }

  /** Whether all its pictures have come: what is not seen is not weighed. */
  private isHere(design: DesignDocument): boolean {
    return design.layers.every(
      (layer) =>
        layer.hidden || layer.kind !== 'picture' || this.assets.image(layer.assetId, layer.treatments, 512) !== null,
    );
  }

  /** Weighs the ink of a design on the chosen canvas. */
  private weigh(design: DesignDocument): InkWeights {
    const { canvas, toCanvas } = this.bench.current()!.layout;
    const scale = WEIGHED / Math.max(canvas.widthMm, canvas.heightMm);
    const width = Math.max(1, Math.round(canvas.widthMm * scale));
    const height = Math.max(1, Math.round(canvas.heightMm * scale));
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })!;
    drawLayers(context, design, toCanvas, scale, (layer) => this.assets.image(layer.assetId, layer.treatments, 512));
    return weighInk({ width, height, data: context.getImageData(0, 0, width, height).data });
  }

  protected helps(one: OnColour): boolean {
    return !one.leftOut && isLosing(one);
  }
  protected mark(one: OnColour): 'fine' | 'partly' | 'mostly' | 'unknown' {
    if (one.lost === null) return 'unknown';
    return (one.lost ?? 0) >= MOSTLY ? 'mostly' : isLosing(one) ? 'partly' : 'fine';
  }

  protected propose(cloth: Cloth): void {
    const current = this.bench.current();
    if (!current) return;
    this.bench.edit(proposeVersion(current.whole, current.requirement, cloth, this.assets.facts()));
    this.bench.desk.settle();
  }

  /** Draws a line around the whole design in one version, in a colour that reads on that cloth. */
  protected outline(cloth: Cloth): void {
    const current = this.bench.current();
    if (!current) return;
    const keyline: Keyline = {
      hex: cloth === 'dark' ? '#f7f5f0' : '#1f2623',
      width: 1.2,
      gap: 0,
      join: 'round',
      holes: 'kept',
    };
    const version = current.whole.versions?.[cloth] ?? { layers: {} };
    this.bench.edit(
      changeTarget(current.requirement.id, {
        versions: { ...current.whole.versions, [cloth]: { ...version, keyline } },
      }),
    );
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

  /** Leaves all other colours out. */
  protected sellAlone(one: OnColour): void {
    const whole = this.whole();
    if (!whole) return;
    const leftOut = this.colours()
      .filter((other) => other !== one)
      .map(({ hex }) => hex.toLowerCase());
    this.bench.edit(changeTarget(whole.requirementId, { leftOut }));
    this.bench.desk.settle();
  }

  /** Shows a version on the canvas, where changes reach it alone. */
  protected work(cloth: Cloth): void {
    const current = this.bench.current();
    if (!current) return;
    this.bench.choose(current.requirement.id, current.whole.versions ? cloth : null);
    this.bench.alone.set(current.whole.versions !== undefined);
    this.bench.place.set(null);
    this.canvas.emit();
  }

  protected choose(requirementId: string): void {
    this.bench.choose(requirementId);
  }

  protected leaveByKey(event: Event): void {
    if (!isTyping(event.target)) this.bench.place.set(null);
  }
}
