import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import { apply, duplicateLayer, fadeLayer, hideLayer, placeLayer, removeLayer, rename, renameLayer, USUAL_PLACES, type UsualPlace } from '@kettle/core';
import { Bench } from '../bench/bench';
import { FindingCard } from '../checks/finding-card';
import { AssetShelf } from '../data/asset-shelf';
import { newLayerId } from '../data/intake';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';
import { ShapeDetails } from './shape-details';
import { TextDetails } from './text-details';

/** Details of the selected layer, or of the design when none is selected. Findings come first. */
@Component({
  selector: 'ks-layer-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatSliderModule, FindingCard, LengthField, NumberField, ShapeDetails, TextDetails],
  templateUrl: './layer-details.html',
  styleUrl: './layer-details.scss',
})
export class LayerDetails {
  protected readonly bench = inject(Bench);
  private readonly assets = inject(AssetShelf);
  protected readonly places = USUAL_PLACES;
  protected readonly facts = computed(() => { const layer = this.bench.selected(); return layer?.kind === 'picture' ? this.assets.facts()[layer.assetId] : undefined; });
  protected readonly shape = computed(() => { const layer = this.bench.selected(); return layer && layer.kind !== 'picture' ? layer : null; });
  protected readonly text = computed(() => { const layer = this.bench.selected(); return layer?.kind === 'text' ? layer : null; });
  protected readonly title = computed(() => ({ picture: 'Picture', shape: 'Shape', text: 'Lettering' })[this.bench.selected()?.kind ?? 'picture']);
  /** Where the selected layer lies on the chosen canvas. */
  protected readonly here = computed(() => {
    const [layer, current] = [this.bench.selected(), this.bench.current()];
    if (!layer || !current) return null;
    const { toCanvas, factor, canvas } = current.layout;
    const centre = apply(toCanvas, layer.place);
    const [width, height] = [layer.place.width * factor, layer.place.height * factor];
    return { layer, canvas, centre, width, height, fromTop: centre.y - height / 2, fromCentre: centre.x - canvas.widthMm / 2 };
  });
  protected readonly otherFindings = computed(() => this.bench.current()?.findings.filter((finding) => finding.severity !== 'tells') ?? []);

  protected width(mm: number): void { const here = this.here(); if (here) this.resize(mm / here.width); }
  protected height(mm: number): void { const here = this.here(); if (here) this.resize(mm / here.height); }

  /** In proportion, the top edge kept. */
  private resize(factor: number): void {
    const here = this.here();
    if (!here || !(factor > 0)) return;
    this.bench.placeSelected({ width: here.width * factor, height: here.height * factor, y: here.fromTop + (here.height * factor) / 2 });
  }

  protected fromTop(mm: number): void { const here = this.here(); if (here) this.bench.placeSelected({ y: mm + here.height / 2 }); }
  protected fromCentre(mm: number): void { const here = this.here(); if (here) this.bench.placeSelected({ x: here.canvas.widthMm / 2 + mm }); }
  protected turn(degrees: number): void { this.bench.placeSelected({ turn: degrees }); }
  protected place(place: UsualPlace): void { this.bench.placeUsual(place); }

  protected opacity(percent: number): void { this.onLayer((id) => fadeLayer(id, percent / 100), 'opacity'); }
  protected nameLayer(name: string): void { if (name.trim()) this.onLayer((id) => renameLayer(id, name.trim())); }
  protected nameDesign(name: string): void { if (name.trim()) this.bench.desk.edit(rename(name.trim())); }
  protected flip(way: 'flipX' | 'flipY'): void { const layer = this.bench.selected(); if (layer) this.onLayer((id) => placeLayer(id, { [way]: !layer.place[way] })); }
  protected hide(): void { const layer = this.bench.selected(); if (layer) this.onLayer((id) => hideLayer(id, !layer.hidden)); }
  protected remove(): void { this.onLayer((id) => removeLayer(id)); this.bench.selectedId.set(null); }

  protected duplicate(): void {
    const copy = newLayerId();
    this.onLayer((id) => duplicateLayer(id, copy));
    this.bench.selectedId.set(copy);
  }

  private onLayer(edit: (id: string) => Parameters<Bench['desk']['edit']>[0], mergeKey: string | null = null): void {
    const id = this.bench.selectedId();
    if (id) this.bench.desk.edit(edit(id), mergeKey && `${mergeKey} ${id}`);
  }
}
