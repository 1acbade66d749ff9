import { createHash, type Hash } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { createGunzip } from 'node:zlib';

/** A part of a backup: what stands before the first table, or a table. */
interface Part {
  readonly table: string;
  readonly bytes: number;
  /** Hex. */
  readonly sha256: string;
}

// In a dump, line breaks within values are written as two letters: a line that begins like this begins a table.
const TABLE = '\nDROP TABLE IF EXISTS `';
const HEAD = '-- kettle backup of ';
const END = '\n-- kettle backup ends ';
/** Longest beginning of a part, bytes, so that one that is cut in two by pieces of a stream is found. */
const LONGEST = 200;

/** Sums up the parts of a dump while it goes by. */
class Sum {
  readonly parts: Part[] = [];
  /** What stands behind the last part. */
  end = '';
  private table = '';
  private bytes = 0;
  private hash: Hash = createHash('sha256');
  private rest = Buffer.alloc(0);
  private isOver = false;

  take(piece: Buffer): void {
    this.rest = Buffer.concat([this.rest, piece]);
    for (;;) {
      const [table, end] = [this.rest.indexOf(TABLE), this.rest.indexOf(END)];
      const at = table < 0 ? end : end < 0 ? table : Math.min(table, end);
      if (this.isOver || at < 0 || at + LONGEST > this.rest.length) break;
      this.begin(at);
    }
    if (!this.isOver) this.add(Math.max(0, this.rest.length - LONGEST));
  }

  /** Everything has come. */
  close(): this {
    for (;;) {
      const at = [this.rest.indexOf(TABLE), this.rest.indexOf(END)].filter((one) => one >= 0).sort((a, b) => a - b)[0];
      if (this.isOver || at === undefined) break;
      this.begin(at);
    }
    if (this.isOver) this.end = this.rest.toString('utf8');
    else this.next(this.rest.length, '');
    return this;
  }

  /** The table that is under way, for a dump that ends in it. */
  get last(): string {
    return this.table;
  }

  private begin(at: number): void {
    const isEnd = this.rest.indexOf(END) === at;
    const from = at + TABLE.length;
    const name = isEnd ? '' : this.rest.toString('utf8', from, this.rest.indexOf('`', from));
    this.next(at + 1, name);
    this.isOver = isEnd;
  }
  private next(at: number, table: string): void {
    this.add(at);
    this.parts.push({ table: this.table, bytes: this.bytes, sha256: this.hash.digest('hex') });
    [this.table, this.bytes, this.hash] = [table, 0, createHash('sha256')];
  }
  private add(length: number): void {
    this.hash.update(this.rest.subarray(0, length));
    this.bytes += length;
    this.rest = this.rest.subarray(length);
  }
}

/**
 * The text of a dump with the names of its tables in front, and behind it how long each is and what it sums up to, so
 * that one that is cut or damaged is told from a whole one before it is read in.
 */
export async function* marked(dump: AsyncIterable<Buffer>, tables: readonly string[]): AsyncGenerator<Buffer> {
  const sum = new Sum();
  const head = Buffer.from(`${HEAD}${JSON.stringify(tables)}\n`);
  sum.take(head);
  yield head;
  for await (const piece of dump) {
    sum.take(piece);
    yield piece;
  }
  // The line break in front of the mark counts among the last table.
  sum.take(Buffer.from('\n'));
  yield Buffer.from(`${END}${JSON.stringify(sum.close().parts)}\n`);
}

/**
 * Reads a backup whole and compares it with its mark. One of a version that wrote no marks is only read.
 * @throws Error with a sentence that names what is damaged or missing
 */
export async function checkBackup(file: string): Promise<void> {
  const sum = new Sum();
  let head = '';
  let fault: NodeJS.ErrnoException | null = null;
  const bytes = createReadStream(file);
  const text = createGunzip();
  bytes.on('error', (error) => text.destroy(error));
  try {
    for await (const piece of bytes.pipe(text) as AsyncIterable<Buffer>) {
      if (head.length < 65_536 && !head.includes('\n')) head += piece.toString('utf8');
      sum.take(piece);
    }
  } catch (error) {
    fault = error as NodeJS.ErrnoException;
    if (fault.code === 'ENOENT') throw new Error(`There is no file ${file}.`);
    if (!fault.code?.startsWith('Z_')) throw error;
  } finally {
    bytes.destroy();
  }
  const last = sum.last;
  const { parts, end } = sum.close();
  if (!head)
    throw new Error('This is no backup of Kettle Sheet, or its very beginning is damaged. Nothing was restored.');
  if (!head.startsWith(HEAD)) {
    if (fault)
      throw new Error(`This backup is ${howWrong(fault)}${last && ` in the table “${last}”`}. Nothing was restored.`);
    return;
  }
  const tables = JSON.parse(head.slice(HEAD.length, head.indexOf('\n'))) as string[];
  const missing = tables.filter((one) => !parts.some(({ table }) => table === one));
  if (fault || !end) {
    const where = last ? ` in the table “${last}”` : '';
    const gone = missing.length
      ? ` ${missing.length} of ${tables.length} tables are missing: ${missing.join(', ')}.`
      : '';
    throw new Error(`This backup is ${fault ? howWrong(fault) : 'cut off'}${where}.${gone} Nothing was restored.`);
  }
  const written = JSON.parse(end.slice(END.length - 1)) as Part[];
  const other = written.find(({ table, sha256 }) => parts.find((one) => one.table === table)?.sha256 !== sha256);
  if (other || written.length !== parts.length)
    throw new Error(
      `This backup is damaged: ${other?.table ? `the table “${other.table}”` : 'what stands in it'} is not as it was written. Nothing was restored.`,
    );
}

const howWrong = ({ code }: NodeJS.ErrnoException): string => (code === 'Z_BUF_ERROR' ? 'cut off' : 'damaged');
