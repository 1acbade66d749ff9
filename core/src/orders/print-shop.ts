import { fileTypeWords } from '../requirement/file-kinds.js';
import type { FileType, RequirementFields } from '../model/requirement.js';

/** From how many copies on one costs how much. */
export interface PriceBreak {
  readonly from: number;
  /** Minor units. */
  readonly each: number;
}

/** Print shops that orders are sent to, by how they are reached. */
export const PRINT_SHOP_WAYS = ['print-shop', 'transfer-shop'] as const;
export type PrintShopWay = (typeof PRINT_SHOP_WAYS)[number];

/** A print shop as far as an order has to know it. Data, as requirements are. */
export interface PrintShopFields {
  /** As its requirements name it. */
  readonly channel: string;
  /** ISO 4217. */
  readonly currency: string;
  /** Sizes of garments it prints on. */
  readonly sizes: readonly string[];
  /** Where it prints, in its words. */
  readonly positions: readonly string[];
  /** In rising order of copies. */
  readonly breaks: readonly PriceBreak[];
  /** Once for an order, minor units. */
  readonly setUp: number;
  /** Days from a yes to the parcel. */
  readonly days: number;
  /** Kinds of files it prints from; absent where that is not known. */
  readonly takes?: readonly FileType[];
  /** How orders are sent there; null for a shop that they are carried to by hand. */
  readonly by: PrintShopWay | null;
}

export interface PrintShop extends PrintShopFields {
  readonly id: string;
  readonly revision: number;
  readonly shipped: boolean;
}

/**
 * Why a print shop cannot print from files of a requirement, or null when it can, or when nobody knows what it takes.
 * @param files kinds that the file can be, or is
 */
export function notTaken(
  { channel, takes }: Pick<PrintShopFields, 'channel' | 'takes'>,
  { name }: Pick<RequirementFields, 'name'>,
  files: readonly FileType[],
): string | null {
  if (!takes?.length || files.some((type) => takes.includes(type))) return null;
  return `${channel} prints from ${fileTypeWords(takes)}. The file of ${name} is ${fileTypeWords(files)}: choose another, or change its requirement.`;
}

/** What is to be printed on what, how often. */
export interface OrderSheet {
  readonly requirementId: string;
  /** Words of the requirement. */
  readonly product: string;
  readonly size: string;
  readonly colour: { readonly name: string; readonly hex: string };
  readonly position: string;
  readonly copies: number;
  readonly note: string;
}

/** Most copies of one order. */
export const MOST_COPIES = 100_000;

/** What so many copies cost. Minor units. */
export interface RunPrice {
  readonly each: number;
  readonly setUp: number;
  readonly total: number;
}

/** @returns null where the shop does not print so few */
export function priceOfRun(
  { breaks, setUp }: Pick<PrintShopFields, 'breaks' | 'setUp'>,
  copies: number,
): RunPrice | null {
  const found = breaks.findLast(({ from }) => from <= copies);
  return found && copies > 0 ? { each: found.each, setUp, total: found.each * copies + setUp } : null;
}

/** The next break: how many copies are missing until one costs less. Null above the last one. */
export function nextBreak(
  { breaks }: Pick<PrintShopFields, 'breaks'>,
  copies: number,
): (PriceBreak & { readonly missing: number }) | null {
  const found = breaks.find(({ from }) => from > copies);
  return found ? { ...found, missing: found.from - copies } : null;
}
