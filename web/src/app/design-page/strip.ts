import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import type { Graphic } from '@kettle/core/drawing';
import { translate, type Affine } from '@kettle/core/geometry';
import type { Layer } from '@kettle/core/model';
import { shapePath, SHAPES, type ShapeDescription } from '@kettle/core/drawing';
import { reorderLayer, isUnset } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { GraphicsDialog } from './graphics-dialog';
import { Maker } from '../editor/maker';
import { TargetPicture } from '../editor/target-picture';
import { Tools } from '../editor/tools';

/** A layer on the strip, with the band of its group. */
interface Sheet {
  readonly layer: Layer;
  readonly shown: Layer;
  readonly group: string | null;
  readonly begins: boolean;
  readonly ends: boolean;
  readonly excepted: boolean;
}

/** Layers as sheets in a row: back at the left, front at the right. */
@Component({
  selector: 'ks-strip',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [CdkDrag, CdkDropList, MatButtonModule, MatIconModule, MatMenuModule, TargetPicture],
  template: `
    <span class="end">back</span>
    <ol
      cdkDropList
      cdkDropListOrientation="horizontal"
      (cdkDropListDropped)="drop($event)"
      aria-label="Layers, back to front"
    >
      @for (sheet of sheets(); track sheet.layer.id; let i = $index) {
        <li
          cdkDrag
          cdkDragLockAxis="x"
          [class.hidden]="sheet.layer.hidden"
          [class.grouped]="sheet.group !== null"
          [class.begins]="sheet.begins"
          [class.ends]="sheet.ends"
        >
          @if (sheet.begins) {
            <span class="band" [title]="sheet.group!">{{ sheet.group }}</span>
          }
          <button
            type="button"
            class="sheet"
            [class.on]="isOn(sheet.layer)"
            [attr.aria-pressed]="isOn(sheet.layer)"
            [attr.data-layer]="sheet.layer.id"
            [attr.aria-label]="describe(sheet, i)"
            (click)="choose($event, sheet.layer)"
            (keydown)="keys($event, sheet.layer, i)"
          >
            <ks-target-picture
              [design]="{ layers: [sheet.shown] }"
              [toCanvas]="middle"
              [canvas]="box"
              [garment]="ground()"
              [most]="[62, 50]"
            />
            @if (isUnset(sheet.layer)) {
              <i class="waits" title="It is set as soon as the server answers">…</i>
            }
            <span>{{ sheet.layer.name }}</span>
          </button>
          @if (sheet.excepted) {
            <i class="own" title="This target does something differently here">only here</i>
          }
          <span class="marks">
            <button
              type="button"
              class="mark"
              [class.set]="sheet.layer.locked"
              [attr.aria-label]="(sheet.layer.locked ? 'Unlock ' : 'Lock ') + sheet.layer.name"
              (click)="arranging.lock([sheet.layer.id], !sheet.layer.locked)"
            >
              <mat-icon [svgIcon]="sheet.layer.locked ? 'lock' : 'lock-open'" />
            </button>
            <button
              type="button"
              class="mark"
              [class.set]="sheet.layer.hidden"
              [attr.aria-label]="(sheet.layer.hidden ? 'Show ' : 'Hide ') + sheet.layer.name"
              (click)="arranging.hide([sheet.layer.id], !sheet.layer.hidden)"
            >
              <mat-icon [svgIcon]="sheet.layer.hidden ? 'eye-off' : 'eye'" />
            </button>
          </span>
        </li>
      }
    </ol>
    <span class="end">front</span>
    <span class="grow"></span>
    <button mat-stroked-button type="button" (click)="picture.emit()"><mat-icon svgIcon="photo-plus" /> Picture</button>
    <button mat-stroked-button type="button" (click)="maker.text()"><mat-icon svgIcon="typography" /> Lettering</button>
    <button mat-stroked-button type="button" [matMenuTriggerFor]="shapeMenu"><mat-icon svgIcon="shape" /> Shape</button>
    <mat-menu #shapeMenu yPosition="above" xPosition="before" class="shape-menu">
      @for (shape of shapes; track shape.kind) {
        <button mat-menu-item type="button" (click)="maker.shape(shape.kind)">
          <span class="shape"
            ><svg viewBox="-1 -1 26 26" width="30" height="30" aria-hidden="true">
              <path [attr.d]="sample(shape)" [attr.transform]="centre(shape)" /></svg
            >{{ shape.label }}</span
          >
        </button>
      }
    </mat-menu>
    <button mat-stroked-button type="button" aria-haspopup="dialog" (click)="pickGraphic()">
      <mat-icon svgIcon="mood" /> Graphic
    </button>
    <button
      mat-stroked-button
      type="button"
      [attr.aria-pressed]="tools.drawing()"
      [class.held]="tools.drawing()"
      (click)="draw()"
    >
      <mat-icon svgIcon="brush" /> Brush
    </button>
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 8px;
      padding: 0 14px;
      background: var(--tray);
      border-top: 1px solid var(--rule);
      min-width: 0;
    }
    .end {
      color: var(--quiet);
      font-size: 11.5px;
    }
    ol {
      display: flex;
      gap: 8px;
      list-style: none;
      margin: 0;
      padding: 10px 4px 6px;
      overflow-x: auto;
      min-width: 40px;
    }
    li {
      position: relative;
      background: var(--tray);
      border-radius: 10px;
      flex: none;
    }
    .sheet {
      position: relative;
      border: 0;
      background: none;
      padding: 3px;
      border-radius: 8px;
      cursor: grab;
      width: 76px;
      display: grid;
      justify-items: center;
      gap: 3px;
    }
    .sheet > span {
      font: 550 11.5px var(--sans);
      max-width: 72px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .on ks-target-picture {
      outline: 2.5px solid var(--plum);
      outline-offset: 2px;
      border-radius: 3px;
    }
    .hidden ks-target-picture {
      opacity: 0.35;
    }
    .grouped {
      background: var(--enamel-light);
      border-radius: 0;
      margin-left: -8px;
      padding-left: 8px;
    }
    .begins {
      border-radius: 10px 0 0 10px;
      margin-left: 0;
      padding-left: 0;
    }
    .ends {
      border-top-right-radius: 10px;
      border-bottom-right-radius: 10px;
    }
    .band {
      position: absolute;
      left: 4px;
      top: -9px;
      font: 600 9.5px var(--sans);
      color: var(--on-enamel);
      background: var(--enamel);
      border-radius: 99px;
      padding: 0 6px;
      max-width: 90px;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
      z-index: 1;
    }
    .own {
      position: absolute;
      left: 6px;
      bottom: 22px;
      font: 600 9px var(--sans);
      background: var(--plum);
      color: var(--raised);
      border-radius: 99px;
      padding: 0 5px;
    }
    .marks {
      position: absolute;
      right: 4px;
      top: 2px;
      display: flex;
      gap: 2px;
    }
    .mark {
      border: 0;
      background: var(--raised);
      border-radius: 6px;
      padding: 2px;
      cursor: pointer;
      display: flex;
      opacity: 0;
      color: var(--quiet);
    }
    .mark mat-icon {
      width: 13px;
      height: 13px;
    }
    li:hover .mark,
    .mark:focus-visible,
    .mark.set {
      opacity: 1;
    }
    .shape {
      display: grid;
      gap: 5px;
      justify-items: center;
      font-size: 12px;
    }
    .shape path {
      fill: var(--enamel);
    }
    .held {
      background: var(--enamel-light);
    }
    button[mat-stroked-button] {
      padding: 0 11px 0 14px;
      flex: none;
    }
  `,
})
export class Strip {
  protected readonly isUnset = isUnset;
  protected readonly editor = inject(Editor);
  protected readonly maker = inject(Maker);
  protected readonly arranging = inject(Arranging);
  protected readonly tools = inject(Tools);
  private readonly dialog = inject(MatDialog);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  /** Asked to put a picture in. */
  readonly picture = output<void>();
  private readonly made = new WeakMap<Layer, Layer>();
  protected readonly sheets = computed<readonly Sheet[]>(() => {
    const [layers, names, exceptions] = [
      this.editor.layers(),
      this.editor.desk.document()?.groups ?? {},
      this.editor.current()?.target.layers ?? {},
    ];
    return layers.map((layer, i) => ({
      layer,
      shown: this.alone(layer),
      group: layer.group ? (names[layer.group] ?? 'Group') : null,
      begins: Boolean(layer.group) && layers[i - 1]?.group !== layer.group,
      ends: Boolean(layer.group) && layers[i + 1]?.group !== layer.group,
      excepted: layer.id in exceptions,
    }));
  });
  protected readonly ground = computed(() => this.editor.current()?.garment ?? '#fff');
  protected readonly box = { widthMm: 62, heightMm: 50 };
  protected readonly middle: Affine = translate(31, 25);
  protected readonly shapes = SHAPES;

  protected isOn(layer: Layer): boolean {
    return this.editor.selection().includes(layer.id);
  }
  protected describe({ layer, group, excepted }: Sheet, index: number): string {
    return [
      `${layer.name}, layer ${index + 1} of ${this.sheets().length}`,
      ...(group ? [`in ${group}`] : []),
      ...(layer.hidden ? ['hidden'] : []),
      ...(layer.locked ? ['locked'] : []),
      ...(excepted ? ['different on this target'] : []),
    ].join(', ');
  }

  protected choose(event: MouseEvent, layer: Layer): void {
    // The eraser goes on with whatever is chosen; the brush with lines alone.
    this.tools.drawing.update((out) => out && (this.tools.brush().erase || layer.kind === 'freehand'));
    if (event.shiftKey || event.ctrlKey || event.metaKey) this.editor.select([layer.id], true);
    else this.editor.select([layer.id]);
  }

  /** A shape in small, for the menu. */
  protected sample({ kind, aspect }: ShapeDescription): string {
    return shapePath({ shape: kind, parameters: {} }, Math.min(24, 24 * aspect), Math.min(24, 24 / aspect));
  }
  /** Shift that puts a sample in the middle of its square. */
  protected centre({ aspect }: ShapeDescription): string {
    return `translate(${(24 - Math.min(24, 24 * aspect)) / 2} ${(24 - Math.min(24, 24 / aspect)) / 2})`;
  }

  /** A layer alone, filling its thumbnail; the same object for the same layer, so that it is drawn once. */
  private alone(layer: Layer): Layer {
    let shown = this.made.get(layer);
    if (!shown)
      this.made.set(
        layer,
        (shown = {
          ...layer,
          hidden: false,
          opacity: 1,
          blend: 'normal',
          place: { ...layer.place, turn: 0, ...fitted(layer) },
        }),
      );
    return shown;
  }

  protected draw(): void {
    const field = this.editor.desk.document()?.field ?? { width: 1, height: 1 };
    if (!this.tools.drawing())
      this.tools.change({
        hex: this.editor.freshColour({
          x: field.width / 2,
          y: field.height / 2,
          ...field,
          turn: 0,
          flipX: false,
          flipY: false,
        }),
        erase: false,
      });
    this.tools.drawing.update((drawing) => !drawing);
  }

  protected pickGraphic(): void {
    this.dialog
      .open<GraphicsDialog, unknown, Graphic>(GraphicsDialog, { width: '780px', maxWidth: '94vw' })
      .afterClosed()
      .subscribe((graphic) => {
        if (graphic) this.maker.graphic(graphic);
      });
  }

  protected drop(event: CdkDragDrop<unknown>): void {
    this.editor.edit(reorderLayer(this.sheets()[event.previousIndex].layer.id, event.currentIndex));
  }

  protected keys(event: KeyboardEvent, layer: Layer, index: number): void {
    if (event.key === 'Delete' || event.key === 'Backspace') {
      event.preventDefault();
      this.arranging.remove([layer.id]);
      return;
    }
    const step = event.key === 'ArrowLeft' ? -1 : event.key === 'ArrowRight' ? 1 : 0;
    if (!step) return;
    event.preventDefault();
    event.stopPropagation();
    const next = this.sheets()[index + step]?.layer.id;
    if (event.altKey) this.editor.edit(reorderLayer(layer.id, index + step));
    else if (event.shiftKey && next) this.editor.select([...new Set([...this.editor.selection(), layer.id, next])]);
    const to = event.altKey ? layer.id : next;
    if (to)
      queueMicrotask(() =>
        requestAnimationFrame(() =>
          this.host.nativeElement.querySelector<HTMLElement>(`[data-layer="${to}"]`)?.focus(),
        ),
      );
  }
}

function fitted({ place }: Layer): { x: number; y: number; width: number; height: number } {
  const factor = Math.min(54 / place.width, 42 / place.height);
  return { x: 0, y: 0, width: place.width * factor, height: place.height * factor };
}
