import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { Interest, PrintRun } from '@kettle/contract';
import { amountText, moneyText, parseMoney } from '@kettle/core/listing';
import { runStanding, runTable, type PrintRunState } from '@kettle/core/orders';
import { Editor } from '../editor/editor';
import { Chart } from '../charts/chart';
import { LOOK_MS, Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { Api } from '../data/api';
import { RequirementShelf } from '../data/requirement-shelf';
import { TypedValue } from '../units/typed-value';
import { InterestForm } from './interest-form';
import { PrintRunForm } from './print-run-form';
import { runChart } from './run-chart';
import { SideList } from '../parts/side-list';
import { Standing, type StandsAs } from '../parts/standing';

const STATES: Readonly<Record<PrintRunState, StandsAs>> = {
  open: { words: 'open', icon: 'clock', mark: 'waiting' },
  closed: { words: 'closed', icon: 'lock', mark: 'waiting' },
  ordered: { words: 'ordered', icon: 'upload', mark: 'live' },
  delivered: { words: 'delivered', icon: 'check', mark: 'live' },
};

/** Orders in hand: who wants what, what is missing until a print is worth it, and the way from there to the parcel. */
@Component({
  selector: 'ks-print-run-desk',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SideList, Standing, Chart, InterestForm, MatButtonModule, MatIconModule, PrintRunForm, TypedValue],
  templateUrl: './print-run-desk.html',
  styleUrl: './print-run-desk.scss',
})
export class PrintRunDesk {
  protected readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly desk = inject(Editor).desk;
  private readonly requirements = inject(RequirementShelf);
  protected readonly states = STATES;
  protected readonly money = moneyText;
  protected readonly amount = amountText;
  private readonly known = new Loaded(() => this.api.ask('get /api/print-shops'), { of: 'The print shops' });
  protected readonly shops = computed(() => this.known.value() ?? []);
  protected readonly runs = new Loaded<readonly PrintRun[]>(
    () => {
      const id = this.desk.id();
      return id ? this.api.ask('get /api/designs/{id}/print-runs', { id }) : null;
    },
    { every: LOOK_MS },
  );
  private readonly chosen = signal<string | null | undefined>(undefined);
  protected readonly changing = signal(false);
  protected readonly run = computed<PrintRun | null>(() => {
    const [all, chosen] = [this.runs.value() ?? [], this.chosen()];
    if (chosen === null) return null;
    return all.find(({ id }) => id === chosen) ?? all[0] ?? null;
  });
  protected readonly shop = computed(() => this.shops().find(({ id }) => id === this.run()?.shopId) ?? null);
  protected readonly table = computed(() => {
    const run = this.run();
    return run && runTable(run, run.interests);
  });
  protected readonly standing = computed(() => {
    const [run, shop] = [this.run(), this.shop()];
    return run && shop && runStanding(run, shop, run.interests);
  });
  /** How it stands, in a sentence or two. */
  protected readonly sentence = computed(() => {
    const [run, at] = [this.run(), this.standing()];
    if (!run || !at) return '';
    const worth = at.missing
      ? `${at.missing} ${at.missing === 1 ? 'is' : 'are'} missing until it is worth printing.`
      : 'Enough are wanted: it is worth printing.';
    const next = at.next ? ` With ${at.next.missing} more, one costs ${moneyText(at.next.each, run.currency)}.` : '';
    const even = at.evenFrom === null ? ' At this price nobody earns: it costs more than it brings.' : '';
    return `${worth}${next}${even}`;
  });
  protected readonly chart = computed(() => {
    const run = this.run();
    const ink = getComputedStyle(document.documentElement);
    const colour = (name: string): string => ink.getPropertyValue(name).trim();
    return (
      run &&
      runChart(run, this.shop(), { line: colour('--enamel'), worth: colour('--copper'), next: colour('--quiet') })
    );
  });
  /** Targets of the design that a print can be of. */
  protected readonly products = computed(() => {
    const targets = this.desk.document()?.targets ?? [];
    return this.requirements.all().filter(({ id }) => targets.some(({ requirementId }) => requirementId === id));
  });

  protected readonly entries = computed(() =>
    this.runs.value()?.map(({ id, name, state, interests, worthFrom }) => {
      return { id, name, standing: STATES[state], note: `${this.copiesOf(interests)} of ${worthFrom} wanted` };
    }),
  );
  protected copiesOf = (interests: PrintRun['interests']): number =>
    interests.reduce((sum, { copies }) => sum + copies, 0);
  protected linkOf = ({ path }: PrintRun): string => `${location.origin}${path}`;

  protected choose(id: string | null): void {
    this.chosen.set(id);
    this.changing.set(false);
  }

  protected begun(run: PrintRun): void {
    this.changing.set(false);
    this.chosen.set(run.id);
    this.runs.again();
  }

  protected bring({ id }: PrintRun, state: PrintRunState): void {
    this.runs.change(this.api.ask('post /api/print-runs/{id}/state', { id, body: { state } }));
  }

  protected link({ id }: PrintRun, open: boolean): void {
    const of = open ? 'post /api/print-runs/{id}/link' : 'delete /api/print-runs/{id}/link';
    this.runs.change(this.api.ask(of, { id }));
  }

  protected async copy(run: PrintRun): Promise<void> {
    try {
      await navigator.clipboard.writeText(this.linkOf(run));
      this.notices.say('The link is copied.');
    } catch {
      this.notices.say('The browser does not let the link be copied. Mark it and copy it by hand.');
    }
  }

  protected setDeposit({ id, currency }: PrintRun, one: Interest, text: string): void {
    const deposit = text.trim() === '' ? 0 : parseMoney(text, currency);
    if (deposit === null) this.notices.say(`“${text}” is not an amount in ${currency}. The old one stays.`);
    else if (deposit !== one.deposit)
      this.runs.change(
        this.api.ask('put /api/print-runs/{id}/interests/{interest}', { id, interest: one.id, body: { deposit } }),
      );
  }

  protected setDelivered({ id }: PrintRun, one: Interest, delivered: boolean): void {
    this.runs.change(
      this.api.ask('put /api/print-runs/{id}/interests/{interest}', { id, interest: one.id, body: { delivered } }),
    );
  }

  protected remove({ id, state }: PrintRun, one: Interest): void {
    this.runs.change(this.api.ask('delete /api/print-runs/{id}/interests/{interest}', { id, interest: one.id }), () => {
      if (state !== 'open') {
        this.notices.say('Their name and how to reach them are erased; the number stays.');
        return;
      }
      const { name, contact, size, colour, copies, deposit } = one;
      this.notices.say(`${one.name} is taken out.`, {
        label: 'Undo',
        run: () =>
          this.runs.change(
            this.api.ask('post /api/print-runs/{id}/interests', {
              id,
              body: {
                form: `undo-${one.id}-${Date.now()}`,
                source: 'typed',
                interests: [{ name, contact, size, colour, copies, deposit }],
              },
            }),
          ),
      });
    });
  }

  protected erase({ id }: PrintRun): void {
    this.runs.change(this.api.ask('post /api/print-runs/{id}/erase', { id }), () =>
      this.notices.say('Names and contacts of everybody in it are erased; the numbers stay.'),
    );
  }
}
