import { FormArray, FormControl, FormGroup, type AbstractControl, type ValidationErrors } from '@angular/forms';
import { refuseRequirement } from '@kettle/contract';
import { USUAL_CONVERSION } from '@kettle/core/model';
import type { LengthUnit } from '@kettle/core/units';
import type {
  Anchor,
  ColourMode,
  FileType,
  Intent,
  PlacementRule,
  PressLimits,
  PrintProcess,
  Requirement,
  RequirementFields,
  SizeRule,
  TiffPacking,
  Transparency,
} from '@kettle/core/model';

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
      preferred: text<FileType | ''>(''),
      packing: text<TiffPacking>('lzw'),
      ground: text<string>('#ffffff'),
      process: text<PrintProcess | ''>(''),
      bleedMm: number(0),
      mirrored: new FormControl<boolean>(false, { nonNullable: true }),
      profile: text<string>(''),
      intent: text<Intent>('relative'),
      blackPoint: new FormControl<boolean>(true, { nonNullable: true }),
      lineMm: number(null),
      letterMm: number(null),
      speckMm: number(null),
      fadeMm: number(null),
      coverage: number(null),
    },
    { validators: asDemanded },
  );
}

export type RequirementForm = ReturnType<typeof requirementForm>;
export type ColourwayGroup = FormGroup<{ name: FormControl<string>; hex: FormControl<string> }>;

function text<T extends string>(value: T) {
  return new FormControl<T>(value, { nonNullable: true });
}
function number(value: number | null) {
  return new FormControl<number | null>(value);
}

export const colourwayGroup = (name: string, hex: string): ColourwayGroup =>
  new FormGroup({ name: text<string>(name), hex: text<string>(hex) });

/** What the form stands for. Empty numbers become NaN, which the contract refuses with a sentence. */
export function fieldsOf(form: RequirementForm): RequirementFields {
  const {
    maxMegabytes,
    rule,
    anchor,
    width,
    height,
    dpi,
    safeInsetMm,
    colourways,
    preferred,
    packing,
    ground,
    process,
    bleedMm,
    mirrored,
    profile,
    intent,
    blackPoint,
    lineMm,
    letterMm,
    speckMm,
    fadeMm,
    coverage,
    ...rest
  } = form.getRawValue();
  const limits = ownLimits({ lineMm, letterMm, speckMm, fadeMm, coverage });
  return {
    ...rest,
    ...(preferred ? { preferred } : {}),
    ...(packing === 'lzw' ? {} : { packing }),
    ...(/^#fff(fff)?$/i.test(ground) ? {} : { ground }),
    ...(process ? { process } : {}),
    ...(bleedMm ? { bleedMm } : {}),
    ...(mirrored ? { mirrored } : {}),
    ...(rest.mode === 'cmyk' ? { conversion: { profile: profile || null, intent, blackPoint } } : {}),
    ...(Object.keys(limits).length ? { limits } : {}),
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

/** Limits that were typed. An empty field leaves what the process holds. */
const ownLimits = (typed: Readonly<Record<keyof PressLimits, number | null>>): Partial<PressLimits> =>
  Object.fromEntries(Object.entries(typed).filter(([, value]) => value !== null && !Number.isNaN(value)));

export function fill(form: RequirementForm, requirement: RequirementFields): void {
  const { maxBytes, placement, colourways, conversion, limits, ...rest } = requirement;
  form.controls.colourways.clear({ emitEvent: false });
  for (const { name, hex } of colourways)
    form.controls.colourways.push(colourwayGroup(name, hex), { emitEvent: false });
  form.patchValue({
    preferred: '',
    packing: 'lzw',
    ground: '#ffffff',
    process: '',
    bleedMm: 0,
    mirrored: false,
    ...rest,
    profile: conversion?.profile ?? '',
    intent: conversion?.intent ?? USUAL_CONVERSION.intent,
    blackPoint: conversion?.blackPoint ?? USUAL_CONVERSION.blackPoint,
    lineMm: limits?.lineMm ?? null,
    letterMm: limits?.letterMm ?? null,
    speckMm: limits?.speckMm ?? null,
    fadeMm: limits?.fadeMm ?? null,
    coverage: limits?.coverage ?? null,
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
