import type {
  ApprovedRecord,
  ClientAlternativeRequest,
  ClientPage,
  ClientPageRequest,
  ClientWord,
  GuestWord,
  HeardOf,
  ShownAlternative,
  ShownFile,
} from '@kettle/contract';
import { MM_PER_INCH } from '@kettle/core/units';
import type { Box } from '@kettle/core/geometry';
import { safeName } from '@kettle/core/naming';
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { join } from 'node:path';
import type { Caller } from '../floor/basics/caller.js';
import type { BlankService } from '../mockups/blanks.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { newLink, secretOf } from '../floor/safety/secrets.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { MOST_WORDS, type ClientPageStore, type StoredClientPage } from './client-page-store.js';
import type { ListingStore } from '../listings/listing-store.js';
import type { OutputStore } from '../making/output-store.js';
import { approvalOf, isOpenPage } from './client-approval.js';
import { recordOf } from './client-record.js';
import type { DesignService } from '../designs/designs.js';
import type { PictureOutputService } from '../mockups/picture-outputs.js';
import type { OutputService } from '../making/outputs.js';
import { AnswerCache } from '../floor/basics/answer-cache.js';

const DAY_MS = 24 * 3600 * 1000;

/** What it works with. */
export interface ClientPageDeps {
  readonly designs: DesignService;
  readonly outputs: OutputService;
  readonly pictureOutputs: PictureOutputService;
  readonly outputStore: OutputStore;
  readonly reader: DesignReader;
  readonly blanks: BlankService;
  readonly clientPageStore: ClientPageStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly listingStore: ListingStore;
  readonly cache: string;
}

/** Pages on which clients look at designs, pick, comment and say yes. */
export class ClientPageService {
  /** Where the ink of print files lies, by their content. */
  private readonly inks = new AnswerCache<Box | null>(1000);

  constructor(private readonly deps: ClientPageDeps) {}

  async list(who: Caller, designId: string): Promise<ClientPage[]> {
    await this.deps.designs.get(who, designId);
    const pages = [];
    for (const page of await this.deps.clientPageStore.of(who.owner, designId)) pages.push(await this.shown(who, page));
    return pages;
  }

  async add(who: Caller, designId: string, asked: ClientPageRequest): Promise<ClientPage> {
    await this.deps.designs.get(who, designId);
    const alternatives = await this.alternatives(who, asked.alternatives);
    const { seller, client, note, days, passPhrase } = asked;
    const id = await this.deps.clientPageStore.add(
      {
        owner: who.owner,
        designId,
        token: newLink(),
        seller,
        client,
        pass: passPhrase ? await secretOf(passPhrase) : null,
        expiresAt: days === null ? null : new Date(Date.now() + days * DAY_MS),
      },
      note,
      alternatives,
    );
    return this.shown(who, (await this.deps.clientPageStore.get(who.owner, id))!);
  }

  /** Shows the client what the designs are now. @throws ProblemError 409 for a page that is closed */
  async show(who: Caller, id: string, note: string, asked: readonly ClientAlternativeRequest[]): Promise<ClientPage> {
    const page = await this.page(who, id);
    if (!isOpenPage(page))
      throw new ProblemError(409, 'page-closed', 'This page is closed. Make a new one for the next round.');
    if (!(await this.deps.clientPageStore.show(page, note, await this.alternatives(who, asked))))
      throw new ProblemError(409, 'shown-meanwhile', 'A newer round was shown in the meantime. Look at that first.');
    return this.shown(who, await this.page(who, id));
  }

  async answer(who: Caller, id: string, text: string, form: string): Promise<ClientPage> {
    const page = await this.page(who, id);
    this.demandRoom(page);
    const { round } = page.rounds.at(-1)!;
    await this.deps.clientPageStore.say(page, {
      round,
      kind: 'answer',
      bySeller: true,
      name: page.seller,
      text,
      alternative: null,
      pin: null,
      approved: null,
      form,
    });
    return this.shown(who, await this.page(who, id));
  }

  /** What clients said that was not read yet. */
  unseen(who: Caller): Promise<HeardOf | null> {
    return this.deps.clientPageStore.unseen(who.owner);
  }

  async seen(who: Caller, id: string): Promise<ClientPage> {
    await this.page(who, id);
    await this.deps.clientPageStore.seen(id);
    return this.shown(who, await this.page(who, id));
  }

  async withdraw(who: Caller, id: string): Promise<ClientPage> {
    await this.page(who, id);
    await this.deps.clientPageStore.withdraw(id);
    return this.shown(who, await this.page(who, id));
  }

  /** @throws ProblemError 404 */
  async page(who: Caller, id: string): Promise<StoredClientPage> {
    const page = await this.deps.clientPageStore.get(who.owner, id);
    if (!page) throw new ProblemError(404, 'no-such-page', 'There is no page with this id.');
    return page;
  }

  /** The page under a link, for whoever has it; null where there is none. */
  byLink(token: string): Promise<StoredClientPage | null> {
    return /^[\w-]{22}$/.test(token) ? this.deps.clientPageStore.byToken(token) : Promise.resolve(null);
  }

  /** Something a client says. What exactly is approved is what was shown, not what the form says. */
  async guestSays(page: StoredClientPage, word: GuestWord): Promise<void> {
    this.demandRoom(page);
    const shown = page.rounds.at(-1)!;
    if (word.round !== shown.round)
      throw new ProblemError(
        409,
        'shown-meanwhile',
        `${page.seller} has shown something newer since you opened this page. Look at it first; nothing was sent.`,
      );
    const only = shown.alternatives.length === 1 ? 0 : null;
    const alternative = word.alternative ?? only;
    const chosen = alternative === null ? undefined : shown.alternatives[alternative];
    if (word.kind === 'approval' && !chosen)
      throw new ProblemError(422, 'nothing-picked', 'Pick one of the alternatives first. Nothing was sent.');
    const { picture, x, y } = word;
    const pinned = picture !== null && x !== null && y !== null && chosen?.pictures[picture] !== undefined;
    await this.deps.clientPageStore.say(page, {
      round: shown.round,
      kind: word.kind as ClientWord['kind'],
      bySeller: false,
      name: word.name,
      text: word.text,
      alternative: chosen ? alternative : null,
      pin: pinned ? { picture, x, y } : null,
      approved: word.kind === 'approval' ? approvedOf(chosen!) : null,
      form: word.form,
    });
  }

  /** True when what was approved has changed since. */
  async changedSince(page: StoredClientPage): Promise<boolean> {
    const approved = approvalOf(page)?.approved;
    return approved ? this.hasChanged({ owner: page.owner }, approved) : false;
  }

  /** What was shown, said and approved, as a PDF in a file that the caller removes. */
  async record(who: Caller, id: string): Promise<{ readonly path: string; readonly name: string }> {
    const page = await this.page(who, id);
    const paper = recordOf(page, await this.changedSince(page));
    const files: Record<string, string> = {};
    for (const block of paper.blocks)
      if (block.kind === 'pictures')
        for (const sha256 of block.of) files[sha256] ??= await this.deps.blobs.localPath(sha256);
    const folder = join(this.deps.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const path = join(folder, `${randomUUID()}.pdf`);
    await this.deps.pools.view.run('paper', { paper, files, out: path });
    return { path, name: safeName(`${page.client}, record`, 'pdf') };
  }

  private demandRoom({ words }: StoredClientPage): void {
    if (words.length >= MOST_WORDS)
      throw new ProblemError(429, 'page-full', `This page holds ${MOST_WORDS} comments, and no more. Make a new one.`);
  }

  private async shown(who: Caller, page: StoredClientPage): Promise<ClientPage> {
    const approval = approvalOf(page);
    const { approved } = approval ?? {};
    return {
      id: page.id,
      designId: page.designId,
      seller: page.seller,
      client: page.client,
      path: `/c/${page.token}`,
      hasPassPhrase: page.pass !== null,
      expiresAt: page.expiresAt?.toISOString() ?? null,
      withdrawnAt: page.withdrawnAt?.toISOString() ?? null,
      open: isOpenPage(page),
      madeAt: page.madeAt.toISOString(),
      rounds: page.rounds,
      words: page.words,
      approval,
      changedSince: approved ? await this.hasChanged(who, approved) : false,
    };
  }

  private async hasChanged(who: Caller, { designId, print }: ApprovedRecord): Promise<boolean> {
    // A design that is gone is not what was approved either.
    return (await this.deps.outputs.printOf(who, designId).catch(() => '')) !== print;
  }

  private async alternatives(who: Caller, asked: readonly ClientAlternativeRequest[]): Promise<ShownAlternative[]> {
    const shown: ShownAlternative[] = [];
    for (const { designId, pictures, clip } of asked) {
      const design = await this.deps.designs.get(who, designId);
      const current = (await this.deps.pictureOutputs.picturesOf(who, designId)).filter(({ outOfDate }) => !outOfDate);
      // Where nobody has chosen, those that the listing shows, in its order.
      const listed = pictures.length
        ? pictures
        : ((await this.deps.listingStore.get(who.owner, designId))?.pictures ?? []);
      const wanted = listed.flatMap((id) => current.find((one) => one.id === id) ?? []);
      const chosen = wanted.length || pictures.length ? wanted : current;
      if (!chosen.length)
        throw new ProblemError(
          409,
          'no-pictures',
          `There is no current picture of ${design.outline.name} to show. Make one under Mockups first.`,
        );
      const blanks = await this.deps.blanks.of(who);
      const files: ShownFile[] = [];
      for (const { id, blankId, colourway } of chosen) {
        const { sha256, mediaType, bytes } = (await this.deps.outputStore.any(who.owner, id))!;
        const product = blanks.find((one) => one.id === blankId)?.name ?? 'a product';
        files.push({ sha256, mediaType, bytes, alt: `${design.outline.name} on ${product}, ${colourway}` });
      }
      const film = clip ? await this.deps.outputStore.get(who.owner, 'clip', clip) : null;
      shown.push({
        designId,
        name: design.outline.name,
        revision: design.revision,
        print: await this.deps.outputs.printOf(who, designId),
        pictures: files,
        clip: film && { sha256: film.sha256, mediaType: film.mediaType, bytes: film.bytes, alt: film.filename },
        ...(await this.printed(who, designId)),
      });
    }
    return shown;
  }

  private inkOf(sha256: string): Promise<Box | null> {
    return this.inks.get(sha256, async () =>
      this.deps.pools.view.run('inkOf', { path: await this.deps.blobs.localPath(sha256) }),
    );
  }

  /** Print files as they are, and how large their ink is. */
  private async printed(who: Caller, designId: string): Promise<Pick<ShownAlternative, 'sizes' | 'files'>> {
    const requirements = await this.deps.reader.requirementsOf(who);
    const current = (await this.deps.outputs.printFilesOf(who, designId)).filter(({ outOfDate }) => !outOfDate);
    const sizes: ShownAlternative['sizes'][number][] = [];
    for (const file of current) {
      const requirement = requirements.find(({ id }) => id === file.requirementId);
      const ink = requirement && (await this.inkOf(file.sha256));
      if (!ink) continue;
      const cm = (px: number): number => Math.round((px / requirement.dpi) * MM_PER_INCH) / 10;
      sizes.push({
        product: `${requirement.product || requirement.name}, ${requirement.name}`,
        widthCm: cm(ink.width),
        heightCm: cm(ink.height),
      });
    }
    return {
      sizes: sizes.filter((one, i) => sizes.findIndex(({ product }) => product === one.product) === i),
      files: current.map(({ filename: name, sha256 }) => ({ name, sha256 })),
    };
  }
}

const approvedOf = ({ designId, name, revision, print, pictures, files }: ShownAlternative): ApprovedRecord => ({
  designId,
  name,
  revision,
  print,
  files: [...files, ...pictures.map(({ alt, sha256 }) => ({ name: alt, sha256 }))],
});
