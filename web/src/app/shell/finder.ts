import { ChangeDetectionStrategy, Component, ElementRef, computed, inject, signal, viewChild } from '@angular/core';
import { MatAutocompleteModule, type MatAutocompleteSelectedEvent } from '@angular/material/autocomplete';
import { MatIconModule } from '@angular/material/icon';
import { Router } from '@angular/router';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { wholeSheet } from '../data/sheet-calls';

interface Place {
  readonly label: string;
  readonly kind: string;
  readonly link: readonly string[];
}

/** Finds a design or a requirement by name from anywhere. The slash key goes to it. */
@Component({
  selector: 'ks-finder',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatAutocompleteModule, MatIconModule],
  template: `
    <label class="find">
      <mat-icon svgIcon="search" aria-hidden="true" />
      <input
        #box
        type="search"
        placeholder="Find a design or requirement"
        aria-label="Find a design or requirement"
        [value]="words()"
        [matAutocomplete]="list"
        (input)="words.set(box.value)"
        (focus)="load()"
      />
      <kbd aria-hidden="true">/</kbd>
    </label>
    <mat-autocomplete #list (optionSelected)="go($event)" [hideSingleSelectionIndicator]="true">
      @for (place of found(); track place.link.join('/')) {
        <mat-option [value]="place"
          ><b>{{ place.label }}</b> <small>{{ place.kind }}</small></mat-option
        >
      }
    </mat-autocomplete>
  `,
  styles: `
    .find {
      display: flex;
      align-items: center;
      gap: 8px;
      border: 1px solid var(--rule);
      background: var(--raised);
      border-radius: 99px;
      padding: 6px 12px;
      color: var(--quiet);
      width: 100%;
      box-sizing: border-box;
    }
    .find:focus-within {
      outline: 2.5px solid var(--plum);
    }
    input {
      flex: 1;
      min-width: 0;
      border: 0;
      background: none;
      outline: none;
      font: 13px var(--sans);
      color: var(--ink);
    }
    input::placeholder {
      color: var(--quiet);
    }
    input::-webkit-search-cancel-button {
      display: none;
    }
  `,
  host: { '(document:keydown)': 'slash($event)' },
})
export class Finder {
  private readonly api = inject(Api);
  private readonly router = inject(Router);
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');
  /** True from the first time that somebody looks for something. */
  private readonly isWanted = signal(false);
  private readonly sheet = new Loaded(() => (this.isWanted() ? wholeSheet(this.api) : null), {
    of: 'What can be looked for',
  });
  private readonly places = computed<readonly Place[]>(() => {
    const { rows = [], requirements = [] } = this.sheet.value() ?? {};
    return [
      ...rows.map((row): Place => ({
        label: row.name,
        kind: 'design',
        link: ['/designs', row.designId, 'artwork'],
      })),
      ...requirements.map((one): Place => ({
        label: one.name,
        kind: one.channel,
        link: ['/requirements', one.id],
      })),
    ];
  });
  protected readonly words = signal('');
  protected readonly found = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    return this.places()
      .filter((place) => words.every((word) => `${place.label} ${place.kind}`.toLowerCase().includes(word)))
      .slice(0, 12);
  });

  protected load(): void {
    if (this.isWanted()) this.sheet.again();
    this.isWanted.set(true);
  }

  protected go(event: MatAutocompleteSelectedEvent): void {
    const { link } = event.option.value as Place;
    this.words.set('');
    this.box().nativeElement.value = '';
    // The list gives the focus back to the field once it has closed; what was found has it after that.
    void (
      link[0] === '/requirements'
        ? this.router.navigate([link[0]], { queryParams: { open: link[1] } })
        : this.router.navigate([...link])
    ).then(() => setTimeout(() => document.getElementById('main')?.focus()));
  }

  protected slash(event: KeyboardEvent): void {
    if (event.key !== '/' || event.ctrlKey || event.metaKey || isTyping(event.target)) return;
    event.preventDefault();
    this.box().nativeElement.focus();
  }
}

/** True while a field has the keys. */
export const isTyping = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));
