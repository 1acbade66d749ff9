import { SELLER } from '../floor/basics/caller.js';
import { execFileSync, spawn, type ChildProcess } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, readFile, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gunzipSync, gzipSync } from 'node:zlib';
import mysql from 'mysql2/promise';
import { Database } from '../floor/database/database.js';
import { migrate, WrongDatabaseError } from '../floor/database/migrate.js';
import { DiskGuard } from '../floor/files/disk.js';
import { caller, emptyDatabase, freshFolder, smallDesign, testServer, until } from '../testing/test-house.js';
import { backup, restore } from './dump.js';
import { ownFolder } from './own-folder.js';
import { startMariaDb } from './mariadb.js';
import { BLANKS } from '../floor/files/shipped.js';
import { startServer } from './server.js';

const START = fileURLToPath(new URL('../start.js', import.meta.url));
const KEEP = fileURLToPath(new URL('../keep.js', import.meta.url));

/** Starts the program as bin/start does, on a folder of its own, and collects what it says. */
function start(
  folder: string,
  environment: NodeJS.ProcessEnv = {},
): {
  child: ChildProcess;
  said: () => string;
  says: (words: RegExp) => Promise<string>;
  ends: () => Promise<number | null>;
} {
  const child = spawn(process.execPath, [START, '--empty'], {
    env: { PATH: process.env['PATH'], KETTLE_VAR: folder, ...environment },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let text = '';
  for (const stream of [child.stdout!, child.stderr!])
    stream.setEncoding('utf8').on('data', (piece: string) => {
      text += piece;
    });
  const over = new Promise<number | null>((resolve) => child.once('close', resolve));
  return {
    child,
    said: () => text,
    says: (words) =>
      until(
        async () => text,
        (now) => words.test(now),
        60,
      ),
    ends: () => over,
  };
}
const databasesOf = (folder: string): string[] =>
  execFileSync('ps', ['-eo', 'pid,args'], { encoding: 'utf8' })
    .split('\n')
    .filter((line) => line.includes('mariadbd') && line.includes(`--datadir=${folder}`));

describe('starting', () => {
  it('twice on the same data finds the living one, says where it runs and harms nothing', async () => {
    const folder = await freshFolder();
    const first = start(folder);
    const address = /http:\S+/.exec(await first.says(/is at http/))![0];
    const second = start(folder);
    expect(await second.ends()).toBe(0);
    expect(second.said()).toContain(`already running with these data, at ${address}`);
    expect((await fetch(`${address}/api/health`)).status).toBe(200);
    // What a killed one leaves is no living one.
    first.child.kill('SIGKILL');
    await first.ends();
    const third = start(folder);
    await third.says(/is at http/);
    third.child.kill('SIGTERM');
    expect(await third.ends()).toBe(0);
    expect(databasesOf(folder)).toEqual([]);
  });

  it('is ended by a signal at any moment, and leaves no database behind', async () => {
    const folder = await freshFolder();
    // The first one is stopped while the data folder is made, the others ever later.
    for (const moment of [/^$/, /^$/, /^$/, /is at http/]) {
      const one = start(folder);
      // Its claim on the folder is the first thing it does; from there on it answers for what it starts.
      if (moment.source === '^$')
        await until(
          () => readFile(join(folder, 'empty', 'running.json'), 'utf8').catch(() => ''),
          (text) => text.includes(`"pid":${one.child.pid},`),
          60,
        );
      else await one.says(moment);
      one.child.kill('SIGTERM');
      expect(await one.ends()).toBe(0);
      expect(databasesOf(folder)).toEqual([]);
      expect(existsSync(join(folder, 'empty', 'running.json'))).toBeFalse();
    }
  });

  it('on a port that is taken says so in a sentence', async () => {
    const taken = createServer().listen(0, '127.0.0.1');
    await new Promise((resolve) => taken.once('listening', resolve));
    const { port } = taken.address() as AddressInfo;
    const one = start(await freshFolder(), { KETTLE_PORT: String(port) });
    expect(await one.ends()).toBe(1);
    expect(one.said().trim()).toBe(
      `Port ${port} is in use by another program. Choose another with KETTLE_PORT, or leave it out to have any free one.`,
    );
    taken.close();
  });

  it('keeps everything that others could read to itself', async () => {
    const folder = await freshFolder();
    const one = start(folder, { KETTLE_PASSWORD: 'a secret of the program' });
    await one.says(/is at http/);
    // The database knows no secrets of the program, and what it was told at its start lies nowhere any more.
    const [database] = databasesOf(join(folder, 'empty', 'mariadb'));
    const environment = await readFile(`/proc/${database.trim().split(/\s+/)[0]}/environ`, 'latin1');
    expect([environment.includes('PATH='), environment.includes('KETTLE_')]).toEqual([true, false]);
    expect(existsSync(/--init-file=(\S+)/.exec(database)![1])).toBeFalse();
    for (const part of ['cache', 'mariadb', join('mariadb', 'data')])
      expect(((await stat(join(folder, 'empty', part))).mode & 0o077).toString(8))
        .withContext(part)
        .toBe('0');
    for (const part of [join('mariadb', 'password'), 'kettle.log'])
      expect(((await stat(join(folder, 'empty', part))).mode & 0o077).toString(8))
        .withContext(part)
        .toBe('0');
    one.child.kill('SIGTERM');
    await one.ends();
    const lines = (await readFile(join(folder, 'empty', 'kettle.log'), 'utf8'))
      .trim()
      .split('\n')
      .filter(Boolean)
      .map((line) => JSON.parse(line) as { level: string; time: string });
    expect(lines.every((line) => line.level && Date.parse(line.time) > 0)).toBeTrue();
  });
});

describe('a database of our own', () => {
  it('that dies is started again, is told, and all that was saved is there', async () => {
    const folder = await freshFolder();
    const told: string[] = [];
    const database = await startMariaDb(join(folder, 'own'), { told: (event) => told.push(event) });
    const server = await startServer({
      databaseUrl: database.url,
      ownerUrl: database.ownerUrl,
      cache: join(folder, 'cache'),
      blanks: BLANKS,
      page: null,
      port: 0,
    });
    const call = caller(server.address);
    try {
      const { id } = (await call('POST', '/api/designs', smallDesign('x', []))).body;
      for (let deaths = 1; deaths <= 2; deaths++) {
        const [line] = databasesOf(join(folder, 'own'));
        process.kill(Number(line.trim().split(/\s+/)[0]), 'SIGKILL');
        await until(
          async () => told.filter((event) => event === 'back').length,
          (count) => count === deaths,
          60,
        );
        expect(
          (
            await until(
              () => call('GET', `/api/designs/${id}`),
              (answer) => answer.status === 200,
            )
          ).body.document.name,
        ).toBe('Fog Signal');
      }
      expect(told).toEqual(['died', 'back', 'died', 'back']);
    } finally {
      await server.stop();
      await database.stop();
    }
    expect(databasesOf(folder)).toEqual([]);
  });

  it('never loses its data for a lost password file, and is never made over something that lies in its place', async () => {
    const folder = await freshFolder();
    const place = join(folder, 'own');
    const first = await startMariaDb(place, { quick: true });
    const one = await startServer({
      databaseUrl: first.url,
      ownerUrl: first.ownerUrl,
      cache: join(folder, 'cache'),
      blanks: BLANKS,
      page: null,
      port: 0,
    });
    const { id } = await one.house.designs.add(SELLER, smallDesign('x', []));
    await one.stop();
    await first.stop();
    await rm(join(place, 'password'));
    const second = await startMariaDb(place, { quick: true });
    const two = await startServer({
      databaseUrl: second.url,
      ownerUrl: second.ownerUrl,
      cache: join(folder, 'cache'),
      blanks: BLANKS,
      page: null,
      port: 0,
    });
    expect((await two.house.designs.get(SELLER, id)).document.name).toBe('Fog Signal');
    await two.stop();
    await second.stop();
    const strange = join(folder, 'strange');
    await mkdir(join(strange, 'data'), { recursive: true });
    await writeFile(join(strange, 'data', 'letters.txt'), 'dear');
    await expectAsync(startMariaDb(strange)).toBeRejectedWithError(/Nothing in it was touched/);
    expect(await readdir(join(strange, 'data'))).toEqual(['letters.txt']);
    // What a first start that was killed has half made is made anew.
    const half = join(folder, 'half');
    await mkdir(join(half, 'data.coming', 'mysql'), { recursive: true });
    const third = await startMariaDb(half, { quick: true });
    await third.stop();
    expect(existsSync(join(half, 'data.coming'))).toBeFalse();
  });

  it('lets the program read and change rows and nothing else', async () => {
    const database = await startMariaDb(join(await freshFolder(), 'own'), { quick: true });
    try {
      const server = await startServer({
        databaseUrl: database.url,
        ownerUrl: database.ownerUrl,
        cache: await freshFolder(),
        blanks: BLANKS,
        page: null,
        port: 0,
      });
      await server.stop();
      const program = await mysql.createConnection(database.url);
      await program.query('SELECT COUNT(*) FROM design');
      for (const forbidden of [
        'DROP TABLE design',
        'CREATE TABLE x (a INT)',
        'SELECT * FROM mysql.user',
        "CREATE USER 'x'@'%'",
        "SELECT 1 INTO OUTFILE '/tmp/kettle-forbidden'",
        'SET GLOBAL max_connections = 1',
      ]) {
        await expectAsync(program.query(forbidden))
          .withContext(forbidden)
          .toBeRejectedWithError(/denied/i);
      }
      await program.end();
      const owner = await mysql.createConnection(database.ownerUrl);
      await expectAsync(owner.query('SELECT * FROM mysql.user')).toBeRejectedWithError(/denied/i);
      await owner.end();
    } finally {
      await database.stop();
    }
  });
});

describe('the layout of the database', () => {
  it('is refused with a sentence when a newer program has used it', async () => {
    const url = await emptyDatabase();
    const database = new Database(url);
    await migrate(database);
    await database.change("INSERT INTO migration (name) VALUES ('999-later.sql')");
    await expectAsync(migrate(database)).toBeRejectedWithError(WrongDatabaseError, /newer version.*999-later/);
    await database.close();
  });

  it('goes on where a migration was killed, at any of its statements', async () => {
    const folder = new URL('../../migrations/', import.meta.url);
    const names = (await readdir(folder)).filter((name) => name.endsWith('.sql')).sort();
    const statements = (await Promise.all(names.map((name) => readFile(new URL(name, folder), 'utf8')))).flatMap(
      (sql) =>
        sql
          .replace(/^--.*$/gm, '')
          .split(/;\s*$/m)
          .map((one) => one.trim())
          .filter(Boolean),
    );
    const columns = async (database: Database) =>
      JSON.stringify(
        await database.rows(
          'SELECT table_name, column_name, column_type FROM information_schema.columns WHERE table_schema = DATABASE() ORDER BY table_name, ordinal_position',
        ),
      );
    const whole = new Database(await emptyDatabase());
    await migrate(whole);
    const wanted = await columns(whole);
    await whole.close();
    for (let count = 1; count < statements.length; count += 3) {
      const database = new Database(await emptyDatabase());
      for (const statement of statements.slice(0, count)) await database.rowsOnce(statement, []);
      await Promise.all([migrate(database), migrate(database)]);
      expect(await columns(database))
        .withContext(`killed after ${count} statements`)
        .toBe(wanted);
      await database.close();
    }
  });
});

describe('a run of tests', () => {
  it('that is killed leaves no database behind, and its folder only until the next', async () => {
    const parent = await freshFolder();
    const script = `
      import { ownFolder } from ${JSON.stringify(new URL('./own-folder.js', import.meta.url).href)};
      import { startMariaDb } from ${JSON.stringify(new URL('./mariadb.js', import.meta.url).href)};
      const folder = await ownFolder(${JSON.stringify(parent)}, 'killed');
      await startMariaDb(folder, { quick: true });
      console.log(folder);
      setInterval(() => undefined, 1000);`;
    const child = spawn(process.execPath, ['--input-type=module', '-e', script], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    const folder = String(await new Promise((resolve) => child.stdout.once('data', resolve))).trim();
    const pid = (await readFile(join(folder, 'pid'), 'utf8')).trim();
    const lives = async () =>
      existsSync(`/proc/${pid}`) && !/\) Z /.test(await readFile(`/proc/${pid}/stat`, 'utf8').catch(() => ') Z '));
    expect(await lives()).toBeTrue();
    child.kill('SIGKILL');
    await until(lives, (one) => !one);
    await until(
      async () => existsSync(`/proc/${child.pid}`),
      (one) => !one,
    );
    expect(existsSync(folder)).toBeTrue();
    const next = await ownFolder(parent, 'killed');
    expect([existsSync(folder), existsSync(next)]).toEqual([false, true]);
  });
});

describe('a backup', () => {
  it('restored into an empty place is the same, table by table, and is taken while the program works', async () => {
    const folder = await freshFolder();
    const [from, to] = [await emptyDatabase(), await emptyDatabase()];
    const server = await testServer({ databaseUrl: from });
    const call = caller(server.address);
    const asset = (
      await call(
        'POST',
        '/api/assets',
        Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="9" height="9"/></svg>'),
        { 'X-Filename': 'ünï "q".svg' },
      )
    ).body.id;
    const { id } = (await call('POST', '/api/designs', { ...smallDesign(asset, []), name: '🎂 Fog' })).body;
    const file = join(folder, 'kettle.sql.gz');
    let saving = true;
    const work = (async () => {
      for (let i = 1; saving; i++) {
        const { status } = await call(
          'PUT',
          `/api/designs/${id}`,
          { ...smallDesign(asset, []), name: `Fog ${i}` },
          { 'If-Match': `"${i}"` },
        );
        expect(status).toBe(200);
      }
    })();
    await backup(from, file);
    saving = false;
    await work;
    await server.stop();
    await restore(to, file);
    // The same again, from what stands still now: every table's sum is the same.
    const still = join(folder, 'still.sql.gz');
    const again = await emptyDatabase();
    await backup(from, still);
    await restore(again, still);
    const sums = async (url: string) => {
      const connection = await mysql.createConnection(url);
      const [tables] = await connection.query<mysql.RowDataPacket[]>('SHOW TABLES');
      const names = tables.map((row) => String(Object.values(row)[0])).sort();
      const [rows] = await connection.query<mysql.RowDataPacket[]>(`CHECKSUM TABLE ${names.join(', ')}`);
      await connection.end();
      return rows.map((row, i) => [names[i], row['Checksum']]);
    };
    expect((await sums(again)).length).toBeGreaterThan(10);
    expect(await sums(again)).toEqual(await sums(from));
    const restored = await testServer({ databaseUrl: to });
    const ask = caller(restored.address);
    expect((await ask('GET', `/api/designs/${id}`)).body.document.name).toMatch(/Fog/);
    expect((await ask('GET', `/api/assets/${asset}/content`)).status).toBe(200);
    await restored.stop();
    await expectAsync(restore(to, file)).toBeRejectedWithError(/not empty/);
    // A file that was cut leaves an empty place empty.
    const cut = join(folder, 'cut.sql.gz');
    const bytes = await readFile(file);
    await writeFile(cut, bytes.subarray(0, bytes.length - 200));
    const empty = await emptyDatabase();
    await expectAsync(restore(empty, cut)).toBeRejectedWithError(/^This backup is cut off.* Nothing was restored\.$/);
    // Cut at the end of a statement and closed again, one value changed, no backup at all, and none there.
    const text = gunzipSync(bytes).toString('latin1');
    const at = text.indexOf('\nDROP TABLE IF EXISTS `design`');
    const write = (name: string, words: string) =>
      writeFile(join(folder, name), gzipSync(Buffer.from(words, 'latin1')));
    await write('short.sql.gz', text.slice(0, text.lastIndexOf(';\n', at) + 2));
    // Its name is there whether a save has come before the dump or not.
    await write('changed.sql.gz', text.replace('Fog', 'Fox'));
    await writeFile(join(folder, 'words.sql.gz'), 'just words');
    const damaged = Buffer.from(bytes);
    const middle = Math.floor(bytes.length / 2);
    damaged.fill(0x55, middle, middle + 64);
    await writeFile(join(folder, 'damaged.sql.gz'), damaged);
    for (const [name, sentence] of [
      ['short.sql.gz', /cut off in the table .* \d+ of \d+ tables are missing: design, /],
      ['changed.sql.gz', /damaged: the table “design(_revision)?” is not as it was written/],
      ['damaged.sql.gz', /damaged in the table/],
      ['words.sql.gz', /no backup of Kettle Sheet/],
      ['none.sql.gz', /There is no file/],
    ] as const)
      await expectAsync(restore(empty, join(folder, name)))
        .withContext(name)
        .toBeRejectedWithError(sentence);
    // One of a version that wrote no marks is read all the same.
    await write('old.sql.gz', text.slice(text.indexOf('\n') + 1, text.indexOf('\n-- kettle backup ends')));
    await restore(await emptyDatabase(), join(folder, 'old.sql.gz'));
    const connection = await mysql.createConnection(empty);
    expect((await connection.query<mysql.RowDataPacket[]>('SHOW TABLES'))[0]).toEqual([]);
    await connection.end();
  });

  it('is made by one command, running or not, and read by another', async () => {
    const folder = await freshFolder();
    const one = start(folder);
    const address = /http:\S+/.exec(await one.says(/is at http/))![0];
    const { id } = (await caller(address)('POST', '/api/designs', smallDesign('x', []))).body;
    const file = join(folder, 'all.sql.gz');
    const run = (what: string, place: string) =>
      execFileSync(process.execPath, [KEEP, what, file, '--empty'], {
        env: { PATH: process.env['PATH'], KETTLE_VAR: place },
        encoding: 'utf8',
        stdio: ['ignore', 'pipe', 'pipe'],
      });
    expect(run('backup', folder)).toContain('Everything is in');
    expect(() => run('restore', folder)).toThrowError(/Stop it first/);
    one.child.kill('SIGTERM');
    await one.ends();
    const elsewhere = await freshFolder();
    expect(run('restore', elsewhere)).toContain('is there again');
    const two = start(elsewhere);
    const there = /http:\S+/.exec(await two.says(/is at http/))![0];
    expect((await caller(there)('GET', `/api/designs/${id}`)).body.document.name).toBe('Fog Signal');
    two.child.kill('SIGTERM');
    await two.ends();
  });
});

describe('a disk that fills', () => {
  it('is told before it is full: files wait first, saves last, and all goes on by itself when there is room', async () => {
    const folder = await freshFolder();
    let free = 5e9;
    const disk = new DiskGuard(folder, true, async () => free);
    const server = await testServer({ disk });
    const call = caller(server.address);
    try {
      expect((await stat(join(folder, 'reserve'))).size).toBe(64 * 1024 * 1024);
      const { id, document } = (await call('POST', '/api/designs', smallDesign('x', []))).body;
      const upload = async () => {
        const { status, body } = await call(
          'POST',
          '/api/assets',
          Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"/>'),
          { 'X-Filename': 'a.svg' },
        );
        return { status, detail: String(body.detail ?? '') };
      };
      const save = async (revision: number) =>
        (await call('PUT', `/api/designs/${id}`, document, { 'If-Match': `"${revision}"` })).status;
      free = 300e6;
      await disk.look();
      expect(await upload()).toEqual({
        status: 507,
        detail: jasmine.stringContaining('286 MB are left') as unknown as string,
      });
      expect(await save(1)).toBe(200);
      expect((await call('GET', '/api/session')).body.notice).toContain('Designs are saved');
      free = 50e6;
      await disk.look();
      expect(await save(2)).toBe(507);
      expect((await call('GET', `/api/designs/${id}`)).body.revision).toBe(2);
      await disk.giveReserve();
      expect(existsSync(join(folder, 'reserve'))).toBeFalse();
      free = 5e9;
      await disk.look();
      expect([await save(2), (await upload()).status]).toEqual([200, 201]);
      expect((await call('GET', '/api/session')).body.notice).toBeNull();
      expect(existsSync(join(folder, 'reserve'))).toBeTrue();
    } finally {
      await server.stop();
    }
  });
});
