import { channelRulesSchema } from '@kettle/contract';
import type { ChannelRulesFields } from '@kettle/core/listing';
import type { DesignRoom } from '../designs/room.js';
import { OwnFieldsStore } from '../floor/database/own-fields.js';
import { CHANNEL_RULES } from '../floor/files/shipped.js';
import { OwnThings } from '../floor/database/own-things.js';
import type { MakingRoom } from '../making/room.js';
import type { MockupRoom } from '../mockups/room.js';
import type { Ground } from '../render/render-pools.js';
import { ListingStore } from './listing-store.js';
import { ListingService } from './listings.js';
import { PublicationStore } from './publication-store.js';
import { publishKind } from './publish.js';

const RULES_WORDS = { code: 'channel', name: 'channel', folder: CHANNEL_RULES, schema: channelRulesSchema };

export async function openListings(house: Ground & DesignRoom & MakingRoom & MockupRoom) {
  const { database, log, kinds } = house;
  const listingStore = new ListingStore(database);
  const publications = new PublicationStore(database);
  const rulesStore = new OwnFieldsStore<ChannelRulesFields>(database, 'channel_rules');
  const channelRules = await OwnThings.open(RULES_WORDS, rulesStore, log);
  const known = { ...house, listingStore, publications, channelRules };
  kinds.push(publishKind(known));
  return { listingStore, publications, channelRules, listings: new ListingService(known) };
}

export type ListingRoom = Awaited<ReturnType<typeof openListings>>;
