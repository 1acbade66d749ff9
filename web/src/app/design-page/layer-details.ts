import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { apply } from '@kettle/core/geometry';
import { BLEND_MODES, type BlendMode } from '@kettle/core/raster';
import { factsOfLayer, hasParts, isInked, kindOf, marksOf } from '@kettle/core/layers';
import { rename, renameLayer, USUAL_PLACES } from '@kettle/core/document';
import { isAllOutlines } from '@kettle/core/recipes';
import { Arranging } from '../editor/arranging';
import { Mending } from '../checks/mending';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { FindingCard } from '../checks/finding-card';
import { AssetShelf } from '../data/asset-shelf';
import { Settings, amount, chips, lengthOf, pick, row, slide, type Setting } from '../units/settings';
import type { Chip } from '../units/chips';
import { ArrangeDetails } from '../artwork/arrange-details';
import { BrushDetails } from '../artwork/brush-details';
import { GuideDetails } from '../artwork/guide-details';
import { InkDetails } from '../artwork/ink-details';
import { ImportantParts } from '../artwork/important-parts';
import { InkScreenDetails } from '../artwork/ink-screen';
import { KeylineDetails } from '../artwork/keyline-details';
import { PartDetails } from '../artwork/part-details';
import { ReachDetails } from '../artwork/reach-details';
import { RubbedDetails } from '../artwork/rubbed-details';
import { TextDetails } from '../artwork/text-details';
import { titleOf } from '../editor/treatment-words';
import { TypedValue } from '../units/typed-value';

const BLENDS = BLEND_MODES.map((id) => ({
  id,
  words: id.charAt(0).toUpperCase() + id.slice(1).replaceAll('-', ' '),
}));

/** Details of the selected layers, of the brush, or of the design when nothing is selected. Findings come first. */
@Component({
  selector: 'ks-layer-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    TypedValue,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    ArrangeDetails,
    BrushDetails,
    FindingCard,
    GuideDetails,
    InkDetails,
    ImportantParts,
    InkScreenDetails,
    KeylineDetails,
    PartDetails,
    ReachDetails,
    RubbedDetails,
    Settings,
    TextDetails,
  ],
  templateUrl: './layer-details.html',
  styleUrl: './layer-details.scss',
})
export class LayerDetails {
  protected readonly editor = inject(Editor);
  protected readonly mending = inject(Mending);
  protected readonly tools = inject(Tools);
  protected readonly arranging = inject(Arranging);
  private readonly assets = inject(AssetShelf);
  protected readonly usual = chips(
    USUAL_PLACES.map(({ id, label, hint }) => ({ words: label, title: hint, press: () => this.editor.placeUsual(id) })),
  );
  protected readonly facts = computed(() => {
    const layer = this.editor.selected();
    return layer && factsOfLayer(layer, this.assets.facts());
  });
  protected readonly picture = computed(() => {
    const layer = this.editor.selected();
    return layer?.kind === 'picture' ? layer : null;
  });
  /** What is done to the selected picture. */
  protected readonly treated = computed(() => {
    const steps = (this.picture()?.treatments ?? []).filter((one) => !one.off);
    return steps.map((step) => titleOf(step).toLowerCase()).join(', ');
  });
  protected readonly inked = computed(() => {
    const layer = this.editor.selected();
    return layer && isInked(layer) ? layer : null;
  });
  protected readonly parted = computed(() => {
    const layer = this.editor.selected();
    return layer && hasParts(layer) ? layer : null;
  });
  protected readonly text = computed(() => {
    const layer = this.editor.selected();
    return layer?.kind === 'text' ? layer : null;
  });
  protected readonly title = computed(() => {
    const [layer, held] = [this.editor.selected(), this.editor.held()];
    return layer ? kindOf(layer).word : this.arranging.isGroup() ? 'Group' : `${held.length} layers`;
  });
  protected readonly subtitle = computed(() => {
    const [layer, facts, held] = [this.editor.selected(), this.facts(), this.editor.held()];
    if (!layer) return this.arranging.isGroup() ? `${held.length} layers` : '';
    return marksOf(layer)
      ? 'outlines'
      : facts?.vector
        ? 'SVG outlines'
        : facts
          ? `${facts.width} × ${facts.height} px`
          : '';
  });
  /** Where the selected layer lies on the chosen canvas. */
  protected readonly here = computed(() => {
    const [layer, current] = [this.editor.selected(), this.editor.current()];
    if (!layer || !current) return null;
    const { toCanvas, factor, canvas } = current.layout;
    const centre = apply(toCanvas, layer.place);
    const [width, height] = [layer.place.width * factor, layer.place.height * factor];
    return {
      layer,
      canvas,
      centre,
      width,
      height,
      fromTop: centre.y - height / 2,
      fromCentre: centre.x - canvas.widthMm / 2,
    };
  });
  protected readonly row = row;
  protected readonly mirror = computed(() => {
    const place = this.here()?.layer.place;
    const flip = (words: string, icon: string, key: 'flipX' | 'flipY'): Chip => ({
      words,
      icon,
      bare: true,
      title: words,
      ...(place ? { on: place[key] } : {}),
      press: () => this.arranging.flip(key),
    });
    return chips(
      [
        flip('Mirror left to right', 'flip-horizontal', 'flipX'),
        flip('Mirror top to bottom', 'flip-vertical', 'flipY'),
      ],
      'Mirror',
    );
  });
  /** Where it lies and how large it is, in numbers. */
  protected readonly numbers = computed<readonly Setting[]>(() => {
    const here = this.here();
    if (!here) return [];
    const { dpi } = here.canvas;
    return [
      row(
        lengthOf('Width', here.width, { dpi, positive: true, set: (mm) => this.width(mm) }),
        lengthOf('Height', here.height, { dpi, positive: true, set: (mm) => this.height(mm) }),
      ),
      ...(here.layer.kind === 'shape'
        ? [
            chips([
              {
                words: 'Keep proportions',
                on: this.proportional(),
                press: () => this.proportional.set(!this.proportional()),
              },
            ]),
          ]
        : []),
      row(
        lengthOf('From top', here.fromTop, { dpi, set: (mm) => this.fromTop(mm) }),
        lengthOf('From centre', here.fromCentre, { dpi, set: (mm) => this.fromCentre(mm) }),
      ),
      row(
        amount('Turn', here.layer.place.turn, {
          unit: '°',
          least: -360,
          most: 360,
          set: (turn) => this.editor.placeSelected({ turn }),
        }),
        this.mirror(),
      ),
    ];
  });
  protected readonly seen = computed<readonly Setting[]>(() => {
    const [first] = this.editor.held();
    return [
      slide('Opacity', (first?.opacity ?? 1) * 100, {
        unit: '%',
        set: (percent) => this.arranging.fade(percent / 100),
      }),
      pick('Blend mode', first?.blend ?? 'normal', {
        of: BLENDS,
        set: (mode) => this.arranging.blend(mode as BlendMode),
      }),
    ];
  });
  protected readonly hidden = computed(() => this.editor.held().every((layer) => layer.hidden));
  protected readonly locked = computed(
    () => this.editor.held().length > 0 && this.editor.held().every((layer) => layer.locked),
  );
  protected readonly otherFindings = computed(
    () => this.editor.current()?.findings.filter((finding) => finding.severity !== 'tells') ?? [],
  );

  constructor() {
    effect(() => {
      this.editor.selectedId();
      untracked(() => this.proportional.set(true));
    });
  }

  /** Whether all that is selected can be held by outlines. */
  protected readonly isOutlines = computed(() => isAllOutlines(this.editor.held(), this.assets.facts()));

  /** Where what is selected is had as a file of its own, with the chosen target's DPI. */
  protected fileOf(as: 'png' | 'svg', cut: boolean): string {
    const requirement = this.editor.current()?.requirement.id;
    return `/api/designs/${this.editor.desk.id()}/file?as=${as}&layers=${this.editor.selection().join()}${requirement ? `&requirement=${requirement}` : ''}${cut ? '&cut=ink' : ''}`;
  }

  private width(mm: number): void {
    const here = this.here();
    if (here) this.resize(mm, here.width, 'width');
  }
  private height(mm: number): void {
    const here = this.here();
    if (here) this.resize(mm, here.height, 'height');
  }

  /** Shapes may be stretched; all else keeps its proportions, and so does the next shape. */
  private readonly proportional = signal(true);

  /** Top edge kept. */
  private resize(mm: number, from: number, side: 'width' | 'height'): void {
    const here = this.here();
    if (!here || !(mm > 0)) return;
    const factor = mm / from;
    const free = here.layer.kind === 'shape' && !this.proportional();
    const [width, height] = [
      free && side === 'height' ? here.width : here.width * factor,
      free && side === 'width' ? here.height : here.height * factor,
    ];
    this.editor.placeSelected({ width, height, y: here.fromTop + height / 2 });
  }

  private fromTop(mm: number): void {
    const here = this.here();
    if (here) this.editor.placeSelected({ y: mm + here.height / 2 });
  }
  private fromCentre(mm: number): void {
    const here = this.here();
    if (here) this.editor.placeSelected({ x: here.canvas.widthMm / 2 + mm });
  }
  protected nameLayer(id: string, name: string): void {
    if (name.trim()) this.editor.edit(renameLayer(id, name.trim()));
  }
  protected nameDesign(name: string): void {
    if (name.trim()) this.editor.edit(rename(name.trim()));
  }
  protected hide(): void {
    this.arranging.hide(this.editor.selection(), !this.hidden());
  }
  protected lock(): void {
    this.arranging.lock(this.editor.selection(), !this.locked());
  }
}
