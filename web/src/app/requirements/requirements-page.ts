import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ReactiveFormsModule } from '@angular/forms';
import { MatAutocompleteModule } from '@angular/material/autocomplete';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatFormFieldModule } from '@angular/material/form-field';
import { MatIconModule } from '@angular/material/icon';
import { MatInputModule } from '@angular/material/input';
import { MatSelectModule } from '@angular/material/select';
import type { PressProfile } from '@kettle/contract';
import { formatBytes, formatSize, inUnit, LENGTH_UNITS, type LengthUnit } from '@kettle/core/units';
import {
  demandedCanvas,
  INTENT_WORDS,
  INTENTS,
  limitsOf,
  PRINT_PROCESSES,
  PROCESS_WORDS,
  processOf,
  type PressLimits,
  type Requirement,
  type RequirementFields,
} from '@kettle/core/model';
import { FILE_KINDS, fileKind, fileTypeFor, tiffBytes } from '@kettle/core/requirement';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { byChannel, RequirementShelf } from '../data/requirement-shelf';
import { ImportDialog, type ImportDialogData } from './import-dialog';
import { SearchField } from '../units/search-field';
import { FilePicker } from '../units/file-picker';
import { TypedNumber } from '../units/typed-number';
import { colourwayGroup, copyOf, fieldsOf, fill, requirementForm } from './requirement-form';

/** Limits that a requirement can have of its own. */
const LIMITS: readonly { readonly key: keyof PressLimits; readonly label: string; readonly unit: string }[] = [
  { key: 'lineMm', label: 'Thinnest line', unit: 'mm' },
  { key: 'letterMm', label: 'Letters', unit: 'mm' },
  { key: 'speckMm', label: 'Specks', unit: 'mm' },
  { key: 'fadeMm', label: 'Widest fade', unit: 'mm' },
  { key: 'coverage', label: 'Most ink', unit: '%' },
];

/** The requirements library: found by words, shown with their numbers, made and changed. */
@Component({
  selector: 'ks-requirements-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    SearchField,
    FilePicker,
    ReactiveFormsModule,
    MatAutocompleteModule,
    MatButtonModule,
    MatCheckboxModule,
    MatFormFieldModule,
    MatIconModule,
    MatInputModule,
    MatSelectModule,
    TypedNumber,
  ],
  templateUrl: './requirements-page.html',
  styleUrl: './requirements-page.scss',
})
export class RequirementsPage {
  /** Requirement to open, from the address. */
  readonly open = input<string>();
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly shelf = inject(RequirementShelf);
  private readonly dialog = inject(MatDialog);
  protected readonly units = LENGTH_UNITS;
  protected readonly fileKinds = FILE_KINDS;
  protected readonly processes = PRINT_PROCESSES;
  protected readonly processWords = PROCESS_WORDS;
  protected readonly intents = INTENTS;
  protected readonly intentWords = INTENT_WORDS;
  protected readonly limits = LIMITS;
  protected readonly encoded = encodeURIComponent;
  private readonly known = new Loaded(() => this.api.ask('get /api/profiles'), { of: 'Your colour profiles' });
  protected readonly profiles = computed<readonly PressProfile[]>(() => this.known.value() ?? []);
  protected readonly form = requirementForm();
  protected readonly words = signal('');
  protected readonly opened = signal<Requirement | null>(null);
  protected readonly isNew = signal(false);
  protected readonly busy = signal(false);
  private readonly value = toSignal(this.form.valueChanges, { initialValue: this.form.value });
  private readonly blanks = toSignal(inject(BlankShelf).all, { initialValue: [] });

  protected readonly groups = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    return byChannel(
      this.shelf
        .all()
        .filter((one) =>
          words.every((word) =>
            `${one.channel} ${one.name} ${one.product} ${this.demands(one)}`.toLowerCase().includes(word),
          ),
        ),
    );
  });
  protected readonly channels = computed(() => [...new Set(this.shelf.all().map((one) => one.channel))]);
  /** Those that what was typed is part of; all of them while it is one of them. */
  protected readonly foundChannels = computed(() => {
    const typed = (this.value().channel ?? '').trim().toLowerCase();
    const all = this.channels();
    return all.some((one) => one.toLowerCase() === typed)
      ? all
      : all.filter((one) => one.toLowerCase().includes(typed));
  });
  protected readonly products = computed(() => [...new Set(this.blanks().map((blank) => blank.product))].sort());
  /** The canvas that the typed numbers give, or null while they do not make sense. */
  protected readonly canvas = computed(() => {
    this.value();
    const fields = fieldsOf(this.form);
    const wrong = this.complaints();
    if (['width', 'height', 'dpi', 'unit', 'safeInsetMm'].some((key) => wrong[key])) return null;
    const canvas = demandedCanvas(fields);
    const factor = Math.min(200 / canvas.widthMm, 150 / canvas.heightMm);
    return {
      ...canvas,
      shown: { width: canvas.widthMm * factor, height: canvas.heightMm * factor, inset: fields.safeInsetMm * factor },
      printed: formatSize(canvas.widthMm, canvas.heightMm, 'mm', canvas.dpi),
      colour: fields.colourways[0]?.hex ?? '#fff',
    };
  });
  protected readonly complaints = computed<Readonly<Record<string, string>>>(() => {
    this.value();
    return (this.form.errors?.['fields'] as Record<string, string> | undefined) ?? {};
  });
  /** What keeps it from being saved: first what is no number at all, then what no file can be. */
  protected readonly firstComplaint = computed<string | null>(() => {
    this.value();
    const unread = Object.values(this.form.controls).map(({ errors }) => errors?.['number'] as string | undefined);
    return unread.find(Boolean) ?? Object.values(this.complaints())[0] ?? null;
  });

  private readonly fields = computed(() => {
    this.value();
    return fieldsOf(this.form);
  });
  protected readonly isCmyk = computed(() => this.fields().mode === 'cmyk');
  protected readonly process = computed(() => processOf({ ...this.fields(), process: undefined }));
  protected readonly takenKinds = computed(() =>
    FILE_KINDS.filter(({ type }) => this.fields().fileTypes.includes(type)),
  );
  /** The kind of file that a design with a picture is made as. */
  protected readonly made = computed(() => {
    const type = fileTypeFor(this.fields(), false) ?? fileTypeFor(this.fields(), true);
    return type && fileKind(type);
  });
  protected readonly bytesBeforehand = computed(() => {
    const [made, canvas] = [this.made(), this.canvas()];
    if (made?.type !== 'tiff' || !canvas) return '';
    const { mode, transparency, packing } = this.fields();
    const most = formatBytes(tiffBytes(canvas.widthPx, canvas.heightPx, mode, transparency !== 'forbidden'));
    return packing === 'none' ? `It will have ${most}.` : `It will have at most ${most}, mostly far less.`;
  });

  constructor() {
    this.shelf.refresh().subscribe({
      next: (all) => {
        if (!this.opened() && !this.open() && all.length) this.show(all[0]);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
    effect(() => {
      const asked = this.shelf.all().find((one) => one.id === this.open());
      if (asked) untracked(() => this.show(asked));
    });
  }

  protected demands(one: Requirement): string {
    const { widthPx, heightPx } = demandedCanvas(one);
    const clear = { required: 'transparent', allowed: 'transparency allowed', forbidden: 'flat' }[one.transparency];
    return `${widthPx} × ${heightPx} px · ${one.dpi} DPI · ${one.mode === 'grey' ? 'grey' : one.mode.toUpperCase()} · ${clear} · ${one.fileTypes.join(', ').toUpperCase()}`;
  }

  protected show(requirement: Requirement): void {
    this.opened.set(requirement);
    this.isNew.set(false);
    fill(this.form, requirement);
  }

  protected start(from: RequirementFields | null): void {
    const channel = this.opened()?.channel ?? this.channels()[0] ?? '';
    this.opened.set(null);
    this.isNew.set(true);
    if (from) fill(this.form, from);
    else {
      fill(this.form, {
        channel,
        name: '',
        product: 'T-shirt',
        width: 12,
        height: 16,
        unit: 'in',
        dpi: 300,
        mode: 'rgb',
        transparency: 'required',
        fileTypes: ['png'],
        maxBytes: 50_000_000,
        sizeRule: 'exact',
        safeInsetMm: 5,
        note: '',
        placement: { rule: 'same-size', anchor: 'top', scale: 1, offsetX: 0, offsetY: 0 },
        colourways: [{ name: 'White', hex: '#FFFFFF' }],
      });
    }
  }

  /** Another unit says the same size in other numbers. */
  protected measureIn(unit: LengthUnit): void {
    const { width, height, dpi } = this.form.getRawValue();
    const density = dpi && dpi > 0 ? dpi : (this.opened()?.dpi ?? 300);
    const same = (length: number | null) =>
      length === null ? null : inUnit(length, this.form.controls.unit.value, unit, density);
    this.form.patchValue({ unit, width: same(width), height: same(height) });
    this.form.markAsDirty();
  }

  protected copy(): void {
    const opened = this.opened();
    if (opened) this.start(copyOf(opened));
  }

  /** What the process holds where no limit of its own is typed. */
  protected usualLimit(key: keyof PressLimits): string {
    const { process, product, mode } = this.fields();
    const usual = limitsOf({ process, product, mode })[key];
    return usual === null ? 'none' : String(usual);
  }

  /** The seller's own profile that is chosen. */
  protected ownProfile(): PressProfile | null {
    return this.profiles().find(({ id }) => id === this.form.controls.profile.value) ?? null;
  }

  protected removeProfile({ id, name }: PressProfile): void {
    this.api.ask('delete /api/profiles/{id}', { id }).subscribe({
      next: () => {
        this.known.value.update((all) => (all ?? []).filter((one) => one.id !== id));
        this.form.controls.profile.setValue('');
        this.form.markAsDirty();
        this.notices.say(`“${name}” is off the list. What was made with it stays.`);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected bringProfile(file: File): void {
    this.api.ask('post /api/profiles', { body: file }).subscribe({
      next: (profile) => {
        this.known.value.update((all) => [...(all ?? []).filter((one) => one.id !== profile.id), profile]);
        this.form.controls.profile.setValue(profile.id);
        this.form.markAsDirty();
        this.notices.say(`“${profile.name}” is in.`);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** Shows what a file would change before it does. */
  protected takeIn(file: File): void {
    void file.text().then((text) =>
      this.dialog
        .open<ImportDialog, ImportDialogData, boolean>(ImportDialog, {
          width: '760px',
          maxWidth: '95vw',
          data: { filename: file.name, text },
        })
        .afterClosed()
        .subscribe((taken) => {
          if (taken) this.refresh();
        }),
    );
  }

  protected save(): void {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    const opened = this.opened();
    const fields = fieldsOf(this.form);
    // Keep what this form does not show.
    const whole = opened
      ? {
          ...fields,
          ...(opened.panel ? { panel: opened.panel } : {}),
          placement: { ...opened.placement, rule: fields.placement.rule, anchor: fields.placement.anchor },
        }
      : fields;
    this.busy.set(true);
    (opened
      ? this.api.ask('put /api/requirements/{id}', { id: opened.id, ifMatch: opened.revision, body: whole })
      : this.api.ask('post /api/requirements', { body: whole })
    ).subscribe({
      next: (saved) => {
        this.busy.set(false);
        this.show(saved);
        this.refresh();
        this.notices.say(
          opened
            ? 'Saved. Print files made under the old demands are out of date now.'
            : `“${saved.name}” is in the library.`,
        );
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.notices.complain(error);
      },
    });
  }

  protected remove(): void {
    const opened = this.opened();
    if (!opened) return;
    this.api.ask('delete /api/requirements/{id}', { id: opened.id }).subscribe({
      next: () => {
        this.opened.set(null);
        this.refresh();
        const { id: _id, revision: _revision, ...fields } = opened;
        this.notices.say(`“${opened.name}” is deleted.`, {
          label: 'Bring it back',
          run: () =>
            this.api.ask('post /api/requirements', { body: fields }).subscribe((back) => {
              this.show(back);
              this.refresh();
            }),
        });
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected addColour(): void {
    this.form.controls.colourways.push(colourwayGroup('', '#CCCCCC'));
    this.form.markAsDirty();
  }
  protected dropColour(index: number): void {
    this.form.controls.colourways.removeAt(index);
    this.form.markAsDirty();
  }

  private refresh(): void {
    this.shelf.refresh().subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }
}
