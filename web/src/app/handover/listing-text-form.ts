import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { lettersOf, MOST_LISTING, type ListingField } from '@kettle/core/listing';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { ChipRow, chip } from '../units/chips';
import { TypedValue } from '../units/typed-value';
import { ListingDesk } from './listing-desk';

/** Title, description, tags and pictures: one text for all channels, and others where a channel needs them. */
@Component({
  selector: 'ks-listing-text-form',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, MatIconModule, TypedValue],
  templateUrl: './listing-text-form.html',
  styleUrl: './listing-text-form.scss',
})
export class ListingTextForm {
  private readonly api = inject(Api);
  protected readonly desk = inject(ListingDesk);
  protected readonly most = MOST_LISTING;
  protected readonly letters = lettersOf;
  private readonly designId = inject(Editor).desk.id;
  private readonly kept = new Loaded(() => this.api.ask('get /api/listings'), { of: 'Listings of other designs' });
  private readonly files = new Loaded(
    () => {
      const id = this.designId();
      return id ? this.api.ask('get /api/designs/{id}/clips', { id }) : null;
    },
    { of: 'The clips of this design' },
  );
  /** Clips of the design that are as it is now, the newest first. */
  protected readonly clips = computed(() => (this.files.value() ?? []).filter(({ outOfDate }) => !outOfDate));
  /** Listings of other designs. */
  protected readonly others = computed(() =>
    (this.kept.value() ?? []).filter((one) => one.designId !== this.designId()),
  );
  /** Channels whose rules the text that is changed has to hold. */
  private readonly judged = computed(() => {
    const id = this.desk.textOf();
    return this.desk.stands().filter(({ rules }) => id === null || rules.id === id);
  });

  /** Whose text is changed: all channels', or that of one. */
  protected readonly whose = computed(() => {
    const { desk } = this;
    const of = desk.textOf();
    return [
      chip('For all channels', () => desk.textOf.set(null), { on: of === null }),
      ...desk.stands().map(({ rules: { id, channel } }) =>
        chip(
          `${channel}${this.hasOwn(id) ? ', its own' : ''}`,
          () => {
            desk.textOf.set(id);
            desk.chosen.set(id);
          },
          { on: of === id },
        ),
      ),
      of !== null && this.hasOwn(of) && chip('As all others again', () => desk.asOthers(of)),
    ];
  });
  protected readonly proposed = computed(() =>
    this.desk.proposed().map((one) => chip(`+ ${one}`, () => this.add([one]))),
  );

  /** How much each channel allows, beside the field. */
  protected room(field: 'title' | 'description'): string {
    return this.judged()
      .map(({ rules }) => `${rules.channel} ${rules[field].least} to ${rules[field].most}`)
      .join(' · ');
  }

  /** What is wrong with a field, each sentence once, with the channels that say so. */
  protected wrong(field: ListingField): readonly string[] {
    const by = new Map<string, string[]>();
    for (const { rules, broken } of this.judged())
      for (const one of broken)
        if (one.field === field) by.set(one.sentence, [...(by.get(one.sentence) ?? []), rules.channel]);
    return [...by].map(([sentence, channels]) => `${channels.join(', ')}: ${sentence}`);
  }

  protected setClip(id: string): void {
    this.desk.change(({ clip: _clip, ...fields }) => (id ? { ...fields, clip: id } : fields));
  }

  private hasOwn(id: string): boolean {
    return Object.keys(this.desk.fields()?.exceptions[id] ?? {}).length > 0;
  }

  protected beginFrom(box: HTMLSelectElement): void {
    const other = this.others().find((one) => one.designId === box.value);
    box.value = '';
    if (other) this.desk.beginFrom(other);
  }

  protected addTags(box: HTMLInputElement): void {
    const typed = box.value
      .split(',')
      .map((tag) => tag.trim())
      .filter(Boolean);
    box.value = '';
    this.add(typed);
  }

  private add(wanted: readonly string[]): void {
    const { tags } = this.desk.text();
    const fresh = wanted.filter((tag) => !tags.some((one) => one.toLowerCase() === tag.toLowerCase()));
    if (fresh.length) this.desk.write({ tags: [...tags, ...fresh].slice(0, MOST_LISTING.tags) });
  }

  protected removeTag(tag: string): void {
    this.desk.write({ tags: this.desk.text().tags.filter((one) => one !== tag) });
  }

  protected togglePicture(id: string): void {
    const shown = this.desk.shown().map((one) => one.id);
    this.put(shown.includes(id) ? shown.filter((one) => one !== id) : [...shown, id]);
  }

  protected movePicture(event: Event, id: string, by: number): void {
    event.preventDefault();
    const shown = this.desk.shown().map((one) => one.id);
    const [from, to] = [shown.indexOf(id), shown.indexOf(id) + by];
    if (from < 0 || to < 0 || to >= shown.length) return;
    this.put(shown.toSpliced(from, 1).toSpliced(to, 0, id));
  }

  private put(pictures: readonly string[]): void {
    this.desk.change((fields) => ({ ...fields, pictures }));
  }

  protected order(id: string): number {
    return this.desk.shown().findIndex((one) => one.id === id) + 1;
  }
}
