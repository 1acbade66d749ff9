import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { filledText, moneyText, textOn } from '@kettle/core/listing';
import { ListingDesk } from './listing-desk';

/** The listing as a shopper would see it. */
@Component({
  selector: 'ks-listing-preview',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.stand(); as stand) {
      <h3>As a shopper on {{ stand.rules.channel }} would see it</h3>
      <article aria-label="As a shopper would see it">
        @if (desk.shown()[0]; as first) {
          <img [src]="'/api/pictures/' + first.id + '/content'" [alt]="text().title" />
        } @else {
          <div class="none">no picture yet</div>
        }
        <div>
          <h4>{{ text().title || 'No title yet' }}</h4>
          <p class="price">{{ from() }}</p>
          <p class="about">{{ text().description || 'No description yet' }}</p>
          <p class="tags">{{ text().tags.join(' · ') }}</p>
        </div>
      </article>
    }
  `,
  styleUrl: './listing-preview.scss',
})
export class ListingPreview {
  protected readonly desk = inject(ListingDesk);
  protected readonly text = computed(() =>
    filledText(
      textOn(this.desk.fields()!, this.desk.stand()?.rules.id ?? ''),
      this.desk.designName(),
      this.desk.stand()?.offers ?? [],
    ),
  );
  protected readonly from = computed(() => {
    const stand = this.desk.stand();
    const prices = (stand?.offers ?? []).flatMap(({ price, off }) => (price === null || off ? [] : price));
    if (!stand || !prices.length) return '';
    const least = moneyText(Math.min(...prices), stand.rules.currency);
    return prices.length > 1 ? `from ${least}` : least;
  });
}
