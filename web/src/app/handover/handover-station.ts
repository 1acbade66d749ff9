import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { PublicationState } from '@kettle/contract';
import { ListingDesk, type Stand } from './listing-desk';
import { ListingPrices } from './listing-prices';
import { ListingTextForm } from './listing-text-form';
import { ListingPreview } from './listing-preview';

/** States of a listing on a market, with their words and marks: never told by colour alone. */
export const PUBLICATION_WORDS: Readonly<Record<PublicationState, { readonly words: string; readonly icon: string }>> =
  {
    waiting: { words: 'waits to be sent', icon: 'clock' },
    sending: { words: 'is being sent', icon: 'upload' },
    checking: { words: 'sent, they look at it', icon: 'clock' },
    live: { words: 'live', icon: 'check' },
    refused: { words: 'refused', icon: 'x' },
    failed: { words: 'not sent', icon: 'alert-triangle' },
    'taking-down': { words: 'is being taken down', icon: 'clock' },
    down: { words: 'taken down', icon: 'minus' },
  };

/** What was made reaches those who sell it: text, prices and pictures, judged by each channel's rules, sent to markets. */
@Component({
  selector: 'ks-handover-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, ListingPrices, ListingPreview, ListingTextForm],
  providers: [ListingDesk],
  templateUrl: './handover-station.html',
  styleUrl: './handover-station.scss',
})
export class HandoverStation {
  protected readonly desk = inject(ListingDesk);
  protected readonly words = PUBLICATION_WORDS;
  /** Channels that would take it as it stands. */
  protected readonly ready = computed(() =>
    this.desk.stands().filter((stand) => this.canSend(stand) && !this.isUnderWay(stand)),
  );
  protected readonly saved = computed(() => {
    switch (this.desk.state()) {
      case 'saved':
        return 'saved';
      case 'unsaved':
        return 'saving …';
      default:
        return 'not saved yet';
    }
  });

  protected canSend({ broken, check, publication }: Stand): boolean {
    const isThere = publication?.state === 'live' && !check.changed.length;
    return check.connected && !broken.length && !check.missing.length && !isThere;
  }

  protected isUnderWay({ publication }: Stand): boolean {
    return ['waiting', 'sending', 'taking-down'].includes(publication?.state ?? '');
  }

  protected wrongOf({ broken, check }: Stand): number {
    return broken.length + check.missing.length;
  }

  protected publish(stands: readonly Stand[]): void {
    void this.desk.publish(stands.map(({ rules }) => rules.id));
  }
}
