import { statfs } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import mysql from 'mysql2/promise';
import { Database } from '../floor/database/database.js';
import { ownFolder } from '../launch/own-folder.js';
import { migrate } from '../floor/database/migrate.js';

/**
 * Databases for tests, empty but for their layout. Migrations run once; each database is a copy of what they made.
 * @param rootUrl an account that may make databases
 */
export class FreshDatabases {
  private made = 0;
  private layout: Promise<string> | null = null;

  constructor(
    private readonly rootUrl: string,
    private readonly name = `kettle_${process.pid}`,
  ) {}

  /** Address of a database that holds nothing at all. */
  async empty(): Promise<string> {
    const name = `${this.name}_${++this.made}`;
    await this.once(this.rootUrl, `CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
    return this.rootUrl.replace(/\/kettle$/, `/${name}`);
  }

  /** Address of a database with the newest layout. */
  async fresh(): Promise<string> {
    const [url, layout] = await Promise.all([this.empty(), (this.layout ??= this.template())]);
    await this.once(url, layout);
    return url;
  }

  /** Statements that make what migrations made. */
  private async template(): Promise<string> {
    const url = await this.empty();
    const database = new Database(url);
    try {
      await migrate(database);
      const of = new URL(url).pathname.slice(1);
      const tables = (await database.rowsOnce<object>('SHOW TABLES', [])).map((row) => String(Object.values(row)[0]));
      const statements = await Promise.all(
        tables.map(async (table) => {
          const [made] = await database.rowsOnce<{ 'Create Table': string }>(`SHOW CREATE TABLE ${table}`, []);
          const [held] = await database.rowsOnce<object>(`SELECT 1 FROM ${table} LIMIT 1`, []);
          return [made['Create Table'], ...(held ? [`INSERT INTO ${table} SELECT * FROM ${of}.${table}`] : [])];
        }),
      );
      return ['SET FOREIGN_KEY_CHECKS = 0', ...statements.flat()].join(';\n');
    } finally {
      await database.close();
    }
  }

  private async once(url: string, sql: string): Promise<void> {
    const connection = await mysql.createConnection({ uri: url, multipleStatements: true });
    await connection.query(sql).finally(() => connection.end());
  }
}

const MEMORY = '/dev/shm';
/** Room that a run's databases may need, bytes. */
const ROOM = 4e9;

/** A folder for the databases of a run, in memory where there is room: making tables is mostly waiting for the disk. */
export async function databaseFolder(): Promise<string> {
  const { bavail, bsize } = await statfs(MEMORY).catch(() => ({ bavail: 0, bsize: 0 }));
  return ownFolder(bavail * bsize < ROOM ? tmpdir() : MEMORY, 'kettle-test-db');
}
