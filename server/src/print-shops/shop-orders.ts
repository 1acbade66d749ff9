import {
  findingsOfOrder,
  type Job,
  type OutsideCall,
  type SentFileRecord,
  type ShopOrder,
  type ShopOrderRequest,
  type ShopStep,
} from '@kettle/contract';
import { FILE_TYPES, type Requirement } from '@kettle/core/model';
import { fileKind } from '@kettle/core/requirement';
import { clothOf } from '@kettle/core/document';
import type { Finding } from '@kettle/core/checks';
import { notTaken, type OrderSheet, type PrintShopFields } from '@kettle/core/orders';
import type { Caller } from '../floor/basics/caller.js';
import type { DesignReader } from '../designs/design-reader.js';
import type { OutsidePlaces } from '../floor/outside/line.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { CallStore } from '../floor/outside/call-store.js';
import type { NewStep } from '../floor/queue/job-store.js';
import type { OutputStore } from '../making/output-store.js';
import type { ShopOrderStore, StoredShopOrder } from './shop-order-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import type { DesignService } from '../designs/designs.js';
import type { OutputService } from '../making/outputs.js';
import type { OwnThings } from '../floor/database/own-things.js';

/** Kind of the steps that speak to print shops. */
export const SHOP_ORDER = 'shop-order';
export const SHOP_ORDER_ENGINE = 1;

/** What it works with. */
export interface ShopOrderDeps {
  readonly designs: DesignService;
  readonly outputs: OutputService;
  readonly outputStore: OutputStore;
  readonly reader: DesignReader;
  readonly shopOrderStore: ShopOrderStore;
  readonly calls: CallStore;
  readonly printShops: OwnThings<PrintShopFields>;
  readonly markets: OutsidePlaces;
}

/** Print files at print shops: sent with an order sheet, answered, mended, sent again. */
export class ShopOrderService {
  constructor(private readonly deps: ShopOrderDeps) {}

  async list(who: Caller, designId: string): Promise<ShopOrder[]> {
    const design = await this.deps.designs.get(who, designId);
    const orders = await this.deps.shopOrderStore.of(who.owner, designId);
    const files = orders.length ? await this.deps.outputs.madeOf(who, designId) : [];
    return orders.map((order) => {
      const sent = order.rounds.at(-1)!.file;
      const { owner: _owner, round: _round, remoteId: _remote, ...shown } = order;
      return {
        ...shown,
        changedSince:
          design.outline.targets.every(({ requirementId }) => requirementId !== order.requirementId) ||
          !files.some((file) => file.sha256 === sent.sha256 && !file.outOfDate),
      };
    });
  }

  /** @throws ProblemError 409 where the file is not made or the shop is not connected */
  async send(who: Caller, designId: string, asked: ShopOrderRequest): Promise<Job> {
    const design = await this.deps.designs.get(who, designId);
    const shop = await this.deps.printShops.get(who, asked.shopId);
    this.demandConnected(shop);
    const requirement = await this.deps.reader.requirement(who, asked.requirementId);
    const colour = requirement.colourways.find(({ name }) => name === asked.colour);
    for (const [given, known, what] of [
      [asked.size, shop.sizes, 'size'],
      [asked.position, shop.positions, 'position'],
      [asked.colour, requirement.colourways.map(({ name }) => name), 'colour'],
    ] as const)
      if (!known.includes(given))
        throw new ProblemError(
          422,
          'not-as-demanded',
          `${shop.channel} has no ${what} “${given}”. It has ${known.join(', ')}.`,
        );
    const sheet: OrderSheet = {
      requirementId: requirement.id,
      product: requirement.product,
      size: asked.size,
      colour: colour!,
      position: asked.position,
      copies: asked.copies,
      note: asked.note,
    };
    const file = await this.printFile(who, design, requirement, sheet);
    const type = FILE_TYPES.filter((one) => file.filename.endsWith(`.${fileKind(one).extension}`));
    const refused = notTaken(shop, requirement, type);
    if (refused) throw new ProblemError(422, 'not-as-demanded', refused);
    const order = { owner: who.owner, designId, shopId: shop.id, shop: shop.channel, sheet };
    return this.deps.outputs.queue(who, { kind: SHOP_ORDER, design }, async (within) => [
      stepOf(design, { id: await this.deps.shopOrderStore.add(within, order, file), shop: shop.channel }, 'send'),
    ]);
  }

  /** Sends the file as it is now. @throws ProblemError 409 while it is as it was sent, or on its way */
  async again(who: Caller, id: string): Promise<Job> {
    const order = await this.order(who, id);
    const design = await this.deps.designs.get(who, order.designId);
    this.demandConnected(await this.deps.printShops.get(who, order.shopId));
    if (order.state === 'failed') return this.step(who, design, order, 'send');
    if (order.state !== 'yes' && order.state !== 'mend')
      throw new ProblemError(409, 'under-way', `${order.shop} has not answered the last one yet.`);
    const requirement = await this.deps.reader.requirement(who, order.requirementId);
    const file = await this.printFile(who, design, requirement, order.sheet);
    if (file.sha256 === order.rounds.at(-1)!.file.sha256)
      throw new ProblemError(
        409,
        'nothing-new',
        `${order.shop} has this very file already. Mend the design, make its print file, then send it.`,
      );
    return this.deps.outputs.queue(who, { kind: SHOP_ORDER, design }, async (within) => {
      if (!(await this.deps.shopOrderStore.again(within, order.id, order.round, file)))
        throw new ProblemError(409, 'under-way', 'This is being sent already.');
      return [stepOf(design, order, 'send')];
    });
  }

  async ask(who: Caller, id: string): Promise<Job> {
    const order = await this.order(who, id);
    if (!order.remoteId) throw new ProblemError(409, 'not-sent', `${order.shop} does not have it yet.`);
    return this.step(who, await this.deps.designs.get(who, order.designId), order, 'ask');
  }

  /** A print shop says by itself that it has an answer: it is asked for it. */
  async told(reference: string): Promise<void> {
    const order = await this.deps.shopOrderStore.byReference(reference);
    if (!order) throw new ProblemError(404, 'no-such-order', 'There is no such order here.');
    const who = { owner: order.owner };
    await this.step(who, await this.deps.designs.get(who, order.designId), order, 'ask');
  }

  async callsOf(who: Caller, id: string): Promise<OutsideCall[]> {
    await this.order(who, id);
    return this.deps.calls.of({ shopOrderId: id });
  }

  /**
   * A file of an order's thread: one that was sent has its name, a picture that the shop drew has none.
   * @throws ProblemError 404 for a file that is not of this thread
   */
  async file(
    who: Caller,
    id: string,
    sha256: string,
  ): Promise<{ readonly sha256: string; readonly name: string | null }> {
    const { rounds } = await this.order(who, id);
    if (!/^[0-9a-f]{64}$/.test(sha256) || !(await this.deps.shopOrderStore.hasFile(id, sha256)))
      throw new ProblemError(404, 'no-such-file', 'This file does not belong to this order.');
    return { sha256, name: rounds.find(({ file }) => file.sha256 === sha256)?.file.filename ?? null };
  }

  /** What print shops said of a design's target, as findings from outside, until they have seen a newer file. */
  async findings(who: Caller, designId: string, requirementId: string): Promise<Finding[]> {
    return (await this.list(who, designId))
      .filter((order) => order.requirementId === requirementId)
      .flatMap(findingsOfOrder);
  }

  private async order(who: Caller, id: string): Promise<StoredShopOrder> {
    const order = await this.deps.shopOrderStore.get(who.owner, id);
    if (!order) throw new ProblemError(404, 'no-such-order', 'There is no order with this id.');
    return order;
  }

  private demandConnected({ channel, by }: PrintShopFields): void {
    if (!by || !this.deps.markets.has(by))
      throw new ProblemError(409, 'not-connected', `${channel} is not connected: take the file there by hand.`);
  }

  /** The newest file for the cloth that is ordered. */
  private async printFile(
    who: Caller,
    design: StoredDesign,
    requirement: Requirement,
    { colour }: OrderSheet,
  ): Promise<SentFileRecord> {
    const cloth = clothOf(colour.hex);
    const found = (await this.deps.outputs.printFilesOf(who, design.id)).find(
      (file) =>
        file.requirementId === requirement.id &&
        !file.outOfDate &&
        (file.standsFor.includes(cloth) || file.standsFor.includes(null)),
    );
    if (!found)
      throw new ProblemError(
        409,
        'no-print-file',
        `The print file of ${requirement.name} is not made, or out of date. Make it first.`,
      );
    const { filename, sha256, bytes } = found;
    return {
      filename,
      sha256,
      bytes,
      revision: (await this.deps.outputStore.any(who.owner, found.id))?.revision ?? null,
      dpi: requirement.dpi,
    };
  }

  private step(who: Caller, design: StoredDesign, order: OrderOfStep, what: ShopStep['what']): Promise<Job> {
    return this.deps.outputs.queue(who, { kind: SHOP_ORDER, design }, [stepOf(design, order, what)]);
  }
}

type OrderOfStep = Pick<StoredShopOrder, 'id' | 'shop'>;

function stepOf(design: StoredDesign, { id, shop }: OrderOfStep, what: ShopStep['what']): NewStep {
  const payload: ShopStep = { orderId: id, designId: design.id, what, filename: shop };
  return { kind: SHOP_ORDER, engine: SHOP_ORDER_ENGINE, payload };
}
