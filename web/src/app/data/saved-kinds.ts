import type { ListingAnswer, SavedDesign } from '@kettle/contract';
import type { DesignDocument } from '@kettle/core/model';
import type { ClipRequirement, ClipRequirementFields } from '@kettle/core/clip';
import type { ChannelRules, ChannelRulesFields, ListingFields } from '@kettle/core/listing';
import type { PrintShop, PrintShopFields } from '@kettle/core/orders';
import { map, type Observable } from 'rxjs';
import type { Api } from './api';

/** A kind of thing that is saved by itself while it is changed. */
export interface SavedKind<A, V> {
  /** Begins the keys of its drafts. */
  readonly prefix: string;
  /** Sends it in place of a revision of the server’s. */
  readonly put: (ask: Api['ask'], id: string, revision: number, value: V) => Observable<A>;
  /** What the server has; undefined when it is not there any more. */
  readonly get: (api: Api, id: string) => Observable<A | undefined>;
  /** True when what was taken off cannot be put back. */
  readonly isGoneForGood?: true;
  /** What of an answer is changed by the seller, and its revision. */
  readonly read: (answer: A) => { readonly revision: number; readonly value: V };
}

const kind = <A, V>(fields: SavedKind<A, V>): SavedKind<A, V> => fields;

/** What is a few fields under an id. */
const fieldsOf = <T extends object>({
  id: _id,
  revision,
  shipped: _shipped,
  ...value
}: T & { id: string; revision: number; shipped: boolean }) => ({ revision, value });

const byId = <T extends { readonly id: string }>(
  all: Observable<readonly T[]>,
  id: string,
): Observable<T | undefined> => all.pipe(map((list) => list.find((one) => one.id === id)));

export const DESIGN = kind<SavedDesign, DesignDocument>({
  prefix: '',
  put: (ask, id, ifMatch, body) => ask('put /api/designs/{id}', { id, ifMatch, body }),
  get: (api, id) => api.ask('get /api/designs/{id}', { id }),
  read: ({ revision, document }) => ({ revision, value: document }),
});

export const LISTING = kind<ListingAnswer, ListingFields>({
  prefix: 'listing.',
  put: (ask, id, ifMatch, body) => ask('put /api/designs/{id}/listing', { id, ifMatch, body }),
  get: (api, id) => api.ask('get /api/designs/{id}/listing', { id }),
  read: ({ savedRevision, fields }) => ({ revision: savedRevision, value: fields }),
});

export const CHANNEL = kind<ChannelRules, ChannelRulesFields>({
  prefix: 'channel.',
  put: (ask, id, ifMatch, body) => ask('put /api/channel-rules/{id}', { id, ifMatch, body }),
  get: (api, id) => byId(api.ask('get /api/channel-rules'), id),
  isGoneForGood: true,
  read: fieldsOf<ChannelRules>,
});

export const PRINT_SHOP = kind<PrintShop, PrintShopFields>({
  prefix: 'shop.',
  put: (ask, id, ifMatch, body) => ask('put /api/print-shops/{id}', { id, ifMatch, body }),
  get: (api, id) => byId(api.ask('get /api/print-shops'), id),
  isGoneForGood: true,
  read: fieldsOf<PrintShop>,
});

export const CLIP_REQUIREMENT = kind<ClipRequirement, ClipRequirementFields>({
  prefix: 'clip-requirement.',
  put: (ask, id, ifMatch, body) => ask('put /api/clip-requirements/{id}', { id, ifMatch, body }),
  get: (api, id) => byId(api.ask('get /api/clip-requirements'), id),
  isGoneForGood: true,
  read: fieldsOf<ClipRequirement>,
});

/** The kind whose draft has this key, and the id in it. Designs have keys without a prefix. */
export function kindOfDraft(key: string): { readonly kind: SavedKind<unknown, unknown>; readonly id: string } {
  const found = [LISTING, CHANNEL, PRINT_SHOP, CLIP_REQUIREMENT].find(({ prefix }) => key.startsWith(prefix)) ?? DESIGN;
  return { kind: found as SavedKind<unknown, unknown>, id: key.slice(found.prefix.length) };
}
