import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { ClientPage, ClientWord, Picture, ShownAlternative } from '@kettle/contract';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { wholeSheet } from '../data/sheet-calls';
import { LOOK_MS, Loaded } from '../data/loaded';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';
import { Unsent } from '../data/unsent';
import { Settings, inThrees, pick, text, type Setting } from '../units/settings';
import { TypedValue } from '../units/typed-value';
import { SideList } from '../parts/side-list';
import { Standing, type StandsAs } from '../parts/standing';

const WHAT: Readonly<Record<ClientWord['kind'], string>> = {
  comment: 'said',
  change: 'asked for a change',
  approval: 'said yes',
  answer: 'answered',
};

/** What is typed of a new page before it is made. */
interface Draft {
  readonly seller: string;
  readonly client: string;
  readonly note: string;
  /** Empty for a page that stays open. */
  readonly days: string;
  readonly passPhrase: string;
  /** Id of the clip of this design that is shown; empty for none. */
  readonly clip: string;
  /** Designs that are shown as alternatives beside this one. */
  readonly others: readonly string[];
}
const START: Draft = { seller: '', client: '', note: '', days: '30', passPhrase: '', clip: '', others: [] };

/** Pages on which clients look at the design, say what they think and say yes: made, shown anew, answered, closed. */
@Component({
  selector: 'ks-client-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SideList, Standing, DatePipe, MatButtonModule, MatIconModule, RouterLink, Settings, TypedValue],
  templateUrl: './client-desk.html',
  styleUrl: './client-desk.scss',
})
export class ClientDesk {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly desk = inject(Editor).desk;
  protected readonly what = WHAT;
  protected readonly pages = new Loaded<readonly ClientPage[]>(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/client-pages', { id }) : null;
    },
    { every: LOOK_MS },
  );
  private readonly chosen = signal<string | null | undefined>(undefined);
  private readonly unsent = inject(Unsent);
  private readonly typed = this.unsent.of<Partial<Draft>>(`client page ${this.desk.id()}`, {});
  protected readonly reply = this.unsent.of(`answer to a client ${this.desk.id()}`, '');
  protected readonly note = this.unsent.of(`what is new ${this.desk.id()}`, '');
  protected readonly page = computed<ClientPage | null>(() => {
    const [all, chosen] = [this.pages.value() ?? [], this.chosen()];
    if (chosen === null) return null;
    return all.find(({ id }) => id === chosen) ?? all[0] ?? null;
  });
  protected readonly draft = computed<Draft>(() => ({
    ...START,
    // Whoever made a page before need not say again in whose name.
    seller: this.pages.value()?.[0]?.seller ?? '',
    ...this.typed(),
  }));
  protected readonly days = computed(() => {
    const { days } = this.draft();
    if (!days.trim()) return null;
    const whole = Number(days);
    return Number.isInteger(whole) && whole > 0 && whole <= 3650 ? whole : undefined;
  });
  protected readonly wrong = computed(() => {
    const { passPhrase, days } = this.draft();
    if (this.days() === undefined)
      return `“${days}” is not a number of days from 1 to 3650. Leave it empty for no end.`;
    return passPhrase && passPhrase.length < 6 ? 'A pass phrase has at least 6 letters.' : '';
  });
  /** Clips of this design that are as it is now, the newest first. */
  private readonly files = new Loaded(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/clips', { id }) : null;
    },
    { of: 'The clips of this design' },
  );
  protected readonly clips = computed(() => (this.files.value() ?? []).filter(({ outOfDate }) => !outOfDate));
  /** Pictures of this design that can be shown; null until it is known, and when it could not be asked. */
  private readonly pictures = new Loaded<readonly Picture[]>(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/pictures', { id }) : null;
    },
    { every: LOOK_MS },
  );
  /** True when a page would have nothing to show: said before anything is typed for it. */
  protected readonly nothingToShow = computed(
    () => this.pictures.value()?.every(({ outOfDate }) => outOfDate) ?? false,
  );
  /** Other designs by their ids; null until they are asked for. */
  protected readonly names = signal<ReadonlyMap<string, string> | null>(null);
  /** Those that can be shown beside this one and are not yet. */
  protected readonly others = computed(() => {
    const chosen = this.draft().others;
    return [...(this.names() ?? [])].filter(([id]) => id !== this.desk.id() && !chosen.includes(id));
  });

  constructor() {
    // Designs that were selected together on the job sheet are shown together.
    const route = inject(ActivatedRoute);
    const beside = route.snapshot.queryParamMap.get('beside')?.split(',').filter(Boolean) ?? [];
    if (beside.length) {
      // Said once: who comes back to this desk finds what was made.
      void inject(Router).navigate([], {
        relativeTo: route,
        queryParams: { beside: null },
        queryParamsHandling: 'merge',
        replaceUrl: true,
      });
      this.chosen.set(null);
      this.type({ others: beside });
      this.askForOthers();
    }
    // What is on the screen was read.
    effect(() => {
      const page = this.page();
      if (page?.words.some(({ seen }) => !seen))
        untracked(() => this.pages.change(this.api.ask('post /api/client-pages/{id}/seen', { id: page.id })));
    });
  }

  private unseen = ({ words }: ClientPage): number => words.filter(({ seen }) => !seen).length;

  protected readonly entries = computed(() =>
    this.pages.value()?.map((one) => {
      const unseen = this.unseen(one);
      return { id: one.id, name: one.client, standing: this.stateOf(one), note: unseen ? `${unseen} new` : '' };
    }),
  );

  protected stateOf(page: ClientPage): StandsAs {
    if (page.approval)
      return page.changedSince
        ? { words: 'said yes, changed since', icon: 'alert-triangle', mark: 'refused' }
        : { words: 'said yes', icon: 'check', mark: 'live' };
    if (page.words.findLast(({ kind }) => kind === 'change')?.round === page.rounds.at(-1)!.round)
      return { words: 'wants a change', icon: 'exclamation-mark', mark: 'refused' };
    return page.open
      ? { words: 'waits for an answer', icon: 'clock', mark: 'waiting' }
      : { words: page.withdrawnAt ? 'closed' : 'over', icon: 'minus', mark: 'waiting' };
  }

  /** The whole address, as it is handed to the client. */
  protected linkOf = ({ path }: ClientPage): string => `${location.origin}${path}`;

  protected async copy(page: ClientPage): Promise<void> {
    try {
      await navigator.clipboard.writeText(this.linkOf(page));
      this.notices.say('The link is copied. Whoever has it sees the page.');
    } catch {
      this.notices.say('The browser does not let the link be copied. Mark it and copy it by hand.');
    }
  }

  protected pinsOf(page: ClientPage, alternative: number, picture: number): readonly ClientWord[] {
    const { round } = page.rounds.at(-1)!;
    return page.words.filter(
      (word) => word.round === round && word.alternative === alternative && word.pin?.picture === picture,
    );
  }

  protected shown = (page: ClientPage): readonly ShownAlternative[] => page.rounds.at(-1)!.alternatives;

  protected fileOf = (page: ClientPage, sha256: string): string => `${page.path}/files/${sha256}`;

  protected choose(id: string | null): void {
    this.chosen.set(id);
  }

  protected readonly fields = computed<readonly Setting[]>(() => {
    const draft = this.draft();
    /** What is typed or chosen for a field. */
    const typed = (key: keyof Draft) => ({ live: true, set: (value: string) => this.type({ [key]: value }) });
    return [
      ...inThrees([
        text('In whose name', draft.seller, { most: 80, ...typed('seller') }),
        text('For whom', draft.client, { most: 80, ...typed('client') }),
        text('Open for so many days', draft.days, { mode: 'numeric', ...typed('days') }),
        text('Pass phrase, if you wish', draft.passPhrase, { most: 100, ...typed('passPhrase') }),
        ...(this.clips().length
          ? [
              pick('Clip', draft.clip, {
                of: [{ id: '', words: 'none' }, ...this.clips().map(({ id, filename }) => ({ id, words: filename }))],
                ...typed('clip'),
              }),
            ]
          : []),
      ]),
      text('What you say to them', draft.note, { most: 1000, rows: 3, ...typed('note') }),
    ];
  });

  private type(change: Partial<Draft>): void {
    this.typed.update((before) => ({ ...before, ...change }));
  }

  protected askForOthers(): void {
    wholeSheet(this.api).subscribe({
      next: ({ rows }) => this.names.set(new Map(rows.map(({ designId, name }) => [designId, name]))),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected putBeside(field: HTMLSelectElement): void {
    const { value } = field;
    field.value = '';
    if (value) this.type({ others: [...this.draft().others, value] });
  }

  protected takeAway(id: string): void {
    this.type({ others: this.draft().others.filter((one) => one !== id) });
  }

  protected add(): void {
    const [id, draft, days] = [this.desk.id(), this.draft(), this.days()];
    if (!id || days === undefined || this.wrong()) return;
    const { seller, client, note, passPhrase, clip, others } = draft;
    const alternatives = [id, ...others].map((designId) => ({
      designId,
      pictures: [],
      clip: designId === id && clip ? clip : null,
    }));
    this.pages.change(
      this.api.ask('post /api/designs/{id}/client-pages', {
        id,
        body: { seller, client, note, days, passPhrase, alternatives },
      }),
      (made) => {
        this.typed.set({});
        this.chosen.set(made.id);
      },
    );
  }

  /** Shows the designs of the last round as they are now. */
  protected showAgain(page: ClientPage): void {
    const alternatives = this.shown(page).map(({ designId, clip }) => ({
      designId,
      pictures: [],
      // Where there was a clip of this design, there is the newest of it.
      clip: clip && designId === this.desk.id() ? (this.clips()[0]?.id ?? null) : null,
    }));
    this.pages.change(
      this.api.ask('post /api/client-pages/{id}/rounds', { id: page.id, body: { note: this.note(), alternatives } }),
      () => this.note.set(''),
    );
  }

  protected answer({ id }: ClientPage): void {
    const text = this.reply().trim();
    if (text)
      this.pages.change(
        this.api.ask('post /api/client-pages/{id}/answers', { id, body: { text, form: newId('a') } }),
        () => this.reply.set(''),
      );
  }

  protected withdraw({ id }: ClientPage): void {
    this.pages.change(this.api.ask('post /api/client-pages/{id}/withdraw', { id }));
  }
}
