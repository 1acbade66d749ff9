import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatInputModule } from '@angular/material/input';
import { refuseRequirement } from '@kettle/contract';
import { inUnit, LENGTH_UNITS, type LengthUnit } from '@kettle/core/units';
import { demandedCanvas, type RequirementFields } from '@kettle/core/model';
import { ownSizeRequirement } from '@kettle/core/requirement';
import { startWith } from 'rxjs';
import { Preferences } from '../data/preferences';
import { TypedNumber } from '../units/typed-number';

/** A canvas of any size, typed where it is needed. */
@Component({
  selector: 'ks-own-size',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatCheckboxModule, MatFormFieldModule, MatInputModule, ReactiveFormsModule, TypedNumber],
  template: `
    <form [formGroup]="form" (ngSubmit)="take()">
      <div class="units" role="group" aria-label="Unit of the size">
        @for (unit of units; track unit) {
          <button
            type="button"
            class="chip"
            [attr.aria-pressed]="form.controls.unit.value === unit"
            (click)="measureIn(unit)"
          >
            {{ unit }}
          </button>
        }
      </div>
      <div class="row">
        <mat-form-field appearance="outline"
          ><mat-label>Width</mat-label><input matInput ksNumber="Width" formControlName="width"
        /></mat-form-field>
        <mat-form-field appearance="outline"
          ><mat-label>Height</mat-label><input matInput ksNumber="Height" formControlName="height"
        /></mat-form-field>
        <mat-form-field appearance="outline"
          ><mat-label>DPI</mat-label><input matInput ksNumber="DPI" formControlName="dpi"
        /></mat-form-field>
      </div>
      <mat-checkbox formControlName="clear">Transparent where nothing is drawn</mat-checkbox>
      <p class="quiet" role="status">{{ words() }}</p>
      <button mat-flat-button type="submit" [disabled]="refused() !== null">Use this size</button>
    </form>
  `,
  styles: `
    .units {
      display: flex;
      gap: 6px;
      margin-bottom: 12px;
    }
    .row {
      display: grid;
      grid-template-columns: 1fr 1fr 90px;
      gap: 8px;
    }
    p {
      min-height: 1.4em;
      margin: 4px 0 10px;
    }
  `,
})
export class OwnSize {
  /** The size as a requirement, once it is asked for. */
  readonly taken = output<RequirementFields>();
  protected readonly units = LENGTH_UNITS;
  protected readonly form = new FormGroup({
    unit: new FormControl<LengthUnit>(inject(Preferences).unit(), { nonNullable: true }),
    width: new FormControl<number | null>(null),
    height: new FormControl<number | null>(null),
    dpi: new FormControl<number | null>(300),
    clear: new FormControl<boolean>(true, { nonNullable: true }),
  });
  private readonly typed = toSignal(this.form.valueChanges.pipe(startWith(null), takeUntilDestroyed()));
  private readonly fields = computed(() => {
    this.typed();
    const { width, height, dpi, ...rest } = this.form.getRawValue();
    return width === null || height === null || dpi === null
      ? null
      : ownSizeRequirement({ ...rest, width, height, dpi });
  });
  /** Why it cannot be used; empty before anything was typed. */
  protected readonly refused = computed<string | null>(() => {
    const fields = this.fields();
    const wrong = Object.values(this.form.controls)
      .map((control) => (control.errors as { number?: string } | null)?.number)
      .find(Boolean);
    return wrong ?? (fields ? (Object.values(refuseRequirement(fields) ?? {})[0] ?? null) : '');
  });
  protected readonly words = computed(() => {
    const [fields, refused] = [this.fields(), this.refused()];
    if (refused !== null || !fields) return refused ?? '';
    const { widthPx, heightPx } = demandedCanvas(fields);
    return `A canvas of ${widthPx} × ${heightPx} px.`;
  });

  /** Another unit says the same size in other numbers. */
  protected measureIn(unit: LengthUnit): void {
    const { unit: from, width, height, dpi } = this.form.getRawValue();
    const same = (length: number | null) => (length === null ? null : inUnit(length, from, unit, dpi ?? 300));
    this.form.patchValue({ unit, width: same(width), height: same(height) });
  }

  protected take(): void {
    const fields = this.fields();
    if (fields && this.refused() === null) this.taken.emit(fields);
  }
}
