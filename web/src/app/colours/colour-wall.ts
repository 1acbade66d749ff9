import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Cloth, Colourway, DesignDocument, Keyline } from '@kettle/core/model';
import {
  asVersion,
  changeTarget,
  clothOf,
  dropVersion,
  proposeVersion,
  seenBy,
  versionFor,
  versionWord,
} from '@kettle/core/document';
import { seenAs, seenOn, type OnCloth, type SeenAs } from '@kettle/core/press';
import { inkOf } from '../paint/ink-on-cloth';
import { Editor } from '../editor/editor';
import { TargetPicture } from '../editor/target-picture';
import { AssetShelf } from '../data/asset-shelf';
import { isTyping } from '../shell/finder';
import { ChipRow, chip, type Chip } from '../units/chips';

/** A colour on sale with what becomes of the design on it. */
interface OnColour extends Colourway {
  readonly cloth: Cloth;
  readonly design: DesignDocument;
  /** How it is seen on it; null while the design's pictures have not come. */
  readonly seen: OnCloth | null;
  readonly leftOut: boolean;
}

const isSeenAs = ({ seen }: OnColour, ...as: readonly SeenAs[]): boolean => seen !== null && as.includes(seenAs(seen));
const isLosing = (one: OnColour): boolean => isSeenAs(one, 'lost', 'partly');

/** The design on every colour on sale, the worst first, and its versions for light and dark cloth side by side. */
@Component({
  selector: 'ks-colour-wall',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, MatButtonModule, MatIconModule, TargetPicture],
  templateUrl: './colour-wall.html',
  styleUrl: './colour-wall.scss',
  host: { '(document:keydown.escape)': 'leaveByKey($event)' },
})
export class ColourWall {
  protected readonly editor = inject(Editor);
  private readonly assets = inject(AssetShelf);
  /** Asked to look at the chosen target on the canvas. */
  readonly canvas = output<void>();
  protected readonly versionWord = versionWord;
  protected readonly kinds: readonly Cloth[] = ['light', 'dark'];
  protected readonly words = ({ seen }: OnColour): string =>
    seen === null
      ? 'not looked at yet'
      : seen.lost >= 0.005
        ? `${Math.max(1, Math.round(seen.lost * 100))} % lost`
        : seenAs(seen) === 'faint'
          ? `faint, ${seen.contrast!.toFixed(1)} to 1`
          : 'nothing lost';

  /** The chosen target as the document has it. */
  protected readonly whole = computed(() => this.editor.current()?.whole ?? null);

  protected readonly sides = computed(() => {
    const [design, current] = [this.editor.desk.document(), this.editor.current()];
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

  private readonly inks = inkOf(() => {
    const [design, current] = [this.editor.desk.document(), this.editor.current()];
    if (!design || !current) return [];
    const { layout, whole, requirement } = current;
    return this.kinds.map((cloth) => ({ ...layout, design: seenBy(design, asVersion(whole, cloth, requirement)) }));
  });

  protected readonly colours = computed<readonly OnColour[]>(() => {
    const [design, current, inks] = [this.editor.desk.document(), this.editor.current(), this.inks()];
    if (!design || !current) return [];
    const { whole, requirement } = current;
    return requirement.colourways
      .map((colourway): OnColour => {
        const seen = seenBy(design, asVersion(whole, versionFor(whole, colourway.hex), requirement));
        const ink = inks.get(seen);
        return {
          ...colourway,
          cloth: clothOf(colourway.hex),
          design: seen,
          seen: ink ? seenOn(ink, colourway.hex) : null,
          leftOut: whole.leftOut?.includes(colourway.hex.toLowerCase()) ?? false,
        };
      })
      .sort((a, b) => Number(a.leftOut) - Number(b.leftOut) || (b.seen?.lost ?? 0) - (a.seen?.lost ?? 0));
  });
  protected readonly summary = computed(() => {
    if (this.assets.coming()) return 'Working out the pictures …';
    const sold = this.colours().filter((one) => !one.leftOut);
    if (sold.some((one) => one.seen === null))
      return 'A picture of this design has not come yet, so nothing is known of its ink.';
    const bad = sold.filter(isLosing).length;
    const faint = sold.filter((one) => isSeenAs(one, 'faint')).length;
    return bad === 0
      ? faint === 0
        ? `Reads on all ${sold.length} colours on sale.`
        : `Seen on all ${sold.length} colours on sale, faint on ${faint}.`
      : `Loses ink on ${bad} of ${sold.length} colours on sale.`;
  });

  protected helps(one: OnColour): boolean {
    return !one.leftOut && isLosing(one);
  }
  protected mark(one: OnColour): 'fine' | 'partly' | 'mostly' | 'unknown' {
    if (one.seen === null) return 'unknown';
    return isSeenAs(one, 'lost') ? 'mostly' : isLosing(one) ? 'partly' : 'fine';
  }

  protected propose(cloth: Cloth): void {
    const current = this.editor.current();
    if (!current) return;
    this.editor.edit(proposeVersion(current.whole, current.requirement, cloth, this.assets.facts()));
    this.editor.desk.settle();
  }

  /** Draws a line around the whole design in one version, in a colour that reads on that cloth. */
  private outline(cloth: Cloth): void {
    const current = this.editor.current();
    if (!current) return;
    const keyline: Keyline = {
      hex: cloth === 'dark' ? '#f7f5f0' : '#1f2623',
      width: 1.2,
      gap: 0,
      join: 'round',
      holes: 'kept',
    };
    const version = current.whole.versions?.[cloth] ?? { layers: {} };
    this.editor.edit(
      changeTarget(current.requirement.id, {
        versions: { ...current.whole.versions, [cloth]: { ...version, keyline } },
      }),
    );
    this.editor.desk.settle();
  }

  protected drop(cloth: Cloth): void {
    const whole = this.whole();
    if (!whole) return;
    this.editor.edit(dropVersion(whole, cloth));
    this.editor.desk.settle();
  }

  private leaveOut(one: OnColour): void {
    const whole = this.whole();
    if (!whole) return;
    const hex = one.hex.toLowerCase();
    const rest = (whole.leftOut ?? []).filter((each) => each !== hex);
    const leftOut = one.leftOut ? rest : [...rest, hex];
    this.editor.edit(changeTarget(whole.requirementId, { leftOut: leftOut.length ? leftOut : undefined }));
    this.editor.desk.settle();
  }

  /** Leaves all other colours out. */
  private sellAlone(one: OnColour): void {
    const whole = this.whole();
    if (!whole) return;
    const leftOut = this.colours()
      .filter((other) => other !== one)
      .map(({ hex }) => hex.toLowerCase());
    this.editor.edit(changeTarget(whole.requirementId, { leftOut }));
    this.editor.desk.settle();
  }

  /** Shows a version on the canvas, where changes reach it alone. */
  protected work(cloth: Cloth): void {
    const current = this.editor.current();
    if (!current) return;
    this.editor.choose(current.requirement.id, current.whole.versions ? cloth : null);
    this.editor.alone.set(current.whole.versions !== undefined);
    this.editor.place.set(null);
    this.canvas.emit();
  }

  protected readonly wholes = computed(() => {
    const whole = this.whole();
    return this.editor
      .targets()
      .filter(({ cloth }) => cloth !== 'dark')
      .map(({ requirement: { id, name }, whole: one }) =>
        chip(name, () => this.editor.choose(id), { on: one === whole }),
      );
  });

  /** What can be done where a colour is sold, or was left out. */
  protected actsOf(one: OnColour): readonly (Chip | false)[] {
    if (one.leftOut) return [chip('Sell it again', () => this.leaveOut(one))];
    const helps = this.helps(one);
    return [
      helps &&
        (this.whole()?.versions?.[one.cloth]
          ? chip('Another ink', () => this.work(one.cloth))
          : chip(`A version ${versionWord(one.cloth)}`, () => this.propose(one.cloth))),
      helps && !one.design.keyline && chip('A line around it', () => this.outline(one.cloth)),
      chip('Leave it out', () => this.leaveOut(one)),
      chip('Sell it alone', () => this.sellAlone(one)),
    ];
  }

  protected leaveByKey(event: Event): void {
    if (!isTyping(event.target)) this.editor.place.set(null);
  }
}
