import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import { SaveNotice } from '../parts/save-notice';
import { ListingDesk, type Stand } from './listing-desk';
import { ListingPrices } from './listing-prices';
import { ListingTextForm } from './listing-text-form';
import { ListingPreview } from './listing-preview';
import { Standing } from '../parts/standing';
import { mayBeSent, standingOf, toMend } from './publications';

/** A design's listings: text, prices and pictures, judged by each channel's rules as they are typed, and sent to markets. */
@Component({
  selector: 'ks-listing-board',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    Standing,
    MatButtonModule,
    MatIconModule,
    RouterLink,
    ListingPrices,
    ListingPreview,
    ListingTextForm,
    SaveNotice,
  ],
  providers: [ListingDesk],
  templateUrl: './listing-board.html',
  styleUrl: './listing-board.scss',
})
export class ListingBoard {
  protected readonly desk = inject(ListingDesk);
  protected readonly standingOf = standingOf;
  /** Channels that would take it as it stands. */
  protected readonly ready = computed(() => this.desk.stands().filter((stand) => this.canSend(stand)));
  protected readonly saved = computed(() => {
    switch (this.desk.saving.state()) {
      case 'saved':
        return 'saved';
      case 'unsaved':
        return 'saving …';
      default:
        return 'not saved yet';
    }
  });

  protected canSend({ broken, check }: Stand): boolean {
    return mayBeSent({ ...check, broken });
  }

  protected wrongOf({ broken, check }: Stand): number {
    return toMend({ ...check, broken });
  }

  /** A draft that is there already is sent again only when it has changed. */
  protected canDraft(stand: Stand): boolean {
    return this.canSend(stand) && (stand.publication?.state !== 'draft' || stand.check.changed.length > 0);
  }

  /** What sending it does, in words. */
  protected sendWords({ rules, check }: Stand): string {
    if (check.publication?.state === 'draft') return 'Put it live';
    return check.changed.length ? 'Send the changes' : `Send to ${rules.channel}`;
  }

  /** @param draft to have it kept there unseen */
  protected publish(stands: readonly Stand[], draft = false): void {
    void this.desk.publish(
      stands.map(({ rules }) => rules.id),
      draft,
    );
  }
}
