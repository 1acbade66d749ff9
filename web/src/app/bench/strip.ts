import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { hideLayer, removeLayer, reorderLayer, shapePath, SHAPES, translate, type Affine, type Layer, type ShapeDescription } from '@kettle/core';
import { Bench } from './bench';
import { TargetPicture } from './target-picture';

/** Layers as sheets in a row: back at the left, front at the right. */
@Component({
  selector: 'ks-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, CdkDropList, MatButtonModule, MatIconModule, MatMenuModule, TargetPicture],
  template: `
    <span class="end">back</span>
    <ol cdkDropList cdkDropListOrientation="horizontal" (cdkDropListDropped)="drop($event)" aria-label="Layers, back to front">
      @for (layer of layers(); track layer.id; let i = $index) {
        <li cdkDrag cdkDragLockAxis="x" [class.hidden]="layer.hidden">
          <button type="button" class="sheet" [class.on]="layer.id === bench.selectedId()" [attr.aria-pressed]="layer.id === bench.selectedId()" [attr.data-layer]="layer.id"
            [attr.aria-label]="layer.name + ', layer ' + (i + 1) + ' of ' + layers().length + (layer.hidden ? ', hidden' : '')" (click)="bench.selectedId.set(layer.id)" (keydown)="keys($event, layer, i)">
            <ks-target-picture [layers]="[shown(layer)]" [toCanvas]="ofItself(layer)" [canvas]="box" [garment]="ground()" [most]="[62, 50]" />
            <span>{{ layer.name }}</span>
          </button>
          <button type="button" class="eye" [attr.aria-label]="(layer.hidden ? 'Show ' : 'Hide ') + layer.name" (click)="bench.desk.edit(hide(layer))"><mat-icon [svgIcon]="layer.hidden ? 'eye-off' : 'eye'" /></button>
        </li>
      }
    </ol>
    <span class="end">front</span>
    <span class="grow"></span>
    <button mat-stroked-button type="button" (click)="picture.emit()"><mat-icon svgIcon="photo-plus" /> Picture</button>
    <button mat-stroked-button type="button" (click)="bench.addText()"><mat-icon svgIcon="plus" /> Lettering</button>
    <button mat-stroked-button type="button" [matMenuTriggerFor]="shapeMenu"><mat-icon svgIcon="plus" /> Shape</button>
    <mat-menu #shapeMenu yPosition="above" xPosition="before" class="shape-menu">
      @for (shape of shapes; track shape.kind) {
        <button mat-menu-item type="button" (click)="bench.addShape(shape.kind)"><span class="shape"><svg viewBox="-1 -1 26 26" width="30" height="30" aria-hidden="true"><path [attr.d]="sample(shape)" [attr.transform]="middle(shape)" /></svg>{{ shape.label }}</span></button>
      }
    </mat-menu>
  `,
  styles: `
    :host { display: flex; align-items: center; gap: 12px; padding: 0 18px; background: var(--tray); border-top: 1px solid var(--rule); min-width: 0; }
    .end { color: var(--quiet); font-size: 11.5px; } ol { display: flex; gap: 10px; list-style: none; margin: 0; padding: 8px 4px; overflow-x: auto; min-width: 40px; } li { position: relative; background: var(--tray); border-radius: 10px; }
    .sheet { border: 0; background: none; padding: 3px; border-radius: 8px; cursor: grab; width: 80px; display: grid; justify-items: center; gap: 4px; } .sheet span { font: 550 11.5px var(--sans); max-width: 76px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
    .on ks-target-picture { outline: 2.5px solid var(--plum); outline-offset: 2px; border-radius: 3px; } .hidden ks-target-picture { opacity: .35; }
    .eye { position: absolute; right: 4px; top: 2px; border: 0; background: var(--raised); border-radius: 6px; padding: 2px; cursor: pointer; display: flex; opacity: 0; color: var(--quiet); } .eye mat-icon { width: 14px; height: 14px; }
    .shape { display: grid; gap: 5px; justify-items: center; font-size: 12px; } .shape path { fill: var(--enamel); }
    li:hover .eye, .eye:focus-visible, .hidden .eye { opacity: 1; }
  `,
})
export class Strip {
  protected readonly bench = inject(Bench);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** Asked to put a picture in. */
  readonly picture = output<void>();
  protected readonly layers = computed(() => this.bench.desk.document()?.layers ?? []);
  protected readonly ground = computed(() => this.bench.current()?.garment ?? '#fff');
  protected readonly box = { widthMm: 62, heightMm: 50 };
  protected readonly shapes = SHAPES;
  protected readonly hide = (layer: Layer) => hideLayer(layer.id, !layer.hidden);

  /** A shape in small, for the menu. */
  protected sample({ kind, aspect }: ShapeDescription): string { return shapePath({ shape: kind, parameters: {} }, Math.min(24, 24 * aspect), Math.min(24, 24 / aspect)); }
  /** Shift that puts a sample in the middle of its square. */
  protected middle({ aspect }: ShapeDescription): string { return `translate(${(24 - Math.min(24, 24 * aspect)) / 2} ${(24 - Math.min(24, 24 / aspect)) / 2})`; }

  /** A layer alone, filling its thumbnail. */
  protected shown(layer: Layer): Layer { return { ...layer, hidden: false, opacity: 1, place: { ...layer.place, turn: 0, ...fitted(layer) } }; }
  protected ofItself(_layer: Layer): Affine { return translate(31, 25); }

  protected drop(event: CdkDragDrop<unknown>): void {
    const layer = this.layers()[event.previousIndex];
    this.bench.desk.edit(reorderLayer(layer.id, event.currentIndex));
  }

  protected keys(event: KeyboardEvent, layer: Layer, index: number): void {
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      this.bench.desk.edit(removeLayer(layer.id));
      this.bench.selectedId.set(null);
      return;
    }
    const step = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    if (event.altKey) this.bench.desk.edit(reorderLayer(layer.id, index + step));
    const to = event.altKey ? layer.id : this.layers()[index + step]?.id;
    if (to) queueMicrotask(() => requestAnimationFrame(() => this.host.nativeElement.querySelector<HTMLElement>(`[data-layer="${to}"]`)?.focus()));
  }
}

function fitted({ place }: Layer): { x: number; y: number; width: number; height: number } {
  const factor = Math.min(54 / place.width, 42 / place.height);
  return { x: 0, y: 0, width: place.width * factor, height: place.height * factor };
}
