import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import type { PrintRun } from '@kettle/contract';
import { parseMoney } from '@kettle/core/listing';
import { MOST_OF_ONE, type InterestFields, type ReadInterest } from '@kettle/core/orders';
import type { Observable } from 'rxjs';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';
import { Api } from '../data/api';
import { Editor } from '../editor/editor';
import { Unsent } from '../data/unsent';
import { FilePicker } from '../units/file-picker';
import { Settings, inThrees, named, pick, text, type Setting } from '../units/settings';
import { TypedValue } from '../units/typed-value';

interface Draft {
  readonly name: string;
  readonly contact: string;
  readonly size: string;
  readonly colour: string;
  readonly copies: string;
  readonly deposit: string;
}
const EMPTY_DRAFT: Partial<Draft> = { name: '', contact: '', copies: '1', deposit: '' };

/** Adds people who want one: typed one by one, or from a table that is pasted or chosen and looked at first. */
@Component({
  selector: 'ks-interest-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [FilePicker, MatButtonModule, Settings, TypedValue],
  templateUrl: './interest-form.html',
  styleUrl: './print-run-form.scss',
})
export class InterestForm {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly run = input.required<PrintRun>();
  readonly kept = output<void>();
  protected readonly busy = signal(false);
  private readonly unsent = inject(Unsent);
  private readonly designId = inject(Editor).desk.id();
  private readonly typed = this.unsent.of<Partial<Draft>>(`one person ${this.designId}`, EMPTY_DRAFT);
  protected readonly pasted = this.unsent.of(`table of people ${this.designId}`, '');
  /** What was read of a table, before it is added. */
  protected readonly read = signal<ReadInterest | null>(null);
  protected readonly draft = computed<Draft>(() => ({
    name: '',
    contact: '',
    copies: '1',
    deposit: '',
    size: this.run().sizes[0],
    colour: this.run().colours[0].name,
    ...this.typed(),
  }));
  private readonly interest = computed<InterestFields | null>(() => {
    const { name, contact, size, colour, copies, deposit } = this.draft();
    const [count, paid] = [Number(copies), deposit.trim() ? parseMoney(deposit, this.run().currency) : 0];
    if (!name.trim() || !Number.isInteger(count) || count < 1 || count > MOST_OF_ONE || paid === null) return null;
    return { name: name.trim(), contact: contact.trim(), size, colour, copies: count, deposit: paid };
  });
  protected readonly wrong = computed(() => {
    const { name, copies, deposit } = this.draft();
    const count = Number(copies);
    if (!Number.isInteger(count) || count < 1 || count > MOST_OF_ONE)
      return `“${copies}” is not a number of copies from 1 to ${MOST_OF_ONE}.`;
    if (deposit.trim() && parseMoney(deposit, this.run().currency) === null)
      return `“${deposit}” is not an amount in ${this.run().currency}.`;
    return name.length > 120 ? 'This name is too long.' : '';
  });
  protected readonly whole = computed(() => this.interest() !== null);

  protected readonly fields = computed<readonly Setting[]>(() => {
    const [draft, run] = [this.draft(), this.run()];
    /** What is typed or chosen for a field. */
    const typed = (key: keyof Draft) => ({ live: true, set: (value: string) => this.type({ [key]: value }) });
    return inThrees([
      text('Name', draft.name, { most: 120, ...typed('name') }),
      text('How to reach them', draft.contact, { most: 200, ...typed('contact') }),
      text(`Deposit, ${run.currency}`, draft.deposit, { mode: 'decimal', ...typed('deposit') }),
      pick('Size', draft.size, { of: named(run.sizes), ...typed('size') }),
      pick('Colour', draft.colour, { of: named(run.colours.map(({ name }) => name)), ...typed('colour') }),
      text('Copies', draft.copies, { mode: 'numeric', ...typed('copies') }),
    ]);
  });

  private type(change: Partial<Draft>): void {
    this.typed.update((before) => ({ ...before, ...change }));
  }

  protected add(form: HTMLFormElement): void {
    const interest = this.interest();
    if (!interest) return;
    this.send(
      this.api.ask('post /api/print-runs/{id}/interests', {
        id: this.run().id,
        body: { form: newId('i'), source: 'typed', interests: [interest] },
      }),
      () => {
        // The next one is often of the same size and colour.
        this.type(EMPTY_DRAFT);
        form.querySelector('input')?.focus();
      },
    );
  }

  protected look(table: Blob): void {
    this.send(this.api.ask('post /api/print-runs/{id}/interests/table', { id: this.run().id, body: table }), (read) =>
      this.read.set(read),
    );
  }

  protected lookAtPasted(): void {
    this.look(new Blob([this.pasted()]));
  }

  protected addRead(): void {
    const { interests } = this.read()!;
    this.send(
      this.api.ask('post /api/print-runs/{id}/interests', {
        id: this.run().id,
        body: { form: newId('t'), source: 'table', interests },
      }),
      () => {
        this.read.set(null);
        this.pasted.set('');
        this.notices.say(`${interests.length} ${interests.length === 1 ? 'person is' : 'people are'} added.`);
      },
    );
  }

  private send<T>(call: Observable<T>, then: (answer: T) => void): void {
    this.busy.set(true);
    call.subscribe({
      next: (answer) => {
        this.busy.set(false);
        then(answer);
        this.kept.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.notices.complain(error);
      },
    });
  }
}
