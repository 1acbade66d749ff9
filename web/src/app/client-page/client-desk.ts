import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { ClientPage, ClientWord, ShownAlternative } from '@kettle/contract';
import { catchError, map, of } from 'rxjs';
import { Bench } from '../bench/bench';
import { Api } from '../data/api';
import { Looked } from '../data/looked';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';
import { OutsideApi } from '../data/outside-api';
import { TypedValue } from '../units/typed-value';

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
  /** Designs that are shown as alternatives beside this one. */
  readonly others: readonly string[];
}
const START: Draft = { seller: '', client: '', note: '', days: '30', passPhrase: '', others: [] };

/** Pages on which clients look at the design, say what they think and say yes: made, shown anew, answered, closed. */
@Component({
  selector: 'ks-client-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DatePipe, MatButtonModule, MatIconModule, TypedValue],
  templateUrl: './client-desk.html',
  styleUrl: './client-desk.scss',
})
export class ClientDesk {
  private readonly api = inject(OutsideApi);
  private readonly notices = inject(Notices);
  protected readonly desk = inject(Bench).desk;
  protected readonly what = WHAT;
  protected readonly pages = new Looked<ClientPage[]>(() => {
    const id = this.desk.id();
    return id ? this.api.clientPages(id) : null;
  });
  private readonly chosen = signal<string | null | undefined>(undefined);
  private readonly typed = signal<Partial<Draft>>({});
  protected readonly reply = signal('');
  protected readonly note = signal('');
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
  /** Other designs that can be shown beside this one. */
  protected readonly others = toSignal(
    inject(Api)
      .listings()
      .pipe(
        map((kept) => kept.filter(({ designId }) => designId !== this.desk.id())),
        catchError(() => of([])),
      ),
    { initialValue: [] },
  );

  constructor() {
    // What is on the screen was read.
    effect(() => {
      const page = this.page();
      if (page?.words.some(({ seen }) => !seen)) untracked(() => this.pages.change(this.api.seenClient(page.id)));
    });
  }

  protected unseen = ({ words }: ClientPage): number => words.filter(({ seen }) => !seen).length;

  protected stateOf(page: ClientPage): { readonly words: string; readonly icon: string; readonly mark: string } {
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
    this.reply.set('');
    this.note.set('');
  }

  protected type(change: Partial<Draft>): void {
    this.typed.update((before) => ({ ...before, ...change }));
  }

  protected toggleOther(id: string): void {
    const { others } = this.draft();
    this.type({ others: others.includes(id) ? others.filter((one) => one !== id) : [...others, id] });
  }

  protected add(): void {
    const [id, draft, days] = [this.desk.id(), this.draft(), this.days()];
    if (!id || days === undefined || this.wrong()) return;
    const { seller, client, note, passPhrase, others } = draft;
    const alternatives = [id, ...others].map((designId) => ({ designId, pictures: [], clip: null }));
    this.pages.change(this.api.addClientPage(id, { seller, client, note, days, passPhrase, alternatives }), (made) => {
      this.typed.set({});
      this.chosen.set(made.id);
    });
  }

  /** Shows the designs of the last round as they are now. */
  protected showAgain(page: ClientPage): void {
    const alternatives = this.shown(page).map(({ designId }) => ({ designId, pictures: [], clip: null }));
    this.pages.change(this.api.showClient(page.id, this.note(), alternatives), () => this.note.set(''));
  }

  protected answer({ id }: ClientPage): void {
    const text = this.reply().trim();
    if (text) this.pages.change(this.api.answerClient(id, text, newId('a')), () => this.reply.set(''));
  }

  protected withdraw({ id }: ClientPage): void {
    this.pages.change(this.api.withdrawClientPage(id));
  }
}
