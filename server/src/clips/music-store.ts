import type { Database } from '../floor/database/database.js';

/** A piece of music of a seller's own. */
export interface StoredMusic {
  readonly id: string;
  /** Hex. */
  readonly sha256: string;
  readonly title: string;
  readonly mediaType: string;
  readonly seconds: number;
  readonly bytes: number;
  /** Beats a minute and when the first one falls, s; null where nobody knows. */
  readonly bpm: number | null;
  readonly firstBeat: number | null;
}

interface Row {
  id: string;
  sha256: Buffer;
  title: string;
  media_type: string;
  seconds: number;
  bytes: number;
  bpm: number | null;
  first_beat: number | null;
}

const COLUMNS = 'id, sha256, title, media_type, seconds, bytes, bpm, first_beat';

const toMusic = ({ sha256, media_type, first_beat, ...rest }: Row): StoredMusic => ({
  ...rest,
  sha256: sha256.toString('hex'),
  mediaType: media_type,
  firstBeat: first_beat,
});

export class MusicStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<StoredMusic[]> {
    return (
      await this.database.rows<Row>(
        `SELECT ${COLUMNS} FROM music WHERE owner = ? AND deleted_at IS NULL ORDER BY title, added_at`,
        [owner],
      )
    ).map(toMusic);
  }

  /** One that was taken off the list too: clips that have it keep it. */
  async get(owner: string, id: string): Promise<StoredMusic | null> {
    const [row] = await this.database.rows<Row>(`SELECT ${COLUMNS} FROM music WHERE owner = ? AND id = ?`, [owner, id]);
    return row ? toMusic(row) : null;
  }

  /** Keeps a piece; the same bytes again are the one that is there, back on the list. */
  async add(owner: string, { id, sha256, title, mediaType, seconds, bytes }: StoredMusic): Promise<StoredMusic> {
    const content = Buffer.from(sha256, 'hex');
    await this.database.change(
      `INSERT INTO music (id, owner, sha256, title, media_type, seconds, bytes) VALUES (?, ?, ?, ?, ?, ?, ?)
       ON DUPLICATE KEY UPDATE deleted_at = NULL`,
      [id, owner, content, title, mediaType, seconds, bytes],
    );
    const [row] = await this.database.rows<Row>(`SELECT ${COLUMNS} FROM music WHERE owner = ? AND sha256 = ?`, [
      owner,
      content,
    ]);
    return toMusic(row);
  }

  async change(
    owner: string,
    id: string,
    { title, bpm, firstBeat }: Pick<StoredMusic, 'title' | 'bpm' | 'firstBeat'>,
  ): Promise<void> {
    await this.database.change('UPDATE music SET title = ?, bpm = ?, first_beat = ? WHERE owner = ? AND id = ?', [
      title,
      bpm,
      firstBeat,
      owner,
      id,
    ]);
  }

  async remove(owner: string, id: string): Promise<boolean> {
    return (
      (await this.database.change(
        'UPDATE music SET deleted_at = CURRENT_TIMESTAMP(3) WHERE owner = ? AND id = ? AND deleted_at IS NULL',
        [owner, id],
      )) > 0
    );
  }
}
