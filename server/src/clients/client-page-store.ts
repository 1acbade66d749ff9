import type {
  ApprovedRecord,
  ClientWord,
  ClientWordKind,
  HandingKind,
  HeardOf,
  ShownAlternative,
} from '@kettle/contract';
import { parseJson, type Database, type Queryable } from '../floor/database/database.js';
import { linkHash } from '../floor/safety/secrets.js';
import { noteEvent } from '../documents/design-events.js';
import type { Secret } from '../floor/safety/gate-store.js';
import { newId } from '../floor/database/ids.js';

/** What was shown in a round. */
export interface StoredRound {
  readonly round: number;
  readonly shownAt: string;
  readonly note: string;
  readonly alternatives: readonly ShownAlternative[];
}

export interface StoredClientPage {
  readonly id: string;
  readonly owner: string;
  readonly designId: string;
  readonly token: string;
  readonly seller: string;
  readonly client: string;
  readonly pass: Secret | null;
  readonly expiresAt: Date | null;
  readonly withdrawnAt: Date | null;
  readonly madeAt: Date;
  /** Oldest first. */
  readonly rounds: readonly StoredRound[];
  /** Oldest first. */
  readonly words: readonly ClientWord[];
}

export interface NewClientPage {
  readonly owner: string;
  readonly designId: string;
  readonly token: string;
  readonly seller: string;
  readonly client: string;
  readonly pass: Secret | null;
  readonly expiresAt: Date | null;
}

export interface NewWord {
  readonly round: number;
  readonly kind: ClientWordKind;
  readonly bySeller: boolean;
  readonly name: string;
  readonly text: string;
  readonly alternative: number | null;
  readonly pin: ClientWord['pin'];
  readonly approved: ApprovedRecord | null;
  readonly form: string;
}

interface Row {
  id: string;
  owner: string;
  design_id: string;
  token: string;
  seller: string;
  client: string;
  pass_salt: Buffer | null;
  pass_hash: Buffer | null;
  expires_at: Date | null;
  withdrawn_at: Date | null;
  made_at: Date;
}

/** Most pages of a design that are listed, and most words of one. */
const MOST_PAGES = 100;
export const MOST_WORDS = 500;
const EVENTS: Readonly<Partial<Record<ClientWordKind, HandingKind>>> = {
  comment: 'comment',
  change: 'change',
  approval: 'approval',
};

/** Pages for clients: what was shown, what was said. */
export class ClientPageStore {
  constructor(private readonly database: Database) {}

  /** Newest first. */
  async of(owner: string, designId: string): Promise<StoredClientPage[]> {
    return this.whole(
      await this.database.rows<Row>(
        `SELECT * FROM client_page WHERE owner = ? AND design_id = ? ORDER BY made_at DESC, id LIMIT ${MOST_PAGES}`,
        [owner, designId],
      ),
    );
  }

  async get(owner: string, id: string): Promise<StoredClientPage | null> {
    return (
      (
        await this.whole(
          await this.database.rows<Row>('SELECT * FROM client_page WHERE id = ? AND owner = ?', [id, owner]),
        )
      )[0] ?? null
    );
  }

  /** The page under a link, whoever's it is. */
  /** The page of a link; none while its design is deleted, whoever brings that back brings its page back. */
  async byToken(token: string): Promise<StoredClientPage | null> {
    return (
      (
        await this.whole(
          await this.database.rows<Row>(
            'SELECT p.* FROM client_page p JOIN design d ON d.id = p.design_id WHERE p.token_hash = ? AND d.deleted_at IS NULL',
            [linkHash(token)],
          ),
        )
      )[0] ?? null
    );
  }

  async add(page: NewClientPage, note: string, alternatives: readonly ShownAlternative[]): Promise<string> {
    const id = newId();
    await this.database.transaction(async (within) => {
      await within.change(
        `INSERT INTO client_page (id, owner, design_id, token, token_hash, seller, client, pass_salt, pass_hash, expires_at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
        [
          id,
          page.owner,
          page.designId,
          page.token,
          linkHash(page.token),
          page.seller,
          page.client,
          page.pass?.salt ?? null,
          page.pass?.hash ?? null,
          page.expiresAt,
        ],
      );
      await shows(within, { ...page, id }, 1, note, alternatives);
    });
    return id;
  }

  /** The next round of what is shown. False when somebody else showed one meanwhile. */
  async show(page: StoredClientPage, note: string, alternatives: readonly ShownAlternative[]): Promise<boolean> {
    const { round } = page.rounds.at(-1)!;
    return this.database.transaction(async (within) => {
      const [newest] = await within.rows<{ round: number }>(
        'SELECT MAX(round) AS round FROM client_round WHERE page_id = ? FOR UPDATE',
        [page.id],
      );
      if (Number(newest.round) !== round) return false;
      await shows(within, page, round + 1, note, alternatives);
      return true;
    });
  }

  /** Writes down what was said, once for each form. */
  async say(page: StoredClientPage, word: NewWord): Promise<void> {
    const { alternative, pin, approved } = word;
    await this.database.transaction(async (within) => {
      const added = await within.change(
        `INSERT IGNORE INTO client_word (page_id, round, kind, by_seller, name, text, record, form, seen_at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, IF(?, CURRENT_TIMESTAMP(3), NULL))`,
        [
          page.id,
          word.round,
          word.kind,
          word.bySeller,
          word.name,
          word.text,
          JSON.stringify({ alternative, pin, approved }),
          word.form,
          word.bySeller,
        ],
      );
      const kind = EVENTS[word.kind];
      if (added && kind) await noteEvent(within, { ...page, kind, whom: page.client, said: word.text });
    });
  }

  async seen(id: string): Promise<void> {
    await this.database.change(
      'UPDATE client_word SET seen_at = CURRENT_TIMESTAMP(3) WHERE page_id = ? AND seen_at IS NULL',
      [id],
    );
  }

  /** What clients said that was not read yet, and of which design most lately; null when all was read. */
  async unseen(owner: string): Promise<HeardOf | null> {
    const [row] = await this.database.rows<{ n: number; design_id: string | null }>(
      `SELECT COUNT(*) AS n, SUBSTRING_INDEX(GROUP_CONCAT(p.design_id ORDER BY w.id DESC), ',', 1) AS design_id
       FROM client_word w JOIN client_page p ON p.id = w.page_id JOIN design d ON d.id = p.design_id
       WHERE w.seen_at IS NULL AND p.owner = ? AND d.deleted_at IS NULL`,
      [owner],
    );
    return row.design_id === null ? null : { count: Number(row.n), designId: row.design_id };
  }

  async withdraw(id: string): Promise<void> {
    await this.database.change(
      'UPDATE client_page SET withdrawn_at = CURRENT_TIMESTAMP(3) WHERE id = ? AND withdrawn_at IS NULL',
      [id],
    );
  }

  private async whole(rows: readonly Row[]): Promise<StoredClientPage[]> {
    if (!rows.length) return [];
    const ids = rows.map(({ id }) => id);
    const [rounds, words] = await Promise.all([
      this.database.rowsOnce<{ page_id: string; round: number; shown: unknown; shown_at: Date }>(
        'SELECT * FROM client_round WHERE page_id IN (?) ORDER BY round',
        [ids],
      ),
      this.database.rowsOnce<{
        id: number;
        page_id: string;
        round: number;
        kind: ClientWordKind;
        by_seller: number;
        name: string;
        text: string;
        record: unknown;
        said_at: Date;
        seen_at: Date | null;
      }>('SELECT * FROM client_word WHERE page_id IN (?) ORDER BY id', [ids]),
    ]);
    return rows.map((row) => ({
      id: row.id,
      owner: row.owner,
      designId: row.design_id,
      token: row.token,
      seller: row.seller,
      client: row.client,
      pass: row.pass_salt && row.pass_hash ? { salt: row.pass_salt, hash: row.pass_hash } : null,
      expiresAt: row.expires_at,
      withdrawnAt: row.withdrawn_at,
      madeAt: row.made_at,
      rounds: rounds
        .filter(({ page_id }) => page_id === row.id)
        .map(({ round, shown, shown_at }) => ({
          ...parseJson<Pick<StoredRound, 'note' | 'alternatives'>>(shown),
          round: Number(round),
          shownAt: shown_at.toISOString(),
        })),
      words: words
        .filter(({ page_id }) => page_id === row.id)
        .map((word) => ({
          ...parseJson<Pick<ClientWord, 'alternative' | 'pin' | 'approved'>>(word.record),
          id: Number(word.id),
          round: Number(word.round),
          kind: word.kind,
          bySeller: Boolean(Number(word.by_seller)),
          name: word.name,
          text: word.text,
          saidAt: word.said_at.toISOString(),
          seen: word.seen_at !== null,
        })),
    }));
  }
}

async function shows(
  within: Queryable,
  page: { readonly id: string; readonly owner: string; readonly designId: string; readonly client: string },
  round: number,
  note: string,
  alternatives: readonly ShownAlternative[],
): Promise<void> {
  await within.change('INSERT INTO client_round (page_id, round, shown) VALUES (?, ?, ?)', [
    page.id,
    round,
    JSON.stringify({ note, alternatives }),
  ]);
  for (const { pictures, clip } of alternatives)
    for (const { sha256 } of [...pictures, ...(clip ? [clip] : [])])
      await within.change('INSERT IGNORE INTO client_file (page_id, sha256) VALUES (?, ?)', [
        page.id,
        Buffer.from(sha256, 'hex'),
      ]);
  const said = round === 1 ? '' : `round ${round}`;
  await noteEvent(within, { ...page, kind: 'shown', whom: page.client, said });
}
