import { createHash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { mkdir, open, readdir, rm, stat, utimes } from 'node:fs/promises';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import type { Database } from '../database/database.js';
import { ProblemError } from '../basics/problem-error.js';

import { wholeFile } from './whole-file.js';

const CHUNK = 1 << 20;
const SUMMED_MS = 10_000;

/** Files by content hash, kept in MariaDB in 1 MiB chunks, with a bounded copy on the local disk in front. */
export class BlobStore {
  /** Files on their way from the database, so that two readers share one fetch. */
  private readonly fetching = new Map<string, Promise<string>>();

  private summed = { at: 0, bytes: 0 };

  /**
   * @param mostBytes of local copies
   * @param mostStored of files in the database
   */
  constructor(
    private readonly database: Database,
    private readonly folder: string,
    private readonly mostBytes = 4_000_000_000,
    private readonly mostStored = Number(process.env['KETTLE_MOST_GB'] ?? 500) * 1e9,
  ) {}

  /** Keeps a local file and answers its hash. Nothing is written when the same content is already there. */
  async put(path: string): Promise<{ sha256: string; bytes: number }> {
    const hash = createHash('sha256');
    let bytes = 0;
    for await (const piece of createReadStream(path)) {
      hash.update(piece as Buffer);
      bytes += (piece as Buffer).length;
    }
    const digest = hash.digest();
    await this.demandRoom(bytes);
    await this.database.transaction(async (within) => {
      if ((await within.change('INSERT IGNORE INTO blob_file (sha256, bytes) VALUES (?, ?)', [digest, bytes])) === 0) {
        // It is wanted again: the keeper leaves what came in lately, whether anything names it yet or not.
        await within.change('UPDATE blob_file SET created_at = CURRENT_TIMESTAMP(3) WHERE sha256 = ?', [digest]);
        return;
      }
      const file = await open(path);
      try {
        for (let seq = 0; seq * CHUNK < bytes; seq++) {
          const { buffer, bytesRead } = await file.read(
            Buffer.alloc(Math.min(CHUNK, bytes - seq * CHUNK)),
            0,
            undefined,
            seq * CHUNK,
          );
          await within.change('INSERT INTO blob_chunk (sha256, seq, data) VALUES (?, ?, ?)', [
            digest,
            seq,
            buffer.subarray(0, bytesRead),
          ]);
        }
      } finally {
        await file.close();
      }
    });
    return { sha256: digest.toString('hex'), bytes };
  }

  /** @throws ProblemError 507 when all files together would be more than may be kept */
  private async demandRoom(bytes: number): Promise<void> {
    // The sum over all files is asked for seldom: between two looks no more comes in than a few uploads.
    if (Date.now() - this.summed.at > SUMMED_MS) {
      const [{ sum }] = await this.database.rows<{ sum: number | string | null }>(
        'SELECT SUM(bytes) AS sum FROM blob_file',
      );
      this.summed = { at: Date.now(), bytes: Number(sum ?? 0) };
    }
    if (this.summed.bytes + bytes > this.mostStored) {
      throw new ProblemError(
        507,
        'store-full',
        `Kettle Sheet keeps ${Math.round(this.summed.bytes / 1e9)} GB of files, and ${Math.round(this.mostStored / 1e9)} GB is the most it may. Ask whoever runs it for more room (KETTLE_MOST_GB). Designs are still saved.`,
      );
    }
    this.summed.bytes += bytes;
  }

  /** Its bytes from the database, piece by piece; ends with an error when they are not those of the hash. */
  stream(sha256: string): Readable {
    const { database } = this;
    const digest = Buffer.from(sha256, 'hex');
    return Readable.from(
      (async function* pieces() {
        const hash = createHash('sha256');
        for (let seq = 0; ; seq++) {
          const [row] = await database.rows<{ data: Buffer }>(
            'SELECT data FROM blob_chunk WHERE sha256 = ? AND seq = ?',
            [digest, seq],
          );
          if (!row) break;
          hash.update(row.data);
          yield row.data;
        }
        if (hash.digest('hex') !== sha256) throw new Error(`The stored file ${sha256.slice(0, 12)} is not whole.`);
      })(),
      { objectMode: false, highWaterMark: CHUNK },
    );
  }

  /** Path of a local copy, fetched from the database when needed and checked against its hash. */
  async localPath(sha256: string): Promise<string> {
    const path = join(this.folder, 'blobs', sha256);
    const now = new Date();
    if (
      await stat(path).then(
        () => true,
        () => false,
      )
    ) {
      await utimes(path, now, now).catch(() => undefined);
      return path;
    }
    let fetch = this.fetching.get(sha256);
    if (!fetch) {
      fetch = this.fetch(sha256, path).finally(() => this.fetching.delete(sha256));
      this.fetching.set(sha256, fetch);
    }
    return fetch;
  }

  private async fetch(sha256: string, path: string): Promise<string> {
    await mkdir(join(this.folder, 'blobs'), { recursive: true });
    await this.trim();
    const digest = Buffer.from(sha256, 'hex');
    const hash = createHash('sha256');
    await wholeFile(path, async (coming) => {
      const file = await open(coming, 'w');
      try {
        for (let seq = 0; ; seq++) {
          const [row] = await this.database.rows<{ data: Buffer }>(
            'SELECT data FROM blob_chunk WHERE sha256 = ? AND seq = ?',
            [digest, seq],
          );
          if (!row) break;
          hash.update(row.data);
          await file.write(row.data);
        }
      } finally {
        await file.close();
      }
      if (hash.digest('hex') !== sha256) throw new Error(`The stored file ${sha256.slice(0, 12)} is not whole.`);
    });
    return path;
  }

  /** Drops the local copies used longest ago once they take more than the allowed room. */
  private async trim(): Promise<void> {
    const folder = join(this.folder, 'blobs');
    const files = await Promise.all(
      (await readdir(folder)).map(async (name) => {
        const found = await stat(join(folder, name)).catch(() => null);
        return { name, bytes: found?.size ?? 0, used: found?.mtimeMs ?? 0 };
      }),
    );
    let total = files.reduce((sum, file) => sum + file.bytes, 0);
    for (const file of files.sort((a, b) => a.used - b.used)) {
      if (total <= this.mostBytes) return;
      await rm(join(folder, file.name), { force: true });
      total -= file.bytes;
    }
  }
}
