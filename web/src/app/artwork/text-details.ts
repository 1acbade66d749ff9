import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject, input, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatMenuModule } from '@angular/material/menu';
import { MatSliderModule } from '@angular/material/slider';
import type { FontEntry } from '@kettle/contract';
import { changeText, EM_MM, MAX_LETTERS, placeLayer, type LetterAlign, type LetteringSettings, type TextLayer } from '@kettle/core';
import { EMPTY, Subject, catchError, debounceTime, switchMap } from 'rxjs';
import { Bench } from '../bench/bench';
import { Api } from '../data/api';
import { FontShelf } from '../data/font-shelf';
import { Notices } from '../data/notices';
import { LengthField } from '../units/length-field';
import { NumberField } from '../units/number-field';

type Setting = Pick<TextLayer, 'text' | 'fontId' | 'settings'>;

const ALIGNS: readonly { id: LetterAlign; label: string }[] = [{ id: 'left', label: 'Left' }, { id: 'middle', label: 'Middle' }, { id: 'right', label: 'Right' }];

/** Text, face and setting of lettering. Every change is set anew by the server and comes back as outlines. */
@Component({
  selector: 'ks-text-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatMenuModule, MatSliderModule, LengthField, NumberField],
  template: `
    <label class="text">Text<textarea #box rows="2" [maxLength]="most" [value]="layer().text" (input)="set({ text: box.value })"></textarea></label>
    @if (missing().length) {
      <p class="missing" role="alert">{{ name() }} has no {{ missing().join(' ') }}. @for (font of instead(); track font.id) { <button type="button" class="chip" (click)="set({ fontId: font.id })">Use {{ font.name }}</button> }</p>
    }
    <span class="label" id="face-label">Face</span>
    <button type="button" class="face" aria-labelledby="face-label face-name" [matMenuTriggerFor]="faces" (menuOpened)="words.set('')"><span id="face-name" [style.font-family]="fonts.family(layer().fontId)">{{ name() }}</span></button>
    <mat-menu #faces class="face-menu">
      <div class="menu-search" (click)="$event.stopPropagation()" (keydown)="$event.key !== 'Escape' && $event.key !== 'ArrowDown' && $event.stopPropagation()">
        <input #search type="search" placeholder="slab, script, Arabic …" aria-label="Search faces" [value]="words()" (input)="words.set(search.value)">
      </div>
      @for (font of found(); track font.id) {
        <button mat-menu-item type="button" (click)="set({ fontId: font.id })"><span class="sample"><span [style.font-family]="fonts.family(font.id)">{{ font.name }}</span><small>{{ font.category }}{{ font.script === 'Latin' ? '' : ', ' + font.script }}</small></span></button>
      } @empty { <span class="menu-group quiet">No face has these words.</span> }
    </mat-menu>
    <div class="pair">
      <ks-length-field label="Letter size" [mm]="size()" [positive]="true" (changed)="resize($event)" />
      <ks-number-field label="Letter spacing" unit="%" [least]="-50" [most]="300" [value]="layer().settings.spacing" (changed)="settings({ spacing: $event })" />
      <ks-number-field label="Line spacing" unit="%" [least]="30" [most]="400" [value]="layer().settings.lineSpacing" (changed)="settings({ lineSpacing: $event })" />
      <ks-number-field label="Bend" unit="°" [least]="-350" [most]="350" [value]="layer().settings.bend" (changed)="settings({ bend: $event })" />
    </div>
    <mat-slider class="bend" min="-350" max="350" step="5"><input matSliderThumb aria-label="Bend" [value]="layer().settings.bend" (valueChange)="settings({ bend: $event })"></mat-slider>
    <div class="chips" role="group" aria-label="Alignment">
      @for (align of aligns; track align.id) { <button type="button" class="chip" [attr.aria-pressed]="layer().settings.align === align.id" (click)="settings({ align: align.id })">{{ align.label }}</button> }
      <button type="button" class="chip" (click)="set({ text: layer().text.toLocaleUpperCase() })">UPPER CASE</button>
    </div>
  `,
  styles: `
    :host { display: block; margin-bottom: 12px; } .text, .label { display: block; font-size: 12px; font-weight: 550; color: var(--quiet); } .text { margin-bottom: 8px; }
    textarea { display: block; width: 100%; margin-top: 3px; border: 1px solid var(--rule); border-radius: 9px; padding: 7px 10px; font: 500 13.5px/1.35 var(--sans); background: var(--paper); color: var(--ink); resize: vertical; }
    .face { width: 100%; text-align: left; border: 1px solid var(--rule); border-radius: 9px; background: var(--paper); padding: 5px 10px; margin: 3px 0 10px; cursor: pointer; font-size: 18px; line-height: 1.3; white-space: nowrap; overflow: hidden; }
    .missing { background: var(--stale-ground); border-radius: 10px; padding: 7px 10px; margin: 0 0 8px; font-size: 12.5px; } .pair { margin-bottom: 4px; align-items: end; } .bend { width: calc(100% - 16px); }
    .menu-search { padding: 4px 12px 8px; } .menu-search input { width: 100%; border: 1px solid var(--rule); border-radius: 8px; padding: 6px 10px; font: 13px var(--sans); background: var(--paper); color: var(--ink); } .menu-group { display: block; padding: 6px 16px; }
    .sample { display: flex; justify-content: space-between; gap: 18px; align-items: baseline; width: 100%; font-size: 19px; line-height: 1.3; }
  `,
})
export class TextDetails {
  readonly layer = input.required<TextLayer>();
  private readonly bench = inject(Bench);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly fonts = inject(FontShelf);
  protected readonly most = MAX_LETTERS;
  protected readonly aligns = ALIGNS;
  protected readonly words = signal('');
  protected readonly missing = signal<readonly string[]>([]);
  protected readonly instead = signal<readonly FontEntry[]>([]);
  private readonly wanted = new Subject<{ id: string; setting: Setting }>();
  /** What was typed but not set yet, so that quick changes add up. */
  private pending: { id: string; setting: Setting } | null = null;

  protected readonly name = computed(() => this.fonts.all().find((font) => font.id === this.layer().fontId)?.name ?? this.layer().fontId);
  protected readonly found = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    return this.fonts.all().filter((font) => words.every((word) => `${font.name} ${font.category} ${font.script}`.toLowerCase().includes(word)));
  });
  /** Size of the em as printed on the chosen target, mm. */
  protected readonly size = computed(() => ((this.layer().place.width / this.layer().outlines.width) * EM_MM) * (this.bench.current()?.layout.factor ?? 1));

  constructor() {
    this.wanted.pipe(
      debounceTime(90),
      switchMap(({ id, setting }) => this.api.setText(setting).pipe(switchMap((answer) => {
        this.missing.set(answer.missing);
        this.instead.set(answer.instead);
        // What could not be set is kept in mind: another face may have the letters.
        if (!answer.outlines) return EMPTY;
        this.pending = null;
        this.bench.desk.edit(changeText(id, setting, answer.outlines), `text ${id}`);
        return EMPTY;
      }), catchError((error: unknown) => { this.notices.complain(error); return EMPTY; }))),
      takeUntilDestroyed(inject(DestroyRef)),
    ).subscribe();
  }

  protected set(change: Partial<Setting>): void {
    const { id, text, fontId, settings } = this.layer();
    const before = this.pending?.id === id ? this.pending.setting : { text, fontId, settings };
    this.pending = { id, setting: { ...before, ...change } };
    this.wanted.next(this.pending);
  }

  protected settings(change: Partial<LetteringSettings>): void { this.set({ settings: { ...(this.pending?.id === this.layer().id ? this.pending.setting.settings : this.layer().settings), ...change } }); }

  protected resize(mm: number): void {
    const { id, place } = this.layer();
    const factor = mm / this.size();
    this.bench.desk.edit(placeLayer(id, { width: place.width * factor, height: place.height * factor }));
  }
}
