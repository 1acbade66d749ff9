import { FormArray, FormControl, FormGroup, type AbstractControl, type ValidationErrors } from '@angular/forms';
import { refuseRequirement } from '@kettle/contract';
import type {
  Anchor,
  ColourMode,
  FileType,
  LengthUnit,
  PlacementRule,
  Requirement,
  RequirementFields,
  SizeRule,
  Transparency,
} from '@kettle/core';

/** The form of a requirement, flat as it is typed. The byte limit is in MB, empty for none. */
export function requirementForm() {
  return new FormGroup(
    {
      channel: text<string>(''),
      name: text<string>(''),
      product: text<string>(''),
      width: number(12),
      height: number(16),
      unit: text<LengthUnit>('in'),
      dpi: number(300),
      mode: text<ColourMode>('rgb'),
      transparency: text<Transparency>('required'),
      fileTypes: new FormControl<FileType[]>(['png'], { nonNullable: true }),
      maxMegabytes: new FormControl<number | null>(50),
      sizeRule: text<SizeRule>('exact'),
      safeInsetMm: number(5),
      rule: text<PlacementRule>('same-size'),
      anchor: text<Anchor>('top'),
      colourways: new FormArray<ColourwayGroup>([colourwayGroup('White', '#FFFFFF')]),
      note: text<string>(''),
    },
    { validators: asDemanded },
  );
}

export type RequirementForm = ReturnType<typeof requirementForm>;
export type ColourwayGroup = FormGroup<{ name: FormControl<string>; hex: FormControl<string> }>;

function text<T extends string>(value: T) {
  return new FormControl<T>(value, { nonNullable: true });
}
function number(value: number) {
  return new FormControl<number | null>(value);
}

export const colourwayGroup = (name: string, hex: string): ColourwayGroup =>
  new FormGroup({ name: text<string>(name), hex: text<string>(hex) });

/** What the form stands for. Empty numbers become NaN, which the contract refuses with a sentence. */
export function fieldsOf(form: RequirementForm): RequirementFields {
  const { maxMegabytes, rule, anchor, width, height, dpi, safeInsetMm, colourways, ...rest } = form.getRawValue();
  return {
    ...rest,
    channel: rest.channel.trim(),
    name: rest.name.trim(),
    note: rest.note.trim(),
    colourways,
    width: width ?? NaN,
    height: height ?? NaN,
    dpi: dpi ?? NaN,
    safeInsetMm: safeInsetMm ?? NaN,
    maxBytes: maxMegabytes === null || Number.isNaN(maxMegabytes) ? null : Math.round(maxMegabytes * 1_000_000),
    placement: { rule, anchor, scale: 1, offsetX: 0, offsetY: 0 },
  };
}

export function fill(form: RequirementForm, requirement: RequirementFields): void {
  const { maxBytes, placement, colourways, ...rest } = requirement;
  form.controls.colourways.clear({ emitEvent: false });
  for (const { name, hex } of colourways)
    form.controls.colourways.push(colourwayGroup(name, hex), { emitEvent: false });
  form.patchValue({
    ...rest,
    fileTypes: [...rest.fileTypes],
    maxMegabytes: maxBytes === null ? null : maxBytes / 1_000_000,
    rule: placement.rule,
    anchor: placement.anchor,
  });
  form.markAsPristine();
  form.markAsUntouched();
}

/** The contract's own rules, one sentence a field. */
function asDemanded(control: AbstractControl): ValidationErrors | null {
  const fields = refuseRequirement(fieldsOf(control as RequirementForm));
  return fields && { fields };
}

/** Fields of a stored requirement, for a copy. */
export function copyOf({ id: _id, revision: _revision, ...fields }: Requirement): RequirementFields {
  return { ...fields, name: `${fields.name} copy` };
}
