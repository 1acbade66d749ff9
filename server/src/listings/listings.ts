import { createHash } from 'node:crypto';
import type {
  Job,
  KeptListing,
  KeptPriceRule,
  ListingAnswer,
  ListingCheck,
  ListingPicture,
  OutsideCall,
  PrintFile,
  PublishStep,
} from '@kettle/contract';
import { canonicalJson, isInRoom, type Requirement } from '@kettle/core/model';
import { fileNameOf, safeName } from '@kettle/core/naming';
import {
  amountText,
  emptyListing,
  fittingTags,
  filledText,
  offersBroken,
  offersOn,
  picturesBroken,
  textBroken,
  textOn,
  type ChannelRules,
  type ChannelRulesFields,
  type ListingFields,
  type ListingText,
  type Offer,
  type PriceRule,
} from '@kettle/core/listing';
import type { Caller } from '../floor/basics/caller.js';
import { PICTURE } from '../mockups/picture.js';
import type { BlankService } from '../mockups/blanks.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { OutsidePlaces } from '../floor/outside/line.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { ListingStore } from './listing-store.js';
import type { CallStore } from '../floor/outside/call-store.js';
import type { WantedFile, WantedListing } from './markets/market.js';
import type { PublicationStore, StoredPublication } from './publication-store.js';
import type { OutputStore, StoredOutput } from '../making/output-store.js';
import type { SettingStore } from '../floor/database/setting-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { DesignService } from '../designs/designs.js';
import type { PictureOutputService } from '../mockups/picture-outputs.js';
import type { OutputService } from '../making/outputs.js';
import type { OwnThings } from '../floor/database/own-things.js';
import { AnswerCache } from '../floor/basics/answer-cache.js';

/** Kind of the steps that speak to markets. */
export const PUBLISH = 'publish';
export const PUBLISH_ENGINE = 1;
/** Tags of other listings that are proposed. */
const MOST_EARLIER = 40;
/** Listings that are offered to begin from. */
const MOST_KEPT = 100;
/** Tries to change a listing that is being typed in. */
const MOST_TRIES = 5;

/** A design with all that a listing of it is judged by. */
interface ListingContext {
  readonly design: StoredDesign;
  readonly listing: ListingFields;
  /** 0 for one that was never saved. */
  readonly savedRevision: number;
  readonly requirements: readonly Requirement[];
  readonly files: readonly PrintFile[];
  readonly rules: readonly ChannelRules[];
  readonly pictures: readonly (ListingPicture & { readonly output: StoredOutput })[];
  readonly clip: StoredOutput | null;
  readonly publications: readonly StoredPublication[];
}

/** What it works with. */
export interface ListingDeps {
  readonly designs: DesignService;
  readonly outputs: OutputService;
  readonly pictureOutputs: PictureOutputService;
  readonly outputStore: OutputStore;
  readonly reader: DesignReader;
  readonly blanks: BlankService;
  readonly listingStore: ListingStore;
  readonly publications: PublicationStore;
  readonly calls: CallStore;
  readonly channelRules: OwnThings<ChannelRulesFields>;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly markets: OutsidePlaces;
  readonly settings: SettingStore;
}

/** What designs are sold with, and how they get onto markets. */
export class ListingService {
  /** Sizes of pictures by their content. */
  private readonly sizes = new AnswerCache<{ width: number; height: number }>(2000);

  constructor(private readonly deps: ListingDeps) {}

  async get(who: Caller, designId: string): Promise<ListingAnswer> {
    const context = await this.contextOf(who, designId);
    return {
      savedRevision: context.savedRevision,
      fields: context.listing,
      pictures: context.pictures.map(({ output: _output, ...picture }) => picture),
      checks: await this.checks(who, context),
      earlierTags: fittingTags(
        context.listing,
        context.design.document.name,
        await this.deps.listingStore.tags(who.owner, designId, MOST_EARLIER),
      ),
    };
  }

  /** Listings that others can begin from. */
  kept(who: Caller): Promise<KeptListing[]> {
    return this.deps.listingStore.list(who.owner, MOST_KEPT);
  }

  /** Price rules that are kept under names. */
  async priceRules(who: Caller): Promise<readonly KeptPriceRule[]> {
    return (await this.deps.settings.get<readonly KeptPriceRule[]>(who.owner, 'price-rules')) ?? [];
  }

  async keepPriceRules(who: Caller, rules: readonly KeptPriceRule[]): Promise<readonly KeptPriceRule[]> {
    await this.deps.settings.put(who.owner, 'price-rules', rules);
    return rules;
  }

  /** Puts a price rule into the listings of designs. Prices that were set by hand stay. @returns how many it changed */
  async applyPrices(who: Caller, designIds: readonly string[], prices: PriceRule): Promise<number> {
    let changed = 0;
    for (const designId of new Set(designIds)) {
      const { outline } = await this.deps.designs.get(who, designId);
      // Somebody who types in one of them just now is not in the way: it is read and written again.
      for (let tries = 0; tries < MOST_TRIES; tries++) {
        const { revision, ...fields } = (await this.deps.listingStore.get(who.owner, designId)) ?? {
          ...emptyListing(outline.name),
          revision: 0,
        };
        if (fields.prices.factor === prices.factor && fields.prices.ending === prices.ending) break;
        if (await this.deps.listingStore.save(designId, revision, { ...fields, prices })) {
          changed++;
          break;
        }
      }
    }
    return changed;
  }

  /** @throws ProblemError 412 when it was changed since `revision` */
  async save(who: Caller, designId: string, revision: number, fields: ListingFields): Promise<ListingAnswer> {
    await this.deps.designs.get(who, designId);
    if (!(await this.deps.listingStore.save(designId, revision, fields)))
      throw new ProblemError(
        412,
        'stale-revision',
        'This listing was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
      );
    return this.get(who, designId);
  }

  /**
   * Sends a design's listing to markets, each by a step of its own.
   * @throws ProblemError 409 with what is to be mended first, before anything is sent
   */
  async publish(who: Caller, designId: string, channels: readonly string[], draft = false): Promise<Job> {
    const context = await this.contextOf(who, designId);
    const checks = await this.checks(who, context);
    const wanted: { rules: ChannelRules; listing: WantedListing }[] = [];
    for (const id of new Set(channels)) {
      const rules = context.rules.find((one) => one.id === id);
      const check = checks.find((one) => one.rulesId === id);
      if (!rules || !check)
        throw new ProblemError(404, 'no-such-channel', 'There are no rules of a channel with this id.');
      if (!check.connected)
        throw new ProblemError(
          409,
          'not-connected',
          `${rules.channel} is not connected, so listings are carried there by hand.`,
        );
      const wrong = [...check.broken.map(({ sentence }) => sentence), ...check.missing];
      if (wrong.length)
        throw new ProblemError(409, 'not-as-demanded', `${rules.channel} would refuse this: ${wrong.join(' ')}`);
      const { listing } = await this.wantedOn(who, context, rules);
      wanted.push({ rules, listing: draft ? { ...listing, draft } : listing });
    }
    return this.deps.outputs.queue(who, { kind: PUBLISH, design: context.design }, async (within) => {
      const steps = [];
      for (const { rules, listing } of wanted) {
        const of = { designId, rulesId: rules.id, channel: rules.channel };
        const id = await this.deps.publications.want(within, who.owner, of, listing);
        steps.push(this.step(id, designId, 'publish', rules.channel));
      }
      return steps;
    });
  }

  async takeDown(who: Caller, id: string): Promise<Job> {
    const found = await this.publication(who, id);
    const design = await this.deps.designs.get(who, found.designId);
    return this.deps.outputs.queue(who, { kind: PUBLISH, design }, async (within) => {
      await this.deps.publications.takesDown(within, id);
      return [this.step(id, found.designId, 'take-down', found.channel)];
    });
  }

  async calls(who: Caller, id: string): Promise<OutsideCall[]> {
    await this.publication(who, id);
    return this.deps.calls.of({ publicationId: id });
  }

  private async publication(who: Caller, id: string): Promise<StoredPublication> {
    const found = await this.deps.publications.get(who.owner, id);
    if (!found) throw new ProblemError(404, 'no-such-publication', 'This design is not on a market under this id.');
    return found;
  }

  private step(publicationId: string, designId: string, what: PublishStep['what'], channel: string) {
    const payload: PublishStep = { publicationId, designId, what, filename: channel };
    return { kind: PUBLISH, engine: PUBLISH_ENGINE, payload };
  }

  private async contextOf(who: Caller, designId: string): Promise<ListingContext> {
    const design = await this.deps.designs.get(who, designId);
    const listing = await this.deps.listingStore.get(who.owner, designId);
    const { revision: savedRevision, ...fields } = listing ?? { ...emptyListing(design.outline.name), revision: 0 };
    const current = new Set(
      (await this.deps.pictureOutputs.picturesOf(who, designId))
        .filter(({ outOfDate }) => !outOfDate)
        .map(({ id }) => id),
    );
    const stored = (await this.deps.outputStore.ofDesign(PICTURE.kind, designId)).filter(({ id }) => current.has(id));
    const blanks = await this.deps.blanks.of(who);
    const pictures = await Promise.all(
      stored.map(async (output) => {
        const { request } = output.record as { request: { blankId: string; behind?: unknown } };
        const blank = blanks.find(({ id }) => id === request.blankId);
        return {
          id: output.id,
          filename: output.filename,
          ...(await this.sizeOf(output)),
          plain: request.behind === undefined && blank !== undefined && !isInRoom(blank),
          output,
        };
      }),
    );
    const clip = fields.clip ? await this.deps.outputStore.get(who.owner, 'clip', fields.clip) : null;
    return {
      design,
      listing: fields,
      savedRevision,
      requirements: await this.deps.reader.requirementsOf(who),
      files: await this.deps.outputs.printFilesOf(who, designId),
      rules: (await this.deps.channelRules.list(who)) as readonly ChannelRules[],
      pictures,
      clip,
      publications: await this.deps.publications.of(who.owner, designId),
    };
  }

  private sizeOf({ sha256 }: StoredOutput): Promise<{ width: number; height: number }> {
    return this.sizes.get(sha256, async () => {
      const { width, height } = await this.deps.pools.view.run('readPicture', {
        path: await this.deps.blobs.localPath(sha256),
      });
      return { width, height };
    });
  }

  /** Each channel that the design has a target of. */
  private async checks(who: Caller, context: ListingContext): Promise<ListingCheck[]> {
    const { requirements } = context;
    const channels = new Set(
      context.design.outline.targets.map(
        ({ requirementId }) => requirements.find(({ id }) => id === requirementId)?.channel,
      ),
    );
    const checks: ListingCheck[] = [];
    for (const rules of context.rules.filter(({ channel }) => channels.has(channel))) {
      const { listing, missing } = await this.wantedOn(who, context, rules);
      const publication = context.publications.find(({ rulesId }) => rulesId === rules.id) ?? null;
      const offers = offersOn(context.listing, rules, context.design.outline.targets, requirements);
      checks.push({
        rulesId: rules.id,
        broken: [
          ...textBroken(rules, this.textOf(context, rules, offers)),
          ...picturesBroken(rules, this.chosen(context), listing.clip !== null),
          ...offersBroken(offers).map((sentence) => ({ field: 'prices' as const, sentence })),
        ],
        missing,
        publication: publication && publicationOf(publication),
        changed: publication ? differences(publication, listing) : [],
        connected: rules.by !== null && this.deps.markets.has(rules.by),
      });
    }
    return checks;
  }

  private chosen({ listing, pictures }: ListingContext): ListingContext['pictures'] {
    if (!listing.pictures) return pictures;
    return listing.pictures.flatMap((id) => pictures.find((one) => one.id === id) ?? []);
  }

  private textOf({ design, listing }: ListingContext, rules: ChannelRules, offers: readonly Offer[]): ListingText {
    return filledText(textOn(listing, rules.id), design.outline.name, offers);
  }

  /** What would be on a channel, and what of its files is missing. */
  private async wantedOn(
    who: Caller,
    context: ListingContext,
    rules: ChannelRules,
  ): Promise<{ listing: WantedListing; missing: string[] }> {
    const { design, listing, requirements, files } = context;
    const missing: string[] = [];
    const products: WantedListing['products'][number][] = [];
    const offers = offersOn(listing, rules, design.outline.targets, requirements);
    for (const offer of offers) {
      if (offer.off) continue;
      const own = files.filter((file) => file.requirementId === offer.requirementId && !file.outOfDate);
      // The newest of each version.
      const newest = own.filter(
        (file, i) => own.findIndex((other) => String(other.standsFor) === String(file.standsFor)) === i,
      );
      if (!newest.length) missing.push(`The print file of ${offer.name} is not made, or out of date. Make it first.`);
      else if (newest.some(({ accepted }) => !accepted))
        missing.push(`The print file of ${offer.name} does not hold what is demanded of it.`);
      products.push({
        requirementId: offer.requirementId,
        name: offer.name,
        product: offer.product,
        price: offer.price ?? 0,
        colours: offer.colourways,
        files: await Promise.all(
          newest.map(async ({ id }) => fileOf((await this.deps.outputStore.any(who.owner, id))!)),
        ),
      });
    }
    const text = this.textOf(context, rules, offers);
    const pictures = this.chosen(context).map(({ output }, i) => ({
      ...fileOf(output),
      filename: safeName(
        `${String(i + 1).padStart(2, '0')}-${fileNameOf(text.title)}`,
        output.filename.split('.').at(-1)!,
      ),
    }));
    const clip = context.clip && rules.clip !== 'none' ? fileOf(context.clip) : null;
    return { listing: { ...text, currency: rules.currency, products, pictures, clip }, missing };
  }
}

const fileOf = ({ filename, mediaType, sha256, bytes }: StoredOutput): WantedFile => ({
  filename,
  mediaType,
  sha256,
  bytes,
});

/** What the seller is told of a publication. */
export const publicationOf = ({
  id,
  designId,
  rulesId,
  channel,
  state,
  url,
  reasons,
  changedAt,
}: StoredPublication) => ({ id, designId, rulesId, channel, state, url, reasons, changedAt });

/** SHA-256 of what is to be on a market, hex. */
export const hashOfWanted = (listing: WantedListing): string =>
  createHash('sha256').update(canonicalJson(listing)).digest('hex');

/** A draft says the same as what is live. */
const withoutDraft = ({ draft: _draft, ...listing }: WantedListing): WantedListing => listing;

/** What would be sent otherwise than what is there, in words. */
function differences(publication: StoredPublication, now: WantedListing): string[] {
  const { sent: before } = publication;
  if (!before || hashOfWanted(withoutDraft(before)) === hashOfWanted(withoutDraft(now))) return [];
  const changed: string[] = [];
  for (const field of ['title', 'description'] as const)
    if (before[field] !== now[field]) changed.push(`another ${field}`);
  if (before.tags.join('\n') !== now.tags.join('\n')) changed.push('other tags');
  for (const product of now.products) {
    const old = before.products.find(({ requirementId }) => requirementId === product.requirementId);
    if (!old) changed.push(`${product.name} is new`);
    else {
      if (old.price !== product.price)
        changed.push(
          `${product.name} for ${amountText(product.price, now.currency)} instead of ${amountText(old.price, before.currency)} ${now.currency}`,
        );
      if (old.colours.map(({ hex }) => hex).join() !== product.colours.map(({ hex }) => hex).join())
        changed.push(`${product.name} in other colours`);
      if (old.files.map(({ sha256 }) => sha256).join() !== product.files.map(({ sha256 }) => sha256).join())
        changed.push(`another print file of ${product.name}`);
    }
  }
  for (const old of before.products)
    if (!now.products.some(({ requirementId }) => requirementId === old.requirementId))
      changed.push(`${old.name} is gone`);
  if (before.pictures.map(({ sha256 }) => sha256).join() !== now.pictures.map(({ sha256 }) => sha256).join())
    changed.push('other pictures');
  if (before.clip?.sha256 !== now.clip?.sha256) changed.push('another clip');
  return changed;
}
