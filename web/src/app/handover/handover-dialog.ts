import { ChangeDetectionStrategy, Component, OnDestroy, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import { toSignal } from '@angular/core/rxjs-interop';
import type { ListingAnswer, ListingCheck } from '@kettle/contract';
import { USUAL_PRICES, type ChannelRules, type PriceRule } from '@kettle/core';
import { catchError, firstValueFrom, of } from 'rxjs';
import { Api, sentenceOf } from '../data/api';
import { Notices } from '../data/notices';
import { OutsideApi } from '../data/outside-api';
import { PriceRuleBar } from './price-rule-bar';
import { isAwaited, LOOK_MS, mayBeSent, PUBLICATION_WORDS, toMend } from './publications';

export interface HandoverDialogData {
  readonly designs: readonly { readonly designId: string; readonly name: string }[];
}

/** Designs that are asked about at the same time. */
const AT_ONCE = 3;

/** Listings of several designs at once: how each stands on each channel, and all that can be sent in one press. */
@Component({
  selector: 'ks-handover-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatDialogModule, MatIconModule, PriceRuleBar],
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
                      <span class="mark" [class]="publication.state"
                        ><mat-icon [svgIcon]="words[publication.state].icon" aria-hidden="true" />{{
                          words[publication.state].words
                        }}</span
                      >
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
      @if (isThere() && !channels().length) {
        <p>None of these designs has a target of a channel whose rules are known.</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" (click)="close(null)">Close</button>
      <button mat-flat-button type="button" [disabled]="busy() || !sendable().length" (click)="send()">
        {{ sendable().length === 1 ? 'Send 1 listing' : 'Send ' + sendable().length + ' listings' }}
      </button>
    </mat-dialog-actions>
  `,
  styleUrl: './handover-dialog.scss',
})
export class HandoverDialog implements OnDestroy {
  private readonly api = inject(Api);
  private readonly dialog = inject<MatDialogRef<HandoverDialog, string | null>>(MatDialogRef);
  protected readonly data = inject<HandoverDialogData>(MAT_DIALOG_DATA);
  protected readonly words = PUBLICATION_WORDS;
  protected readonly mend = toMend;
  protected readonly canSend = mayBeSent;
  private readonly rules = toSignal(this.api.channelRules().pipe(catchError(() => of([] as ChannelRules[]))), {
    initialValue: [] as ChannelRules[],
  });
  private readonly answers = signal<ReadonlyMap<string, ListingAnswer>>(new Map());
  private readonly wrongs = signal<ReadonlyMap<string, string>>(new Map());
  protected readonly without = signal<ReadonlySet<string>>(new Set());
  protected readonly busy = signal(false);
  protected readonly prices = signal<PriceRule>(USUAL_PRICES);
  private readonly outside = inject(OutsideApi);
  private readonly notices = inject(Notices);
  private timer: ReturnType<typeof setTimeout> | undefined;
  private ended = false;

  protected readonly isThere = computed(() => this.answers().size === this.data.designs.length);
  /** Channels that any of the designs has a target of. */
  protected readonly channels = computed(() => {
    const seen = new Set([...this.answers().values()].flatMap(({ checks }) => checks.map(({ rulesId }) => rulesId)));
    return this.rules()
      .filter(({ id }) => seen.has(id))
      .map(({ id, channel: name }) => ({ id, name }));
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
    this.dialog.close(open);
  }

  private async load(ids: readonly string[]): Promise<void> {
    for (let from = 0; from < ids.length && !this.ended; from += AT_ONCE)
      await Promise.all(
        ids.slice(from, from + AT_ONCE).map(async (id) => {
          try {
            const answer = await firstValueFrom(this.api.listing(id));
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

  /** Puts the price rule into the listings of all designs. */
  protected async applyPrices(): Promise<void> {
    const ids = this.data.designs.map(({ designId }) => designId);
    this.busy.set(true);
    try {
      await firstValueFrom(this.outside.applyPrices(ids, this.prices()));
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
        await firstValueFrom(this.api.publish(designId, channels));
      } catch (error) {
        this.say(designId, sentenceOf(error));
      }
    await this.load([...wanted.keys()]);
    this.busy.set(false);
  }
}
