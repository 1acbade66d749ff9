import type { HandingKind, Publication, PublicationState, PublishedReason, ShopOrderState } from '@kettle/contract';
import { parseJson, type Database, type Queryable } from '../floor/database/database.js';
import { noteEvent } from '../documents/design-events.js';
import type { WantedListing } from './markets/market.js';
import { newId } from '../floor/database/ids.js';

export interface StoredPublication extends Publication {
  readonly owner: string;
  readonly generation: number;
  readonly wanted: WantedListing;
  /** What the market has; null when it has nothing. */
  readonly sent: WantedListing | null;
  readonly remoteId: string | null;
}

interface Row {
  id: string;
  owner: string;
  design_id: string;
  rules_id: string;
  channel: string;
  state: PublicationState;
  generation: number;
  wanted: unknown;
  sent: unknown;
  remote_id: string | null;
  url: string | null;
  reasons: unknown;
  changed_at: Date;
}

const toPublication = (row: Row): StoredPublication => ({
  id: row.id,
  owner: row.owner,
  designId: row.design_id,
  rulesId: row.rules_id,
  channel: row.channel,
  state: row.state,
  generation: Number(row.generation),
  wanted: parseJson<WantedListing>(row.wanted),
  sent: row.sent === null ? null : parseJson<WantedListing>(row.sent),
  remoteId: row.remote_id,
  url: row.url,
  reasons: parseJson<PublishedReason[]>(row.reasons),
  changedAt: row.changed_at.toISOString(),
});

/** What a listing is called towards its market: the same for every try to make it. */
export const referenceOf = ({ id, generation }: Pick<StoredPublication, 'id' | 'generation'>): string =>
  `${id}-${generation}`;

/** What has happened when a listing comes into a state. */
const HAPPENED: Readonly<Partial<Record<PublicationState, HandingKind>>> = {
  checking: 'sent',
  draft: 'sent',
  live: 'live',
  refused: 'refused',
  'sold-out': 'sold-out',
  down: 'taken-down',
};

/** Designs on markets. */
export class PublicationStore {
  constructor(private readonly database: Database) {}

  async of(owner: string, designId: string): Promise<StoredPublication[]> {
    return (
      await this.database.rows<Row>('SELECT * FROM publication WHERE owner = ? AND design_id = ? ORDER BY channel', [
        owner,
        designId,
      ])
    ).map(toPublication);
  }

  /**
   * How designs stand with those they were handed to: on markets by `design channel`, at print shops, the newest order, by
   * `design requirement`.
   */
  async statesOf(designIds: readonly string[]): Promise<ReadonlyMap<string, PublicationState | ShopOrderState>> {
    if (!designIds.length) return new Map();
    const rows = await this.database.rowsOnce<{
      design_id: string;
      about: string;
      state: PublicationState | ShopOrderState;
    }>(
      `SELECT design_id, channel AS about, state, changed_at AS at FROM publication WHERE design_id IN (?)
       UNION ALL SELECT design_id, requirement_id, state, made_at FROM shop_order WHERE design_id IN (?) ORDER BY at`,
      [designIds, designIds],
    );
    return new Map(rows.map(({ design_id, about, state }) => [`${design_id} ${about}`, state]));
  }

  async get(owner: string, id: string): Promise<StoredPublication | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM publication WHERE id = ? AND owner = ?', [id, owner]);
    return row ? toPublication(row) : null;
  }

  /** The one that a market was told of under a reference (`referenceOf`), unless it was taken down since. */
  async byReference(reference: string): Promise<StoredPublication | null> {
    const [row] = await this.database.rows<Row>(
      "SELECT * FROM publication WHERE CONCAT(id, '-', generation) = ? AND id = ?",
      [reference, reference.replace(/-\d+$/, '')],
    );
    return row ? toPublication(row) : null;
  }

  async byRemote(channelIds: readonly string[], remoteId: string): Promise<StoredPublication | null> {
    const rows = await this.database.rows<Row>('SELECT * FROM publication WHERE remote_id = ?', [remoteId]);
    return rows.map(toPublication).find(({ rulesId }) => channelIds.includes(rulesId)) ?? null;
  }

  /** Says what is to be on a channel, within what sends it. There is one of a design for each, whoever asks at the same time. */
  async want(
    within: Queryable,
    owner: string,
    of: { readonly designId: string; readonly rulesId: string; readonly channel: string },
    wanted: WantedListing,
  ): Promise<string> {
    await within.change(
      `INSERT INTO publication (id, owner, design_id, rules_id, channel, state, wanted, reasons)
       VALUES (?, ?, ?, ?, ?, 'waiting', ?, '[]')
       ON DUPLICATE KEY UPDATE wanted = VALUES(wanted), channel = VALUES(channel), state = 'waiting', reasons = '[]'`,
      [newId(), owner, of.designId, of.rulesId, of.channel, JSON.stringify(wanted)],
    );
    const [{ id }] = await within.rows<{ id: string }>(
      'SELECT id FROM publication WHERE design_id = ? AND rules_id = ?',
      [of.designId, of.rulesId],
    );
    return id;
  }

  async become(
    id: string,
    change: {
      readonly state: PublicationState;
      readonly reasons?: readonly PublishedReason[];
      readonly remoteId?: string | null;
      readonly url?: string | null;
      readonly sent?: WantedListing;
    },
  ): Promise<void> {
    const { state, reasons = [] } = change;
    const [names, values]: [string[], (string | null)[]] = [
      ['state = ?', 'reasons = ?'],
      [state, JSON.stringify(reasons)],
    ];
    if (change.remoteId !== undefined) {
      names.push('remote_id = ?');
      values.push(change.remoteId);
    }
    if (change.url !== undefined) {
      names.push('url = ?');
      values.push(change.url);
    }
    if (change.sent !== undefined) {
      names.push('sent = ?');
      values.push(JSON.stringify(change.sent));
    }
    await this.turn(id, (within) =>
      within.change(`UPDATE publication SET ${names.join(', ')} WHERE id = ?`, [...values, id]),
    );
  }

  /** Notes that it is to be taken down, within what does it. */
  async takesDown(within: Queryable, id: string): Promise<void> {
    await within.change("UPDATE publication SET state = 'taking-down', reasons = '[]' WHERE id = ?", [id]);
  }

  /** Notes that a market looks at it, unless its own answer came before this. */
  async checking(id: string, remoteId: string | null, sent: WantedListing): Promise<void> {
    await this.turn(id, (within) =>
      within.change(
        `UPDATE publication SET remote_id = ?, sent = ?, reasons = IF(state = 'sending', '[]', reasons),
           state = IF(state = 'sending', 'checking', state) WHERE id = ?`,
        [remoteId, JSON.stringify(sent), id],
      ),
    );
  }

  /** Notes that it is gone from its market: what is published after that is another listing there. */
  async goneDown(id: string): Promise<void> {
    await this.turn(id, (within) =>
      within.change(
        `UPDATE publication SET state = 'down', generation = generation + 1, remote_id = NULL, url = NULL, sent = NULL,
           answered_at = NULL, reasons = '[]' WHERE id = ?`,
        [id],
      ),
    );
  }

  /**
   * Takes a market's own answer, unless a newer one was taken before.
   * @param of.remoteId the market's name for the listing: the worker that was told it may be gone before it wrote it down
   */
  async answered(
    id: string,
    at: Date,
    of: {
      readonly state: PublicationState;
      readonly reasons: readonly PublishedReason[];
      readonly url: string | null;
      readonly remoteId: string | null;
    },
  ): Promise<void> {
    const { state, reasons, url, remoteId } = of;
    await this.turn(id, (within) =>
      within.change(
        `UPDATE publication SET state = ?, reasons = ?, url = COALESCE(?, url), remote_id = COALESCE(remote_id, ?),
           answered_at = ? WHERE id = ? AND (answered_at IS NULL OR answered_at <= ?)`,
        [state, JSON.stringify(reasons), url, remoteId, at, id, at],
      ),
    );
  }

  /** Changes one, and notes beside it what has happened by that. */
  private async turn(id: string, change: (within: Queryable) => Promise<number>): Promise<void> {
    await this.database.transaction(async (within) => {
      const [before] = await within.rows<Row>('SELECT * FROM publication WHERE id = ? FOR UPDATE', [id]);
      if (!before || !(await change(within))) return;
      const [after] = await within.rows<Row>('SELECT * FROM publication WHERE id = ?', [id]);
      const kind = HAPPENED[after.state];
      if (!kind || after.state === before.state) return;
      await noteEvent(within, {
        owner: after.owner,
        designId: after.design_id,
        kind,
        whom: after.channel,
        said: parseJson<PublishedReason[]>(after.reasons)
          .map(({ text }) => text)
          .join(' '),
      });
    });
  }

  /** An answer with this number is new again. */
  async forgetNumber(market: string, nonce: string): Promise<void> {
    await this.database.change('DELETE FROM market_answer WHERE market = ? AND nonce = ?', [market, nonce]);
  }

  /** False when an answer with this number was taken before. */
  async isNew(market: string, nonce: string): Promise<boolean> {
    return (
      (await this.database.change('INSERT IGNORE INTO market_answer (market, nonce) VALUES (?, ?)', [market, nonce])) >
      0
    );
  }
}
