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
import { Settings, amount, chips, lengthOf, oneOf, row, type Setting } from '../units/settings';

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
  imports: [MatButtonModule, FindingCard, Settings],
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
      <ks-settings heading="A move reaches" [of]="reach()" />
      <ks-settings heading="Usual places" [of]="[usual]" />
      <ks-settings heading="How the print field lies on it" [of]="placed()" />
      @if (current.target.placement) {
        <p class="own">
          <span>Placed on its own.</span>
          <button mat-button type="button" (click)="back()">As the requirement has it</button>
        </p>
      }
      <ks-settings heading="Canvas" [of]="size()" />
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
    ks-settings {
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
  protected readonly reach = computed(() => {
    const { onlyHere } = this.editor;
    return [
      chips([
        { words: 'Only this target', on: onlyHere(), press: () => onlyHere.set(true) },
        { words: 'Every target', on: !onlyHere(), press: () => onlyHere.set(false) },
      ]),
    ];
  });
  protected readonly usual = chips(
    USUAL_PLACES.map(({ id, label, hint }) => ({
      words: label,
      title: hint,
      press: () => this.editor.placeUsual(id),
    })),
  );
  protected readonly placed = computed<readonly Setting[]>(() => {
    const current = this.editor.current();
    if (!current) return [];
    const { placement, canvas } = current.layout;
    const shift = (label: string, key: 'offsetX' | 'offsetY'): Setting =>
      lengthOf(label, placement[key], { dpi: canvas.dpi, set: (mm) => this.change({ [key]: mm }) });
    return [
      oneOf('Rule', RULES, placement.rule, (rule) => this.change({ rule })),
      oneOf('Where', ANCHOR_LABELS, placement.anchor, (anchor) => this.change({ anchor })),
      row(
        amount('Enlarge', Math.round(placement.scale * 1000) / 10, {
          unit: '%',
          least: 1,
          most: 10_000,
          set: (percent) => this.change({ scale: percent / 100 }),
        }),
      ),
      row(shift('Shift right', 'offsetX'), shift('Shift down', 'offsetY')),
    ];
  });
  protected readonly size = computed<readonly Setting[]>(() => {
    const canvas = this.editor.current()?.layout.canvas;
    if (!canvas) return [];
    const side = (label: string, key: 'widthPx' | 'heightPx'): Setting =>
      amount(label, canvas[key], { unit: 'px', least: 16, most: 30_000, set: (px) => this.canvas({ [key]: px }) });
    return [
      row(side('Width', 'widthPx'), side('Height', 'heightPx')),
      row(amount('Both axes', canvas.dpi, { unit: 'DPI', least: 30, most: 2400, set: (dpi) => this.canvas({ dpi }) })),
    ];
  });

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
