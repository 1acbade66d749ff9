import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatSliderModule } from '@angular/material/slider';
import { apply } from '@kettle/core/geometry';
import { BLEND_MODES, type BlendMode } from '@kettle/core/raster';
import { factsOfLayer, hasParts, isInked, kindOf, marksOf } from '@kettle/core/layers';
import { rename, renameLayer, USUAL_PLACES, type UsualPlace } from '@kettle/core/document';
import { isAllOutlines } from '@kettle/core/recipes';
import { Arranging } from '../editor/arranging';
import { Mending } from '../checks/mending';
import { Editor } from '../editor/editor';
import { Tools } from '../editor/tools';
import { FindingCard } from '../checks/finding-card';
import { AssetShelf } from '../data/asset-shelf';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';
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

/** Details of the selected layers, of the brush, or of the design when nothing is selected. Findings come first. */
@Component({
  selector: 'ks-layer-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    TypedValue,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    MatSliderModule,
    ArrangeDetails,
    BrushDetails,
    FindingCard,
    GuideDetails,
    InkDetails,
    ImportantParts,
    InkScreenDetails,
    KeylineDetails,
    LengthField,
    NumberField,
    PartDetails,
    ReachDetails,
    RubbedDetails,
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
  protected readonly places = USUAL_PLACES;
  protected readonly blends = BLEND_MODES.map((id) => ({
    id,
    label: id.charAt(0).toUpperCase() + id.slice(1).replaceAll('-', ' '),
  }));
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
  protected readonly opacity = computed(() => this.editor.held()[0]?.opacity ?? 1);
  protected readonly blend = computed<BlendMode>(() => this.editor.held()[0]?.blend ?? 'normal');
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

  protected width(mm: number): void {
    const here = this.here();
    if (here) this.resize(mm, here.width, 'width');
  }
  protected height(mm: number): void {
    const here = this.here();
    if (here) this.resize(mm, here.height, 'height');
  }

  /** Shapes may be stretched; all else keeps its proportions, and so does the next shape. */
  protected readonly proportional = signal(true);

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

  protected fromTop(mm: number): void {
    const here = this.here();
    if (here) this.editor.placeSelected({ y: mm + here.height / 2 });
  }
  protected fromCentre(mm: number): void {
    const here = this.here();
    if (here) this.editor.placeSelected({ x: here.canvas.widthMm / 2 + mm });
  }
  protected turn(degrees: number): void {
    this.editor.placeSelected({ turn: degrees });
  }
  protected place(place: UsualPlace): void {
    this.editor.placeUsual(place);
  }
  protected setBlend(mode: string): void {
    this.arranging.blend(mode as BlendMode);
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
