import { parseJson, type Bound, type Database } from '../floor/database/database.js';
import { newId } from '../floor/database/ids.js';

/** A file of a package, and what the manifest says of it. */
export interface PackedFile<About = unknown> {
  readonly path: string;
  readonly sha256: string;
  readonly bytes: number;
  readonly about: About;
}

/** What a packed file is for. */
export interface PackedFor {
  readonly designId: string | null;
  readonly requirementId: string;
  readonly version: string | null;
}

export interface StoredPackage {
  readonly id: string;
  readonly name: string;
  readonly folders: 'channel' | 'design' | 'none';
  readonly changedOnly: boolean;
  readonly files: number;
  readonly bytes: number;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
}

interface Row {
  id: string;
  name: string;
  folders: StoredPackage['folders'];
  changed_only: number;
  files: number;
  bytes: number | string;
  made_at: Date;
}

const toPackage = (row: Row): StoredPackage => ({
  id: row.id,
  name: row.name,
  folders: row.folders,
  changedOnly: Boolean(row.changed_only),
  files: row.files,
  bytes: Number(row.bytes),
  madeAt: row.made_at.toISOString(),
});

/** Most packages that are listed. */
const MOST_LISTED = 200;

/** What was packed when. */
export class PackageStore {
  constructor(private readonly database: Database) {}

  async list(owner: string): Promise<StoredPackage[]> {
    return (
      await this.database.rows<Row>(
        `SELECT * FROM package WHERE owner = ? ORDER BY made_at DESC, id LIMIT ${MOST_LISTED}`,
        [owner],
      )
    ).map(toPackage);
  }

  async get(owner: string, id: string): Promise<StoredPackage | null> {
    const [row] = await this.database.rows<Row>('SELECT * FROM package WHERE id = ? AND owner = ?', [id, owner]);
    return row ? toPackage(row) : null;
  }

  async files<About>(id: string): Promise<PackedFile<About>[]> {
    const rows = await this.database.rows<{ path: string; sha256: Buffer; bytes: number | string; about: unknown }>(
      'SELECT path, sha256, bytes, about FROM package_file WHERE package_id = ? ORDER BY seq',
      [id],
    );
    return rows.map(({ path, sha256, bytes, about }) => ({
      path,
      sha256: sha256.toString('hex'),
      bytes: Number(bytes),
      about: parseJson<About>(about),
    }));
  }

  /** Names a file by its content and what it is for: the same bytes for another channel are another file. */
  static nameOf({ sha256, about }: { sha256: string; about: PackedFor }): string {
    return [sha256, about.designId, about.requirementId, about.version ?? ''].join(' ');
  }

  /** Names of those files of an earlier package of this seller that have some contents. */
  async packedBefore(owner: string, sha256s: readonly string[]): Promise<Set<string>> {
    const found = new Set<string>();
    for (let from = 0; from < sha256s.length; from += 500) {
      const some = sha256s.slice(from, from + 500).map((sha256) => Buffer.from(sha256, 'hex'));
      const rows = await this.database.rowsOnce<{ sha256: Buffer; about: unknown }>(
        'SELECT f.sha256, f.about FROM package_file f JOIN package p ON p.id = f.package_id WHERE p.owner = ? AND f.sha256 IN (?)',
        [owner, some as unknown as Bound],
      );
      for (const { sha256, about } of rows)
        found.add(PackageStore.nameOf({ sha256: sha256.toString('hex'), about: parseJson<PackedFor>(about) }));
    }
    return found;
  }

  /** Keeps a package with its files, or nothing of it. */
  async add(
    owner: string,
    { name, folders, changedOnly }: Pick<StoredPackage, 'name' | 'folders' | 'changedOnly'>,
    files: readonly PackedFile[],
  ): Promise<StoredPackage> {
    const id = newId();
    const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
    await this.database.transaction(async (within) => {
      await within.change(
        'INSERT INTO package (id, owner, name, folders, changed_only, files, bytes) VALUES (?, ?, ?, ?, ?, ?, ?)',
        [id, owner, name, folders, changedOnly, files.length, bytes],
      );
      for (let from = 0; from < files.length; from += 300) {
        const rows = files
          .slice(from, from + 300)
          .map((file, i) => [
            id,
            from + i,
            file.path,
            Buffer.from(file.sha256, 'hex'),
            file.bytes,
            JSON.stringify(file.about),
          ]);
        await within.rowsOnce('INSERT INTO package_file (package_id, seq, path, sha256, bytes, about) VALUES ?', [
          rows as unknown as Bound,
        ]);
      }
    });
    return (await this.get(owner, id))!;
  }

  async remove(owner: string, id: string): Promise<void> {
    await this.database.change('DELETE FROM package WHERE id = ? AND owner = ?', [id, owner]);
  }
}
