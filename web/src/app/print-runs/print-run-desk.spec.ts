import { Component, input, output, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';
import type { CallName, Interest, PrintRun } from '@kettle/contract';
import { emptyDesign } from '@kettle/core/model';
import type { EChartsCoreOption } from 'echarts/core';
import { of } from 'rxjs';
import { Editor } from '../editor/editor';
import { Chart } from '../charts/chart';
import { Notices } from '../data/notices';
import { fakeApi } from '../testing/fake-api';
import { RequirementShelf } from '../data/requirement-shelf';
import { registerIcons } from '../icons/icons';
import { interest, openRun } from '../testing/open-run';
import { InterestForm } from './interest-form';
import { PrintRunDesk } from './print-run-desk';
import { PrintRunForm } from './print-run-form';

@Component({ selector: 'ks-chart', template: '{{ label() }}' })
class SaidChart {
  readonly options = input.required<EChartsCoreOption>();
  readonly label = input.required<string>();
}
@Component({ selector: 'ks-interest-form', template: '' })
class NoInterestForm {
  readonly run = input.required<PrintRun>();
  readonly kept = output();
}
@Component({ selector: 'ks-print-run-form', template: '{{ run() ? "changes" : "begins" }}' })
class NoRunForm {
  readonly products = input<unknown>();
  readonly shops = input<unknown>();
  readonly run = input<PrintRun | null>(null);
  readonly kept = output<PrintRun>();
}

const ada: Interest = { ...interest(7, 1), id: 'i1', contact: 'ada@example.org', deposit: 500 };
const fog: PrintRun = {
  ...openRun,
  sizes: ['M', 'L'],
  interests: [ada, { ...ada, id: 'i2', name: 'Bo', size: 'L', copies: 2, deposit: 0 }],
};

const CHANGE = 'put /api/print-runs/{id}/interests/{interest}';
const TAKE_OUT = 'delete /api/print-runs/{id}/interests/{interest}';
const ADD = 'post /api/print-runs/{id}/interests';

describe('the desk of orders in hand', () => {
  let calls: unknown[][];
  let said: { sentence: string; undo?: () => void }[];

  async function show(runs: readonly PrintRun[]) {
    [calls, said] = [[], []];
    const called = (name: CallName) => ({
      [name]: (asking: unknown) => {
        calls.push([name, asking]);
        return of(undefined);
      },
    });
    const api = fakeApi({
      'get /api/print-shops': () => of([]),
      'get /api/designs/{id}/print-runs': () => of(runs),
      ...called('post /api/print-runs/{id}/state'),
      ...called('post /api/print-runs/{id}/link'),
      ...called('post /api/print-runs/{id}/erase'),
      ...called(CHANGE),
      ...called(TAKE_OUT),
      ...called(ADD),
    });
    localStorage.clear();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        api,
        {
          provide: Editor,
          useValue: {
            desk: { id: signal('d'), document: signal({ ...emptyDesign('Fog'), targets: [{ requirementId: 'tee' }] }) },
          },
        },
        { provide: RequirementShelf, useValue: { all: signal([{ id: 'tee' }]) } },
        {
          provide: Notices,
          useValue: {
            say: (sentence: string, action?: { run: () => void }) => said.push({ sentence, undo: action?.run }),
            complain: () => undefined,
          },
        },
      ],
    });
    TestBed.overrideComponent(PrintRunDesk, {
      remove: { imports: [Chart, InterestForm, PrintRunForm] },
      add: { imports: [SaidChart, NoInterestForm, NoRunForm] },
    });
    registerIcons(TestBed.inject(MatIconRegistry), TestBed.inject(DomSanitizer));
    const fixture = TestBed.createComponent(PrintRunDesk);
    await fixture.whenStable();
    // What is looked at is asked for in a turn of its own.
    await new Promise((resolve) => setTimeout(resolve));
    await fixture.whenStable();
    const page = fixture.nativeElement as HTMLElement;
    const words = (one: Element) => one.textContent!.replace(/\s+/g, ' ').trim();
    return {
      page,
      table: (label: string) =>
        [...page.querySelectorAll(`section[aria-label="${label}"] tbody tr`)].map((row) =>
          [...row.children].map(words),
        ),
      press: async (label: string) => {
        const buttons = [...page.querySelectorAll('button')];
        buttons.find((one) => words(one) === label || one.getAttribute('aria-label') === label)!.click();
        await fixture.whenStable();
      },
      enter: async (label: string, value: string | boolean) => {
        const field = page.querySelector<HTMLInputElement>(`input[aria-label="${label}"]`)!;
        if (typeof value === 'string') field.value = value;
        else field.checked = value;
        field.dispatchEvent(new Event('change'));
        await fixture.whenStable();
      },
    };
  }

  it('counts by size and colour, and takes the run on from state to state', async () => {
    const { page, table, press } = await show([fog]);
    expect(table('By size and colour')).toEqual([
      ['Chalk', '7', '2', '9'],
      ['in all', '7', '2', '9'],
    ]);
    expect(page.querySelector('aside .choice')!.textContent).toContain('9 of 12 wanted');
    await press('Close it');
    await press('Open a page');
    expect(calls).toEqual([
      ['post /api/print-runs/{id}/state', { id: 'r', body: { state: 'closed' } }],
      ['post /api/print-runs/{id}/link', { id: 'r' }],
    ]);
    TestBed.resetTestingModule();
    const ordered = await show([{ ...fog, state: 'ordered' }]);
    // People cannot come in any more, and the order can be fetched.
    expect(ordered.page.querySelector('ks-interest-form')).toBeNull();
    expect(ordered.page.querySelector('a[href="/api/print-runs/r/order-sheet"]')).not.toBeNull();
    await ordered.press('It is not ordered after all');
    await ordered.press('All are handed over');
    expect(calls).toEqual([
      ['post /api/print-runs/{id}/state', { id: 'r', body: { state: 'closed' } }],
      ['post /api/print-runs/{id}/state', { id: 'r', body: { state: 'delivered' } }],
    ]);
  });

  it('notes deposits and what was handed over; what is no amount changes nothing', async () => {
    const { enter } = await show([fog]);
    await enter('Deposit of Ada', 'a fiver');
    expect(calls).toEqual([]);
    expect(said[0].sentence).toContain('“a fiver” is not an amount in GBP');
    await enter('Deposit of Ada', '5');
    expect(calls).toEqual([]);
    await enter('Deposit of Ada', '7.50');
    await enter('Deposit of Ada', '');
    await enter('Handed over to Bo', true);
    expect(calls).toEqual([
      [CHANGE, { id: 'r', interest: 'i1', body: { deposit: 750 } }],
      [CHANGE, { id: 'r', interest: 'i1', body: { deposit: 0 } }],
      [CHANGE, { id: 'r', interest: 'i2', body: { delivered: true } }],
    ]);
  });

  it('takes somebody out of an open run and back in again; of a closed one the name is erased', async () => {
    const { press } = await show([fog]);
    await press('Take out Ada');
    expect(calls).toEqual([[TAKE_OUT, { id: 'r', interest: 'i1' }]]);
    expect(said[0].sentence).toBe('Ada is taken out.');
    said[0].undo!();
    const { name, contact, size, colour, copies, deposit } = ada;
    expect(calls[1]).toEqual([
      ADD,
      {
        id: 'r',
        body: {
          form: jasmine.stringMatching(/^undo-i1-/),
          source: 'typed',
          interests: [{ name, contact, size, colour, copies, deposit }],
        },
      },
    ]);
    TestBed.resetTestingModule();
    const closed = await show([
      { ...fog, state: 'closed', interests: [ada, { ...ada, id: 'i3', name: '', contact: '', erased: true }] },
    ]);
    await closed.press('Erase Ada');
    expect([said[0].sentence, said[0].undo]).toEqual([
      'Their name and how to reach them are erased; the number stays.',
      undefined,
    ]);
    expect(closed.table('Who wants one').map(([who]) => who)).toEqual(['Ada ada@example.org', 'erased']);
  });

  it('shows the run that is chosen, or begins another', async () => {
    const { page, press } = await show([fog, { ...fog, id: 'r2', name: 'Drizzle', interests: [] }]);
    expect(page.querySelector('.main h3')!.textContent).toBe('Fog');
    page.querySelectorAll<HTMLButtonElement>('aside .choice')[1].click();
    await Promise.resolve();
    await press('Change …');
    expect(page.querySelector('.main h3')!.textContent).toBe('Drizzle');
    expect(page.querySelector('ks-print-run-form')!.textContent).toBe('changes');
    expect(page.textContent).toContain('Nobody yet.');
    await press('Gather orders …');
    expect(page.querySelector('ks-print-run-form')!.textContent).toBe('begins');
  });
});
