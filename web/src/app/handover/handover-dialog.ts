import { ChangeDetectionStrategy, Component, OnDestroy, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { ListingAnswer, ListingCheck } from '@kettle/contract';
import { USUAL_PRICES, type PriceRule } from '@kettle/core/listing';
import { firstValueFrom } from 'rxjs';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { sentenceOf } from '../data/problems';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { PriceRuleBar } from './price-rule-bar';
import { Standing } from '../parts/standing';
import { isAwaited, LOOK_MS, mayBeSent, standingOf, toMend } from './publications';

export interface HandoverDialogData {
  readonly designs: readonly {
    readonly designId: string;
    readonly name: string;
    /** Requirements it has a target of. */
    readonly targets: readonly string[];
  }[];
}

/** Where to go on from it: a design, and those that are to be shown to a client beside it. */
export interface HandoverDialogResult {
  readonly designId: string;
  readonly beside?: readonly string[];
}

/** Designs that are asked about at the same time. */
const AT_ONCE = 3;

/** Listings of several designs at once: how each stands on each channel, and all that can be sent in one press. */
@Component({
  selector: 'ks-handover-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Standing, MatButtonModule, MatDialogModule, MatIconModule, PriceRuleBar],
  template: `
    <h2 mat-dialog-title>
      Listings of {{ data.designs.length === 1 ? data.designs[0].name : data.designs.length + ' designs' }}
    </h2>
    <mat-dialog-content>
      <table>
        <thead>
          <tr>
            <th scope="col">Design</th>
            @for (channel of channels(); track channel.id) {
              <th scope="col">
                <label
                  ><input type="checkbox" [checked]="!without().has(channel.id)" (change)="toggle(channel.id)" />{{
                    channel.name
                  }}</label
                >
              </th>
            }
          </tr>
        </thead>
        <tbody>
          @for (row of rows(); track row.designId) {
            <tr>
              <th scope="row">
                <button type="button" class="open" (click)="close(row.designId)">{{ row.name }}</button>
                @if (row.wrong) {
                  <small class="wrong" role="alert">{{ row.wrong }}</small>
                }
              </th>
              @for (cell of row.cells; track cell.id) {
                <td>
                  @if (cell.check; as check) {
                    @if (check.publication; as publication) {
                      <ks-standing [of]="standingOf(publication.state)" />
                    }
                    @if (mend(check); as n) {
                      <small>{{ n }} {{ n === 1 ? 'thing' : 'things' }} to mend</small>
                    } @else if (canSend(check)) {
                      <small>{{ check.changed.length ? 'changed since it was sent' : 'can be sent' }}</small>
                    } @else if (!check.connected) {
                      <small>is carried there by hand</small>
                    }
                  } @else if (row.isThere) {
                    <small class="quiet">no target there</small>
                  } @else {
                    <small class="quiet">…</small>
                  }
                </td>
              }
            </tr>
          }
        </tbody>
      </table>
      @if (channels().length) {
        <div class="prices" role="group" aria-label="Prices of all of them">
          <b>Prices of all of them</b>
          <ks-price-rule-bar [rule]="prices()" currency="GBP" (changed)="prices.set($event)" />
          <button mat-stroked-button type="button" [disabled]="busy()" (click)="applyPrices()">
            Use for {{ data.designs.length === 1 ? 'this design' : data.designs.length + ' designs' }}
          </button>
          <small class="quiet">Prices that were set by hand stay.</small>
        </div>
      }
      @if (sampled(); as sample) {
        <div class="prices" role="group" aria-label="A printed sample of each">
          <b>A printed sample of each at {{ sample.shop.channel }}</b>
          <label
            >size
            <select #size>
              @for (one of sample.shop.sizes; track one) {
                <option>{{ one }}</option>
              }
            </select></label
          >
          <label
            >position
            <select #position>
              @for (one of sample.shop.positions; track one) {
                <option>{{ one }}</option>
              }
            </select></label
          >
          <button
            mat-stroked-button
            type="button"
            [disabled]="busy()"
            (click)="orderSamples(size.value, position.value)"
          >
            Order {{ sample.of.length === 1 ? '1 sample' : sample.of.length + ' samples' }}
          </button>
          <small class="quiet" role="status">{{ ordered() }}</small>
        </div>
      }
      @if (isThere() && !channels().length) {
        <p>None of these designs has a target of a channel whose rules are known.</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" (click)="close(null)">Close</button>
      <button mat-stroked-button type="button" (click)="showToClient()">
        {{ data.designs.length === 1 ? 'Show it to a client …' : 'Show them to a client …' }}
      </button>
      <button mat-flat-button type="button" [disabled]="busy() || !sendable().length" (click)="send()">
        {{ sendable().length === 1 ? 'Send 1 listing' : 'Send ' + sendable().length + ' listings' }}
      </button>
    </mat-dialog-actions>
  `,
  styleUrl: './handover-dialog.scss',
})
export class HandoverDialog implements OnDestroy {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<HandoverDialog, HandoverDialogResult | null>>(MatDialogRef);
  protected readonly data = inject<HandoverDialogData>(MAT_DIALOG_DATA);
  protected readonly standingOf = standingOf;
  protected readonly mend = toMend;
  protected readonly canSend = mayBeSent;
  private readonly rules = new Loaded(() => this.api.ask('get /api/channel-rules'), { of: 'What channels demand' });
  private readonly answers = signal<ReadonlyMap<string, ListingAnswer>>(new Map());
  private readonly wrongs = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly without = signal<ReadonlySet<string>>(new Set());
  protected readonly busy = signal(false);
  protected readonly prices = signal<PriceRule>(USUAL_PRICES);
  private readonly notices = inject(Notices);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private ended = false;

  private readonly shops = new Loaded(() => this.api.ask('get /api/print-shops'), { of: 'The print shops' });
  private readonly requirements = inject(RequirementShelf);
  protected readonly ordered = signal('');
  /** The first print shop that some of the designs have a target of, with those targets. */
  protected readonly sampled = computed(() => {
    for (const shop of this.shops.value() ?? []) {
      const own = this.requirements
        .all()
        .filter(({ channel, colourways }) => channel === shop.channel && colourways.length);
      const found = this.data.designs.flatMap(({ designId, targets }) => {
        const requirement = own.find(({ id }) => targets.includes(id));
        return requirement ? [{ designId, requirement }] : [];
      });
      if (shop.by !== null && found.length) return { shop, of: found };
    }
    return null;
  });

  protected readonly isThere = computed(
    () => this.rules.value() !== null && this.answers().size === this.data.designs.length,
  );
  /** Channels that any of the designs has a target of. */
  protected readonly channels = computed(() => {
    const seen = new Set([...this.answers().values()].flatMap(({ checks }) => checks.map(({ rulesId }) => rulesId)));
    return (this.rules.value() ?? []).filter(({ id }) => seen.has(id)).map(({ id, channel: name }) => ({ id, name }));
  });
  protected readonly rows = computed(() =>
    this.data.designs.map(({ designId, name }) => ({
      designId,
      name,
      wrong: this.wrongs().get(designId) ?? '',
      isThere: this.answers().has(designId),
      cells: this.channels().map(({ id }) => ({ id, check: this.checkOf(designId, id) })),
    })),
  );
  protected readonly sendable = computed(() =>
    this.rows().flatMap(({ designId, cells }) =>
      cells.flatMap(({ id, check }) =>
        check && mayBeSent(check) && !this.without().has(id) ? [{ designId, id }] : [],
      ),
    ),
  );

  constructor() {
    void this.load(this.data.designs.map(({ designId }) => designId));
  }

  ngOnDestroy(): void {
    this.ended = true;
    clearTimeout(this.timer);
  }

  private checkOf(designId: string, rulesId: string): ListingCheck | null {
    return (
      this.answers()
        .get(designId)
        ?.checks.find((one) => one.rulesId === rulesId) ?? null
    );
  }

  protected toggle(id: string): void {
    this.without.update((before) => {
      const after = new Set(before);
      if (!after.delete(id)) after.add(id);
      return after;
    });
  }

  /** @param open a design whose listing is to be worked on */
  protected close(open: string | null): void {
    this.dialog.close(open === null ? null : { designId: open });
  }

  /** All of them on one page, to pick from. */
  protected showToClient(): void {
    const [first, ...others] = this.data.designs;
    this.dialog.close({ designId: first.designId, beside: others.map(({ designId }) => designId) });
  }

  private async load(ids: readonly string[]): Promise<void> {
    for (let from = 0; from < ids.length && !this.ended; from += AT_ONCE)
      await Promise.all(
        ids.slice(from, from + AT_ONCE).map(async (id) => {
          try {
            const answer = await firstValueFrom(this.api.ask('get /api/designs/{id}/listing', { id }));
            this.answers.update((all) => new Map(all).set(id, answer));
          } catch (error) {
            this.say(id, sentenceOf(error));
          }
        }),
      );
    this.lookAgain();
  }

  /** Looks for answers of markets as long as some are waited for. */
  private lookAgain(): void {
    clearTimeout(this.timer);
    const awaited = [...this.answers()].filter(([, { checks }]) => checks.some((one) => isAwaited(one.publication)));
    if (awaited.length && !this.ended)
      this.timer = setTimeout(() => void this.load(awaited.map(([id]) => id)), LOOK_MS);
  }

  private say(designId: string, sentence: string): void {
    this.wrongs.update((all) => new Map(all).set(designId, sentence));
  }

  /** Sends the print file of each with an order of one, in its first colour. What fails for one harms no other. */
  protected async orderSamples(size: string, position: string): Promise<void> {
    const { shop, of: designs } = this.sampled()!;
    this.busy.set(true);
    this.wrongs.set(new Map());
    let sent = 0;
    for (const { designId, requirement } of designs)
      try {
        const [{ name: colour }] = requirement.colourways;
        const asked = { shopId: shop.id, requirementId: requirement.id, size, colour, position, copies: 1, note: '' };
        await firstValueFrom(this.api.ask('post /api/designs/{id}/shop-orders', { id: designId, body: asked }));
        sent++;
      } catch (error) {
        this.say(designId, sentenceOf(error));
      }
    this.ordered.set(`${sent} of ${designs.length} ordered; what ${shop.channel} says stands on the sheet.`);
    this.busy.set(false);
  }

  /** Puts the price rule into the listings of all designs. */
  protected async applyPrices(): Promise<void> {
    const ids = this.data.designs.map(({ designId }) => designId);
    this.busy.set(true);
    try {
      await firstValueFrom(this.api.ask('post /api/listings/prices', { body: { designIds: ids, ...this.prices() } }));
      await this.load(ids);
    } catch (error) {
      this.notices.complain(error);
    } finally {
      this.busy.set(false);
    }
  }

  /** What fails for one design harms no other. */
  protected async send(): Promise<void> {
    const wanted = new Map<string, string[]>();
    for (const { designId, id } of this.sendable()) wanted.set(designId, [...(wanted.get(designId) ?? []), id]);
    this.busy.set(true);
    this.wrongs.set(new Map());
    for (const [designId, channels] of wanted)
      try {
        await firstValueFrom(this.api.ask('post /api/designs/{id}/publications', { id: designId, body: { channels } }));
      } catch (error) {
        this.say(designId, sentenceOf(error));
      }
    await this.load([...wanted.keys()]);
    this.busy.set(false);
  }
}
