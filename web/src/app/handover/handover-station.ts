import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router } from '@angular/router';
import { BecameDesk } from '../became/became-desk';
import { Editor } from '../editor/editor';
import { ClientDesk } from '../client-page/client-desk';
import { PrintRunDesk } from '../print-runs/print-run-desk';
import { ShopDesk } from '../print-shop/shop-desk';
import { ListingBoard } from './listing-board';

/** Those whom a design is handed to, in the order people think of them. */
const DESKS = [
  { id: 'listings', label: 'Listings' },
  { id: 'print-shop', label: 'Print shop' },
  { id: 'client', label: 'Client’s yes' },
  { id: 'orders', label: 'Orders in hand' },
  { id: 'became', label: 'What became of it' },
] as const;
type Desk = (typeof DESKS)[number]['id'];

/** What was made reaches those who sell, print, approve and buy it, and their answers come back here. */
@Component({
  selector: 'ks-handover-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BecameDesk, ClientDesk, ListingBoard, PrintRunDesk, ShopDesk],
  template: `
    <div class="bar chips" role="group" aria-label="Handed to">
      @for (one of desks; track one.id) {
        <button type="button" class="chip" [attr.aria-pressed]="one.id === at()" (click)="go(one.id)">
          {{ one.label }}
        </button>
      }
    </div>
    @switch (at()) {
      @case ('print-shop') {
        <ks-shop-desk />
      }
      @case ('client') {
        <ks-client-desk />
      }
      @case ('orders') {
        <ks-print-run-desk />
      }
      @case ('became') {
        <ks-became-desk [designId]="editor.desk.id()" />
      }
      @default {
        <ks-listing-board />
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      min-height: 0;
    }
    .bar {
      padding: 10px 16px;
      border-bottom: 1px solid var(--rule);
    }
  `,
})
export class HandoverStation {
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  protected readonly editor = inject(Editor);
  private readonly query = toSignal(this.route.queryParamMap, { requireSync: true });
  protected readonly desks = DESKS;
  protected readonly at = computed<Desk>(
    () => DESKS.find(({ id }) => id === this.query().get('desk'))?.id ?? 'listings',
  );

  /** Where one is stands in the address, so that it can be come back to. */
  protected go(desk: Desk): void {
    void this.router.navigate([], { relativeTo: this.route, queryParams: { desk }, queryParamsHandling: 'merge' });
  }
}
