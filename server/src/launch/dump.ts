import { spawn, type ChildProcess } from 'node:child_process';
import { createReadStream, createWriteStream, existsSync } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import mysql from 'mysql2/promise';
import { checkBackup, marked } from './backup-mark.js';
import { wholeFile } from '../floor/files/whole-file.js';

const program = (name: string): string =>
  ['/usr/bin', '/usr/local/bin'].map((folder) => join(folder, name)).find(existsSync) ?? name;

/**
 * How a program of MariaDB's is told where to go. The password goes by its environment, which other users cannot read.
 */
function reached(url: string): { args: string[]; env: NodeJS.ProcessEnv; name: string } {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    args: [
      '--no-defaults',
      `--host=${hostname}`,
      `--port=${port || 3306}`,
      `--user=${decodeURIComponent(username)}`,
      '--protocol=tcp',
    ],
    env: { PATH: process.env['PATH'], MYSQL_PWD: decodeURIComponent(password) },
    name: pathname.slice(1),
  };
}

async function ended(child: ChildProcess, words: () => string, what: string): Promise<void> {
  const code =
    child.exitCode ??
    (await new Promise<number | null>((resolve, reject) => {
      child.once('close', resolve);
      child.once('error', reject);
    }));
  if (code !== 0) throw new Error(`${what}: ${words().trim() || `it ended with ${code}`}`);
}

function lastWords(child: ChildProcess): () => string {
  let text = '';
  child.stderr!.setEncoding('utf8').on('data', (piece: string) => {
    text = (text + piece).slice(-4000);
  });
  return () => text;
}

/**
 * Writes everything in a database as it is at one moment, while it goes on working, to a gzipped SQL file. The file
 * has its name only once it is whole.
 */
export async function backup(url: string, file: string): Promise<void> {
  await mkdir(dirname(file), { recursive: true });
  const tables = await tablesAt(url);
  const { args, env, name } = reached(url);
  const child = spawn(
    program('mariadb-dump'),
    [
      ...args,
      '--single-transaction',
      '--quick',
      '--hex-blob',
      '--skip-comments',
      '--skip-lock-tables',
      '--no-tablespaces',
      '--max-allowed-packet=64M',
      name,
    ],
    { env, stdio: ['ignore', 'pipe', 'pipe'] },
  );
  const words = lastWords(child);
  await wholeFile(file, async (coming) => {
    const written = pipeline(
      marked(child.stdout as AsyncIterable<Buffer>, tables),
      createGzip({ level: 3 }),
      createWriteStream(coming, { mode: 0o600 }),
    );
    await Promise.all([written, ended(child, words, 'The backup was not made')]);
  });
}

async function tablesAt(url: string): Promise<string[]> {
  const connection = await mysql.createConnection(url);
  try {
    const [rows] = await connection.query<mysql.RowDataPacket[]>('SHOW TABLES');
    return rows.map((row) => String(Object.values(row)[0]));
  } finally {
    await connection.end();
  }
}

/**
 * Reads a backup into an empty database, once it was found whole.
 * @throws Error with a sentence when the database holds anything, or the file is not whole
 */
export async function restore(url: string, file: string): Promise<void> {
  await checkBackup(file);
  const connection = await mysql.createConnection(url);
  try {
    const [tables] = await connection.query<mysql.RowDataPacket[]>('SHOW TABLES');
    if (tables.length)
      throw new Error(
        'This database is not empty, and nothing in it was touched. Restore into a new folder or a new database.',
      );
    try {
      await readDump(url, file);
    } catch (error) {
      // Half a backup is no data: the database is as empty as it was.
      await connection.query('SET FOREIGN_KEY_CHECKS = 0');
      for (const row of (await connection.query<mysql.RowDataPacket[]>('SHOW TABLES'))[0])
        await connection.query('DROP TABLE IF EXISTS ??', [Object.values(row)[0]]);
      throw error;
    }
  } finally {
    await connection.end();
  }
}

/** Runs a file that {@link backup} wrote. What it came to stays there when it is not whole. */
export async function readDump(url: string, file: string, signal?: AbortSignal): Promise<void> {
  const { args, env, name } = reached(url);
  const child = spawn(program('mariadb'), [...args, '--binary-mode', '--max-allowed-packet=64M', name], {
    env,
    stdio: ['pipe', 'ignore', 'pipe'],
  });
  const words = lastWords(child);
  child.stdin!.on('error', () => undefined);
  try {
    await Promise.all([
      pipeline(createReadStream(file), createGunzip(), child.stdin!, { signal }),
      ended(child, words, 'The backup was not read in'),
    ]);
  } finally {
    child.kill('SIGKILL');
  }
}
