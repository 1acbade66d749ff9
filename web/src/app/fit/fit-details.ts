import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { formatSize } from '@kettle/core/units';
import {
  demandedCanvas,
  demandedSizeWords,
  type Anchor,
  type CanvasOverride,
  type PlacementRule,
  type TargetPlacement,
} from '@kettle/core/model';
import { changeTarget, USUAL_PLACES } from '@kettle/core/document';
import { Mending } from '../checks/mending';
import { Editor } from '../editor/editor';
import { FindingCard } from '../checks/finding-card';
import { Preferences } from '../data/preferences';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';

const RULES: readonly { id: PlacementRule; label: string; hint: string }[] = [
  { id: 'same-size', label: 'True size', hint: 'Printed as large as on every other target' },
  { id: 'fit', label: 'Fit', hint: 'The whole print field is shown' },
  { id: 'cover', label: 'Cover', hint: 'No edge of the canvas stays bare' },
];
const ANCHOR_LABELS: readonly { id: Anchor; label: string }[] = [
  { id: 'top', label: 'Top' },
  { id: 'centre', label: 'Centre' },
  { id: 'bottom', label: 'Bottom' },
];

/** How the design lies on the chosen target: rule, exceptions, canvas. */
@Component({
  selector: 'ks-fit-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, FindingCard, LengthField, NumberField],
  template: `
    @if (editor.current(); as current) {
      <div class="panel-title">
        <h3>{{ current.requirement.name }}</h3>
        <small>{{ current.requirement.channel }}</small>
      </div>
      @for (finding of findings(); track $index) {
        <ks-finding-card
          [finding]="finding"
          (pointed)="editor.pointedAt.set($event)"
          (mended)="mending.mend($event, current)"
        />
      }
      <p class="demand">
        <b>{{ demanded() }}</b> at {{ current.requirement.dpi }} DPI, {{ printed() }}. {{ current.requirement.note }}
      </p>
      <fieldset>
        <legend>A move reaches</legend>
        <div class="chips">
          <button
            type="button"
            class="chip"
            [attr.aria-pressed]="editor.onlyHere()"
            (click)="editor.onlyHere.set(true)"
          >
            Only this target</button
          ><button
            type="button"
            class="chip"
            [attr.aria-pressed]="!editor.onlyHere()"
            (click)="editor.onlyHere.set(false)"
          >
            Every target
          </button>
        </div>
      </fieldset>
      <fieldset>
        <legend>Usual places</legend>
        <div class="chips">
          @for (place of places; track place.id) {
            <button type="button" class="chip" [title]="place.hint" (click)="editor.placeUsual(place.id)">
              {{ place.label }}
            </button>
          }
        </div>
      </fieldset>
      <fieldset>
        <legend>How the print field lies on it</legend>
        <div class="chips">
          @for (rule of rules; track rule.id) {
            <button
              type="button"
              class="chip"
              [title]="rule.hint"
              [attr.aria-pressed]="current.layout.placement.rule === rule.id"
              (click)="change({ rule: rule.id })"
            >
              {{ rule.label }}
            </button>
          }
        </div>
        <div class="chips">
          @for (anchor of anchors; track anchor.id) {
            <button
              type="button"
              class="chip"
              [attr.aria-pressed]="current.layout.placement.anchor === anchor.id"
              (click)="change({ anchor: anchor.id })"
            >
              {{ anchor.label }}
            </button>
          }
        </div>
      </fieldset>
      <div class="pair">
        <ks-number-field
          label="Enlarge"
          unit="%"
          [value]="percent()"
          [least]="1"
          [most]="10000"
          (changed)="change({ scale: $event / 100 })"
        />
        <span></span>
        <ks-length-field
          label="Shift right"
          [mm]="current.layout.placement.offsetX"
          [dpi]="current.layout.canvas.dpi"
          (changed)="change({ offsetX: $event })"
        />
        <ks-length-field
          label="Shift down"
          [mm]="current.layout.placement.offsetY"
          [dpi]="current.layout.canvas.dpi"
          (changed)="change({ offsetY: $event })"
        />
      </div>
      @if (current.target.placement) {
        <p class="own">
          <span>Placed on its own.</span>
          <button mat-button type="button" (click)="back()">As the requirement has it</button>
        </p>
      }
      <fieldset>
        <legend>Canvas</legend>
        <div class="pair">
          <ks-number-field
            label="Width"
            unit="px"
            [value]="current.layout.canvas.widthPx"
            [least]="16"
            [most]="30000"
            (changed)="canvas({ widthPx: $event })"
          />
          <ks-number-field
            label="Height"
            unit="px"
            [value]="current.layout.canvas.heightPx"
            [least]="16"
            [most]="30000"
            (changed)="canvas({ heightPx: $event })"
          />
          <ks-number-field
            label="Both axes"
            unit="DPI"
            [value]="current.layout.canvas.dpi"
            [least]="30"
            [most]="2400"
            (changed)="canvas({ dpi: $event })"
          />
        </div>
      </fieldset>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .demand {
      font-size: 12.5px;
      color: var(--quiet);
      margin: 0 0 12px;
    }
    .demand b {
      color: var(--ink);
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 12px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 6px;
    }
    .chips + .chips {
      margin-top: 6px;
    }
    .pair {
      margin-bottom: 12px;
    }
    .own {
      display: flex;
      align-items: center;
      justify-content: space-between;
      color: var(--plum);
      font-size: 12px;
      margin: 0 0 10px;
    }
  `,
})
export class FitDetails {
  protected readonly editor = inject(Editor);
  protected readonly mending = inject(Mending);
  private readonly preferences = inject(Preferences);
  protected readonly places = USUAL_PLACES;
  protected readonly rules = RULES;
  protected readonly anchors = ANCHOR_LABELS;
  protected readonly findings = computed(
    () => this.editor.current()?.findings.filter((finding) => finding.severity !== 'tells') ?? [],
  );
  protected readonly demanded = computed(() => {
    const current = this.editor.current();
    return current ? demandedSizeWords(current.requirement) : '';
  });
  protected readonly printed = computed(() => {
    const current = this.editor.current();
    if (!current) return '';
    const { widthMm, heightMm, dpi } = current.layout.canvas;
    const unit = this.preferences.unit() === 'px' ? 'mm' : this.preferences.unit();
    return `printed ${formatSize(widthMm, heightMm, unit, dpi)}`;
  });
  protected readonly percent = computed(
    () => Math.round((this.editor.current()?.layout.placement.scale ?? 1) * 1000) / 10,
  );

  protected change(change: Partial<TargetPlacement>): void {
    const current = this.editor.current();
    if (current)
      this.editor.desk.edit(
        changeTarget(current.requirement.id, { placement: { ...current.layout.placement, ...change } }),
      );
  }

  protected back(): void {
    const current = this.editor.current();
    if (current) this.editor.desk.edit(changeTarget(current.requirement.id, { placement: undefined }));
  }

  protected canvas(change: Partial<CanvasOverride>): void {
    const current = this.editor.current();
    if (!current) return;
    const { widthPx, heightPx, dpi } = { ...current.layout.canvas, ...change };
    const demanded = demandedCanvas(current.requirement);
    const own = widthPx !== demanded.widthPx || heightPx !== demanded.heightPx || dpi !== demanded.dpi;
    this.editor.desk.edit(
      changeTarget(current.requirement.id, {
        canvas: own ? { widthPx: Math.round(widthPx), heightPx: Math.round(heightPx), dpi } : undefined,
      }),
    );
  }
}
