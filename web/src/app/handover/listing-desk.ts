import { Injectable, OnDestroy, computed, effect, inject, signal, untracked } from '@angular/core';
import type { KeptListing, ListingCheck, ListingPicture, Publication } from '@kettle/contract';
import type { Colourway } from '@kettle/core/model';
import {
  begunFrom,
  filledText,
  offersBroken,
  offersOn,
  picturesBroken,
  proposedTags,
  textBroken,
  textOn,
  type Broken,
  type ChannelRules,
  type ListedProduct,
  type ListingException,
  type ListingFields,
  type ListingText,
  type Offer,
} from '@kettle/core/listing';
import { firstValueFrom } from 'rxjs';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { waitBefore } from '../data/again';
import { Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { sentenceOf } from '../data/problems';
import { RequirementShelf } from '../data/requirement-shelf';
import { LISTING } from '../data/saved-kinds';
import { Saving } from '../data/saving';
import { JobFeed } from '../jobs/job-feed';
import { isAwaited, LOOK_MS } from './publications';

/** Tags that are proposed at a time. */
const MOST_PROPOSED = 10;

/** A channel as the station shows it. */
export interface Stand {
  readonly rules: ChannelRules;
  readonly check: ListingCheck;
  readonly offers: readonly Offer[];
  /** What it would refuse of the listing as it is typed just now. */
  readonly broken: readonly Broken[];
  readonly publication: Publication | null;
}

/** The listing of the design that is open: changed here, saved by itself, judged as it is typed. */
@Injectable()
export class ListingDesk implements OnDestroy {
  private readonly api = inject(Api);
  private readonly desk = inject(Editor).desk;
  private readonly notices = inject(Notices);
  private readonly feed = inject(JobFeed);
  private readonly requirements = inject(RequirementShelf);
  private readonly rules = new Loaded(() => this.api.ask('get /api/channel-rules'), { of: 'What channels demand' });
  readonly saving = new Saving(LISTING);
  private readonly answer = this.saving.answer;
  /** As it is typed; null while it is not there. */
  readonly fields = this.saving.value;
  readonly failed = signal('');
  /** Whose text is changed: that of all channels when null. */
  readonly textOf = signal<string | null>(null);
  readonly chosen = signal<string | null>(null);
  private looking: ReturnType<typeof setTimeout> | undefined;
  /** How often it could not be loaded, one time after the other. */
  private misses = 0;
  private ended = false;

  readonly pictures = computed<readonly ListingPicture[]>(() => this.answer()?.pictures ?? []);
  /** Pictures that are shown, in their order. */
  readonly shown = computed<readonly ListingPicture[]>(() => {
    const chosen = this.fields()?.pictures;
    return chosen ? chosen.flatMap((id) => this.pictures().find((one) => one.id === id) ?? []) : this.pictures();
  });

  /** True while it is not known what channels demand. */
  readonly isWithoutRules = computed(() => this.rules.value() === null);

  readonly designName = computed(() => this.desk.document()?.name ?? '');

  readonly stands = computed<readonly Stand[]>(() => {
    const [answer, fields] = [this.answer(), this.fields()];
    const { targets = [], name = '' } = this.desk.document() ?? {};
    if (!answer || !fields) return [];
    return answer.checks.flatMap((check) => {
      const rules = this.rules.value()?.find(({ id }) => id === check.rulesId);
      if (!rules) return [];
      const offers = offersOn(fields, rules, targets, this.requirements.all());
      return {
        rules,
        check,
        offers,
        broken: [
          ...textBroken(rules, filledText(textOn(fields, rules.id), name, offers)),
          ...picturesBroken(rules, this.shown(), fields.clip !== undefined),
          ...offersBroken(offers).map((sentence) => ({ field: 'prices' as const, sentence })),
        ],
        publication: check.publication,
      };
    });
  });
  readonly stand = computed<Stand | null>(
    () => this.stands().find(({ rules }) => rules.id === this.chosen()) ?? this.stands()[0] ?? null,
  );
  /** True while a market has still to be heard of. */
  private readonly waits = computed(() => this.stands().some(({ publication }) => isAwaited(publication)));
  /** The text that is changed. */
  readonly text = computed<ListingText>(() => {
    const fields = this.fields();
    const { title = '', description = '', tags = [] } = fields ? textOn(fields, this.textOf() ?? '') : {};
    return { title, description, tags };
  });
  readonly proposed = computed(() => proposedTags(this.text(), this.answer()?.earlierTags ?? [], MOST_PROPOSED));
  /** Changes whenever what is made, sent or saved of the design may have changed how it stands. */
  private readonly standing = computed(() => {
    const id = this.desk.id();
    const runs = ['publish', 'print-files', 'pictures'].map((kind) => this.feed.runningFor(id, kind).length);
    return id && `${id} ${this.desk.revision()} ${runs.join(' ')}`;
  });

  constructor() {
    effect(() => {
      if (this.standing()) untracked(() => void this.load(this.desk.id()!));
    });
    effect(() => {
      if (this.waits()) untracked(() => this.lookAgain());
    });
  }

  ngOnDestroy(): void {
    this.ended = true;
    clearTimeout(this.looking);
  }

  /** Looks for the market's answer as long as one is waited for, though the server may be away in between. */
  private lookAgain(): void {
    clearTimeout(this.looking);
    this.looking = setTimeout(async () => {
      const id = this.desk.id();
      if (id) await this.load(id);
      if (this.waits() && !this.ended) this.lookAgain();
    }, LOOK_MS);
  }

  /** Asks for it now, where it could not be loaded. */
  again(): void {
    const id = this.desk.id();
    if (id) void this.load(id);
  }

  private async load(id: string): Promise<void> {
    const answer = await firstValueFrom(this.api.ask('get /api/designs/{id}/listing', { id })).catch(
      (error: unknown) => {
        if (!this.answer()) {
          this.failed.set(`The listing could not be loaded: ${sentenceOf(error)}`);
          if (!this.ended) this.looking = setTimeout(() => void this.load(id), waitBefore(this.misses++));
        } else if (this.saving.state() === 'saved') this.notices.complain(error);
        return null;
      },
    );
    if (!answer || this.ended || this.desk.id() !== id) return;
    this.failed.set('');
    this.misses = 0;
    this.saving.look(id, answer);
  }

  /** Changes the listing. */
  change(change: (fields: ListingFields) => ListingFields): void {
    this.saving.change(change);
  }

  /** Begins as another design's listing, in one step. */
  beginFrom({ name, fields }: KeptListing): void {
    const own = this.desk.document()?.name ?? '';
    this.change(({ pictures, clip, products }) => ({
      ...begunFrom(fields, name, own),
      products,
      ...(pictures ? { pictures } : {}),
      ...(clip === undefined ? {} : { clip }),
    }));
  }

  /** Changes the text of all channels, or that of the one that is chosen. */
  write(text: Partial<ListingText>): void {
    const id = this.textOf();
    if (id === null) this.change((fields) => ({ ...fields, ...text }));
    else this.except(id, text);
  }

  except(rulesId: string, change: Partial<ListingException>): void {
    this.change((fields) => ({
      ...fields,
      exceptions: { ...fields.exceptions, [rulesId]: { ...fields.exceptions[rulesId], ...change } },
    }));
  }

  /** A channel says what all others say again. */
  asOthers(rulesId: string): void {
    this.change((fields) => {
      const { [rulesId]: _own, ...exceptions } = fields.exceptions;
      return { ...fields, exceptions };
    });
  }

  product(requirementId: string, change: Partial<Record<keyof ListedProduct, unknown>>): void {
    this.change((fields) => {
      const product = Object.fromEntries(
        Object.entries({ ...fields.products[requirementId], ...change }).filter(([, value]) => value !== undefined),
      );
      return { ...fields, products: { ...fields.products, [requirementId]: product as ListedProduct } };
    });
  }

  /** All colours a product comes in. */
  coloursOf(requirementId: string): readonly Colourway[] {
    return this.requirements.all().find(({ id }) => id === requirementId)?.colourways ?? [];
  }

  async publish(channels: readonly string[], draft = false): Promise<void> {
    const id = this.desk.id();
    if (!id) return;
    try {
      await firstValueFrom(this.saving.whenSaved());
      await firstValueFrom(this.api.ask('post /api/designs/{id}/publications', { id, body: { channels, draft } }));
      await this.load(id);
    } catch (error) {
      this.notices.complain(error);
    }
  }

  async takeDown(publication: Publication): Promise<void> {
    try {
      await firstValueFrom(this.api.ask('post /api/publications/{id}/take-down', { id: publication.id }));
      await this.load(publication.designId);
    } catch (error) {
      this.notices.complain(error);
    }
  }
}
