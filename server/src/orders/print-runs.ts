import type { InterestChange, PrintRun } from '@kettle/contract';
import { clothOf } from '@kettle/core/document';
import { fileNameOf, safeName, uniqueNames } from '@kettle/core/naming';
import { moneyText } from '@kettle/core/listing';
import {
  MOST_INTERESTS,
  orderLines,
  priceOfRun,
  readInterest,
  type InterestFields,
  type OrderLine,
  type PrintRunFields,
  type PrintRunState,
  type PrintShop,
  type PrintShopFields,
  type ReadInterest,
} from '@kettle/core/orders';
import { stringify } from 'csv-stringify/sync';
import { randomUUID } from 'node:crypto';
import { mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import yazl from 'yazl';
import type { Caller } from '../floor/basics/caller.js';
import type { RenderPools } from '../render/render-pools.js';
import type { Paper } from '../render/press/paper.js';
import { readRows } from '../documents/part-table.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { newLink } from '../floor/safety/secrets.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { PrintRunStore, StoredPrintRun } from './print-run-store.js';
import type { DesignService } from '../designs/designs.js';
import type { PictureOutputService } from '../mockups/picture-outputs.js';
import type { OutputService } from '../making/outputs.js';
import type { OwnThings } from '../floor/database/own-things.js';

/** Entries that come by the public page: beyond them somebody plays with it. */
const MOST_BY_PAGE = 2000;
const AS_IT_IS = { mtime: new Date(2026, 0, 1), mode: 0o100644, compress: false } as const;

/** States that a run can come into from another. */
const NEXT: Readonly<Record<PrintRunState, readonly PrintRunState[]>> = {
  open: ['closed'],
  closed: ['open', 'ordered'],
  ordered: ['closed', 'delivered'],
  delivered: ['ordered'],
};

/** What happened to what somebody entered on the public page. */
export type Entered = { readonly back: string } | { readonly wrong: string };

/** What it works with. */
export interface PrintRunDeps {
  readonly designs: DesignService;
  readonly outputs: OutputService;
  readonly pictureOutputs: PictureOutputService;
  readonly printRunStore: PrintRunStore;
  readonly printShops: OwnThings<PrintShopFields>;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** Orders in hand: gathered until a print is worth it, then ordered and delivered. */
export class PrintRunService {
  constructor(private readonly deps: PrintRunDeps) {}

  async list(who: Caller, designId: string): Promise<PrintRun[]> {
    await this.deps.designs.get(who, designId);
    return (await this.deps.printRunStore.of(who.owner, designId)).map(runOf);
  }

  async get(who: Caller, id: string): Promise<PrintRun> {
    return runOf(await this.run(who, id));
  }

  async add(who: Caller, designId: string, fields: PrintRunFields): Promise<PrintRun> {
    await this.deps.designs.get(who, designId);
    return this.get(who, await this.deps.printRunStore.add(who.owner, designId, fields));
  }

  /** @throws ProblemError 412 when it was changed since, 409 once it is ordered */
  async change(who: Caller, id: string, revision: number, fields: PrintRunFields): Promise<PrintRun> {
    await this.run(who, id);
    const done = await this.deps.printRunStore.change(id, revision, fields);
    if (done === 'ordered') throw new ProblemError(409, 'ordered', 'This print is ordered already. Begin another one.');
    if (done === 'stale')
      throw new ProblemError(
        412,
        'stale-revision',
        'This print was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
      );
    return this.get(who, id);
  }

  async remove(who: Caller, id: string): Promise<void> {
    await this.run(who, id);
    await this.deps.printRunStore.remove(id);
  }

  async addInterests(
    who: Caller,
    id: string,
    form: string,
    source: 'typed' | 'table',
    interests: readonly InterestFields[],
  ): Promise<PrintRun> {
    const run = await this.run(who, id);
    for (const one of interests) demandOffered(run, one);
    const added = await this.deps.printRunStore.addInterests(id, form, source, interests, MOST_INTERESTS);
    if (added === 'closed')
      throw new ProblemError(409, 'run-closed', 'This print is closed. Open it again to add somebody.');
    if (added === 'full')
      throw new ProblemError(409, 'run-full', `A print holds ${MOST_INTERESTS} entries. Nobody was added.`);
    return this.get(who, id);
  }

  /** Reads a table without adding anybody. @throws ProblemError 422 for what is no text */
  async readTable(who: Caller, id: string, bytes: Buffer): Promise<ReadInterest> {
    const run = await this.run(who, id);
    const text = bytes.toString('utf8');
    if (bytes.includes(0) || text.includes('\ufffd'))
      throw new ProblemError(
        422,
        'no-table',
        'This is not a table of text. Save it as CSV (UTF-8), or paste its cells.',
      );
    const head = text.slice(0, text.search(/\n|$/));
    const rows = await readRows(text, {
      delimiter: head.includes('\t') ? '\t' : [',', ';'],
      most: MOST_INTERESTS,
      skipsEmpty: true,
    });
    return readInterest(run, rows);
  }

  async changeInterest(who: Caller, id: string, interestId: string, change: InterestChange): Promise<PrintRun> {
    await this.run(who, id);
    if (!(await this.deps.printRunStore.changeInterest(id, interestId, change))) throw noEntry();
    return this.get(who, id);
  }

  async removeInterest(who: Caller, id: string, interestId: string): Promise<PrintRun> {
    await this.run(who, id);
    if (!(await this.deps.printRunStore.removeInterest(id, interestId))) throw noEntry();
    return this.get(who, id);
  }

  async erase(who: Caller, id: string): Promise<PrintRun> {
    await this.run(who, id);
    await this.deps.printRunStore.erase(id, null);
    return this.get(who, id);
  }

  async link(who: Caller, id: string, open: boolean): Promise<PrintRun> {
    await this.run(who, id);
    await this.deps.printRunStore.link(id, open ? newLink() : null);
    return this.get(who, id);
  }

  /** @throws ProblemError 409 where one state does not follow the other, or nobody wants anything */
  async become(who: Caller, id: string, state: PrintRunState): Promise<PrintRun> {
    const run = await this.run(who, id);
    if (run.state === state) return runOf(run);
    if (!NEXT[run.state].includes(state))
      throw new ProblemError(409, 'not-now', `A print that is ${run.state} cannot become ${state}.`);
    if (state === 'ordered' && !orderLines(run, run.interests).length)
      throw new ProblemError(409, 'nothing-ordered', 'Nobody wants one yet, so there is nothing to order.');
    const ordered = state === 'ordered' ? await this.orderedOf(who, run) : null;
    if (!(await this.deps.printRunStore.become(run, state, ordered)))
      throw new ProblemError(409, 'changed-meanwhile', 'This print was changed elsewhere just now. Look at it again.');
    return this.get(who, id);
  }

  /** The order sheet and the print files it needs. @throws ProblemError 409 where a file is not made */
  async orderSheet(
    who: Caller,
    id: string,
  ): Promise<{ readonly name: string; readonly stream: NodeJS.ReadableStream; readonly length: number }> {
    const run = await this.run(who, id);
    const shop = (await this.deps.printShops.get(who, run.shopId)) as PrintShop;
    const { lines, price } = run.ordered ?? (await this.orderedOf(who, run));
    if (!lines.length)
      throw new ProblemError(409, 'nothing-ordered', 'Nobody wants one yet, so there is nothing to order.');
    const files = await this.filesFor(who, run, lines);
    const names = uniqueNames(files.map(({ filename }) => filename));
    const zip = new yazl.ZipFile();
    for (const [i, { sha256, bytes }] of files.entries())
      zip.addReadStreamLazy(names[i], { ...AS_IT_IS, size: bytes }, (give) =>
        give(
          null,
          this.deps.blobs.stream(sha256).on('error', (error: Error) => (zip.outputStream as Readable).destroy(error)),
        ),
      );
    const fileFor = (hex: string): string => names[files.findIndex((file) => servesCloth(file, hex))];
    const table = lines.map(({ size, colour, copies }) => ({
      size,
      colour: colour.name,
      hex: colour.hex,
      copies,
      position: run.position,
      file: fileFor(colour.hex),
    }));
    const csv = stringify(table, { header: true, bom: true, escape_formulas: true, record_delimiter: '\r\n' });
    zip.addBuffer(Buffer.from(csv), 'order-sheet.csv', AS_IT_IS);
    zip.addBuffer(await this.paper(orderPaper(run, shop, lines, price, names)), 'order-sheet.pdf', AS_IT_IS);
    const length = await new Promise<number>((resolve) =>
      zip.end({ forceZip64Format: false, comment: '' }, resolve as () => void),
    );
    return { name: safeName(`${fileNameOf(run.designName)}-order`, 'zip'), stream: zip.outputStream, length };
  }

  /** The open run under a public link; null where there is none. */
  byLink(token: string): Promise<StoredPrintRun | null> {
    return /^[\w-]{22}$/.test(token) ? this.deps.printRunStore.byToken(token) : Promise.resolve(null);
  }

  /** What is shown of it on its public page. */
  async shownOf(run: StoredPrintRun): Promise<{ readonly id: string; readonly alt: string }[]> {
    return (await this.deps.pictureOutputs.picturesOf({ owner: run.owner }, run.designId))
      .filter(({ outOfDate }) => !outOfDate)
      .slice(0, 3)
      .map(({ id, colourway }) => ({ id, alt: `${run.designName}, ${colourway}` }));
  }

  /** A picture that its public page shows. @throws ProblemError 404 for any other */
  async shownPicture(run: StoredPrintRun, id: string) {
    if (!(await this.shownOf(run)).some((one) => one.id === id))
      throw new ProblemError(404, 'no-such-picture', 'There is no such picture here.');
    return this.deps.pictureOutputs.picture({ owner: run.owner }, id);
  }

  /** Somebody enters the public page. */
  async enter(run: StoredPrintRun, form: string, interest: InterestFields): Promise<Entered> {
    try {
      demandOffered(run, interest);
    } catch (error) {
      return { wrong: (error as Error).message };
    }
    const back = newLink();
    const added = await this.deps.printRunStore.addInterests(
      run.id,
      form,
      'page',
      [{ ...interest, deposit: 0 }],
      MOST_BY_PAGE,
      back,
    );
    if (added === 'closed') return { wrong: 'This print was closed just now. Nothing was noted.' };
    if (added === 'full') return { wrong: 'Very many have asked for this print already. Write to the seller instead.' };
    return { back: added === 'added' ? back : '' };
  }

  takeBack(run: StoredPrintRun, back: string): Promise<boolean> {
    return /^[\w-]{22}$/.test(back) ? this.deps.printRunStore.takeBack(run.id, back) : Promise.resolve(false);
  }

  /** @throws ProblemError 404 */
  private async run(who: Caller, id: string): Promise<StoredPrintRun> {
    const run = await this.deps.printRunStore.get(who.owner, id);
    if (!run) throw new ProblemError(404, 'no-such-run', 'There are no orders in hand with this id.');
    return run;
  }

  private async orderedOf(who: Caller, run: StoredPrintRun) {
    const lines = orderLines(run, run.interests);
    const shop = await this.deps.printShops.get(who, run.shopId);
    return {
      lines,
      price: priceOfRun(
        shop,
        lines.reduce((sum, { copies }) => sum + copies, 0),
      ),
    };
  }

  /** A print file for each cloth that is ordered. */
  private async filesFor(who: Caller, run: StoredPrintRun, lines: readonly OrderLine[]) {
    const current = (await this.deps.outputs.printFilesOf(who, run.designId)).filter(
      (file) => file.requirementId === run.requirementId && !file.outOfDate,
    );
    const files: typeof current = [];
    for (const { colour } of lines) {
      const file = current.find((one) => servesCloth(one, colour.hex));
      if (!file)
        throw new ProblemError(
          409,
          'no-print-file',
          `The print file for ${colour.name} is not made, or out of date. Make it under Files first.`,
        );
      if (!files.includes(file)) files.push(file);
    }
    return files;
  }

  private async paper(paper: Paper): Promise<Buffer> {
    const folder = join(this.deps.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const path = join(folder, `${randomUUID()}.pdf`);
    try {
      await this.deps.pools.view.run('paper', { paper, files: {}, out: path });
      return await readFile(path);
    } finally {
      await rm(path, { force: true });
    }
  }
}

const noEntry = (): ProblemError => new ProblemError(404, 'no-such-entry', 'There is no such entry in this print.');

/** True when a print file is for a cloth of this colour. */
const servesCloth = (
  { standsFor }: { readonly standsFor: readonly ('light' | 'dark' | null)[] },
  hex: string,
): boolean => standsFor.includes(null) || standsFor.includes(clothOf(hex));

/** @throws ProblemError 422 for a size or a colour that the run does not have */
function demandOffered({ sizes, colours }: PrintRunFields, { size, colour }: InterestFields): void {
  if (!sizes.includes(size))
    throw new ProblemError(422, 'not-offered', `There is no size “${size}” here. There is ${sizes.join(', ')}.`);
  if (!colours.some(({ name }) => name === colour))
    throw new ProblemError(
      422,
      'not-offered',
      `There is no colour “${colour}” here. There is ${colours.map(({ name }) => name).join(', ')}.`,
    );
}

const runOf = ({ owner: _owner, token, ...run }: StoredPrintRun): PrintRun => ({
  ...run,
  path: token && `/i/${token}`,
});

/** The order sheet on paper. */
function orderPaper(
  run: StoredPrintRun,
  shop: PrintShop,
  lines: readonly OrderLine[],
  price: ReturnType<typeof priceOfRun>,
  files: readonly string[],
): Paper {
  const copies = lines.reduce((sum, one) => sum + one.copies, 0);
  return {
    title: `Order sheet: ${run.name}`,
    under: `${run.designName} for ${shop.channel}, ${run.position}`,
    blocks: [
      { kind: 'row', cells: ['Size', 'Colour', 'Copies'], bold: true },
      ...lines.map(({ size, colour, copies: count }) => ({
        kind: 'row' as const,
        cells: [size, `${colour.name} ${colour.hex}`, String(count)],
      })),
      { kind: 'row', cells: ['', 'in all', String(copies)], bold: true },
      ...(price
        ? [
            {
              kind: 'text' as const,
              text: `${moneyText(price.each, shop.currency)} each and ${moneyText(price.setUp, shop.currency)} to set up: ${moneyText(price.total, shop.currency)}.`,
            },
          ]
        : []),
      { kind: 'heading', text: 'Print files' },
      ...files.map((text) => ({ kind: 'text' as const, text })),
    ],
    at: run.orderedAt ?? run.madeAt,
  };
}
