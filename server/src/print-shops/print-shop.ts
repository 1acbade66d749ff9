import type { ShopPlace } from '@kettle/contract';
import type { OrderSheet, RunPrice } from '@kettle/core/orders';
import { strange, textOr, type OutsideLine } from '../floor/outside/line.js';

/** A print file on its way to a print shop. */
export interface ShopSending {
  /** Our name for the order: the same for all of its rounds. */
  readonly reference: string;
  readonly round: number;
  readonly sheet: OrderSheet;
  readonly file: { readonly filename: string; readonly sha256: string; readonly bytes: number };
  readonly content: () => Promise<Buffer>;
}

/** What a print shop says of a round. */
export interface ShopAnswer {
  readonly state: 'looking' | 'yes' | 'mend';
  readonly remarks: readonly {
    readonly text: string;
    readonly where: ShopPlace | null;
    readonly picture: Buffer | null;
  }[];
  readonly price: (RunPrice & { readonly currency: string }) | null;
  readonly days: number | null;
}

/** Most remarks that are read of one answer, and longest saying of one. */
const MOST_REMARKS = 40;
const MOST_LETTERS = 500;
/** The eight bytes that every PNG begins with (PNG, 5.2). */
const PNG = Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);

/** Hands in the order sheet, then the file unless the shop has it. @returns the shop's name for the order */
export async function sendToShop(
  { reference, round, sheet, file, content }: ShopSending,
  line: OutsideLine,
): Promise<string> {
  const key = `${reference}-${round}`;
  const { product: garment, size, colour, position, copies, note } = sheet;
  const asked = await line.call({
    method: 'POST',
    path: '/orders',
    about: round === 1 ? 'hands in the order sheet' : `hands in the order sheet, round ${round}`,
    key,
    json: {
      reference,
      round,
      sheet: { garment, size, colour: colour.name, position, copies, note },
      file: { name: file.filename, sha256: file.sha256, bytes: file.bytes },
    },
  });
  const order = textOr(asked.body['order'], null);
  if (asked.status >= 300 || !order) throw strange(asked.status);
  if (asked.body['wants'] === true) {
    const { status } = await line.call({
      method: 'PUT',
      path: `/orders/${encodeURIComponent(order)}/files/${file.sha256}`,
      about: `hands in ${file.filename}`,
      bytes: await content(),
    });
    if (status >= 300) throw strange(status);
  }
  return order;
}

/** Asks how an order stands, and fetches the pictures of its remarks. */
export async function askShop(order: string, round: number, line: OutsideLine): Promise<ShopAnswer> {
  const path = `/orders/${encodeURIComponent(order)}`;
  const { status, body } = await line.call({ method: 'GET', path, about: 'asks for the answer' });
  if (status >= 300) throw strange(status);
  const said = body['round'] === round ? body['state'] : 'looking';
  if (said !== 'yes' && said !== 'mend') return { state: 'looking', remarks: [], price: null, days: null };
  const remarks: ShopAnswer['remarks'][number][] = [];
  for (const one of (Array.isArray(body['remarks']) ? body['remarks'] : []).slice(0, MOST_REMARKS) as unknown[]) {
    const { text, where, picture } = (one ?? {}) as Record<string, unknown>;
    if (typeof text !== 'string') continue;
    remarks.push({
      text: text.slice(0, MOST_LETTERS),
      where: placeOf(where),
      picture:
        typeof picture === 'string' && /^[\w-]{1,40}$/.test(picture) ? await pictureOf(path, picture, line) : null,
    });
  }
  return { state: said, remarks, price: priceOf(body['price']), days: whole(body['days']) };
}

/** A picture it drew; null for anything but a PNG. */
async function pictureOf(path: string, name: string, line: OutsideLine): Promise<Buffer | null> {
  const { status, bytes } = await line.call({
    method: 'GET',
    path: `${path}/pictures/${name}`,
    about: 'fetches a picture of the place',
  });
  return status === 200 && bytes.subarray(0, PNG.length).equals(PNG) ? bytes : null;
}

const whole = (value: unknown): number | null =>
  typeof value === 'number' && Number.isSafeInteger(value) && value >= 0 && value <= 1e9 ? value : null;

function placeOf(value: unknown): ShopPlace | null {
  const { x, y, width, height } = (value ?? {}) as Record<string, unknown>;
  const [left, top, wide, tall] = [whole(x), whole(y), whole(width), whole(height)];
  return left === null || top === null || !wide || !tall ? null : { x: left, y: top, width: wide, height: tall };
}

function priceOf(value: unknown): ShopAnswer['price'] {
  const { each, setUp, total, currency } = (value ?? {}) as Record<string, unknown>;
  const [one, once, all] = [whole(each), whole(setUp), whole(total)];
  return one === null || once === null || all === null || typeof currency !== 'string' || !/^[A-Z]{3}$/.test(currency)
    ? null
    : { each: one, setUp: once, total: all, currency };
}
