import { readFile } from 'node:fs/promises';
import { inflateSync } from 'node:zlib';
import * as hb from 'harfbuzzjs';
import wawoff2 from 'wawoff2';
import { ProblemError } from '../../floor/basics/problem-error.js';

/** Largest font once it is unpacked. The largest fonts for all of Chinese, Japanese and Korean take about 30 MB. */
const MOST_BYTES = 64 * 1024 * 1024;

/** A font that letters can be shaped with. */
export interface OpenFont {
  readonly face: hb.Face;
  readonly font: hb.Font;
  readonly upem: number;
  has(codePoint: number): boolean;
}

/** Fonts opened last. */
const open = new Map<string, OpenFont>();
const MOST_OPEN = 24;

/** Opens a font file, or hands out the one already open. */
export async function openFont(path: string): Promise<OpenFont> {
  const one = open.get(path) ?? wrap(await unpackFont(await readFile(path)));
  open.delete(path);
  open.set(path, one);
  for (const oldest of open.keys()) if (open.size > MOST_OPEN) open.delete(oldest);
  return one;
}

/** A font from unpacked bytes. */
export function wrap(sfnt: Uint8Array): OpenFont {
  const face = new hb.Face(new hb.Blob(sfnt));
  let known: Set<number> | null = null;
  return {
    face,
    font: new hb.Font(face),
    upem: face.upem,
    has: (codePoint) => (known ??= new Set(face.collectUnicodes())).has(codePoint),
  };
}

const damaged = (what: string): ProblemError =>
  new ProblemError(422, 'damaged-font', `This font is damaged: ${what}. Get it again from where it came from.`);

/**
 * Unpacks TTF, OTF, WOFF or WOFF2 to its plain tables. What it is, its first bytes decide.
 * @throws ProblemError when it is none of these, damaged, or too large
 */
export async function unpackFont(bytes: Buffer): Promise<Uint8Array> {
  if (bytes.length < 12) throw damaged('it is only a few bytes long');
  switch (bytes.toString('latin1', 0, 4)) {
    case 'wOF2':
      return checkTables(await unpackWoff2(bytes));
    case 'wOFF':
      return checkTables(unpackWoff(bytes));
    case '\u0000\u0001\u0000\u0000':
    case 'OTTO':
    case 'true':
      return checkTables(bytes);
    case 'ttcf':
      throw new ProblemError(
        415,
        'font-collection',
        'This is a collection of several fonts. Upload them one by one as TTF or OTF.',
      );
    default:
      throw new ProblemError(415, 'not-a-font', 'This is not a font. TTF, OTF, WOFF and WOFF2 can be used.');
  }
}

/**
 * The unpacker answers with a window on its own memory, which its next call writes over: one font at a time, and each
 * is copied before the next begins.
 */
let unpacked: Promise<unknown> = Promise.resolve();
function decompress(bytes: Buffer): Promise<Uint8Array> {
  const next = unpacked.then(() => wawoff2.decompress(bytes)).then((window) => window.slice());
  unpacked = next.catch(() => undefined);
  return next;
}

async function unpackWoff2(bytes: Buffer): Promise<Uint8Array> {
  if (bytes.length < 48 || bytes.readUInt32BE(16) > MOST_BYTES) throw damaged('it says it unpacks to more than 64 MB');
  let sfnt: Uint8Array;
  try {
    sfnt = await decompress(bytes);
  } catch {
    throw damaged('its packed part cannot be read');
  }
  if (!sfnt.length || sfnt.length > MOST_BYTES) throw damaged('its packed part cannot be read');
  return sfnt;
}

/** WOFF 1.0, 5: each table is packed by itself with zlib, or not at all. */
function unpackWoff(bytes: Buffer): Uint8Array {
  const tables = bytes.length >= 44 ? bytes.readUInt16BE(12) : 0;
  if (!tables || 44 + tables * 20 > bytes.length) throw damaged('its list of tables is cut off');
  const found = Array.from({ length: tables }, (_, i) => {
    const at = 44 + i * 20;
    const [offset, packed, length] = [
      bytes.readUInt32BE(at + 4),
      bytes.readUInt32BE(at + 8),
      bytes.readUInt32BE(at + 12),
    ];
    return { tag: bytes.subarray(at, at + 4), offset, packed, length, checksum: bytes.readUInt32BE(at + 16) };
  });
  if (found.reduce((sum, table) => sum + table.length, 0) > MOST_BYTES)
    throw damaged('it says it unpacks to more than 64 MB');
  const head = Buffer.alloc(12 + tables * 16);
  bytes.copy(head, 0, 4, 8);
  head.writeUInt16BE(tables, 4);
  const parts: Buffer[] = [head];
  let end = head.length;
  found.forEach(({ tag, offset, packed, length, checksum }, i) => {
    if (packed > length || offset + packed > bytes.length) throw damaged('a table is cut off');
    let data = bytes.subarray(offset, offset + packed);
    if (packed < length) {
      try {
        data = inflateSync(data, { maxOutputLength: length });
      } catch {
        throw damaged('a table cannot be unpacked');
      }
    }
    if (data.length !== length) throw damaged('a table has another length than it says');
    const at = 12 + i * 16;
    tag.copy(head, at);
    head.writeUInt32BE(checksum, at + 4);
    head.writeUInt32BE(end, at + 8);
    head.writeUInt32BE(length, at + 12);
    const padded = Buffer.alloc(Math.ceil(length / 4) * 4);
    data.copy(padded);
    parts.push(padded);
    end += padded.length;
  });
  return Buffer.concat(parts);
}

/** Tables without which nothing can be drawn (OpenType 1.9, 5.1). */
const NEEDED = ['cmap', 'head', 'hhea', 'hmtx', 'maxp'];

function checkTables(sfnt: Uint8Array): Uint8Array {
  if (sfnt.length > MOST_BYTES)
    throw new ProblemError(413, 'too-many-bytes', 'This font is larger than 64 MB and was not taken in.');
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  const count = sfnt.length >= 12 ? view.getUint16(4) : 0;
  if (!count || 12 + count * 16 > sfnt.length) throw damaged('its list of tables is cut off');
  const tags = new Set<string>();
  for (let i = 0; i < count; i++) {
    const at = 12 + i * 16;
    const tag = String.fromCharCode(...sfnt.subarray(at, at + 4));
    if (view.getUint32(at + 8) + view.getUint32(at + 12) > sfnt.length)
      throw damaged(`its table “${tag.replace(/[^ -~]/g, '?')}” is cut off`);
    tags.add(tag);
  }
  const missing = NEEDED.filter((tag) => !tags.has(tag));
  if (missing.length) throw damaged(`it has no table “${missing[0]}”`);
  if (!['glyf', 'CFF ', 'CFF2'].some((tag) => tags.has(tag)))
    throw new ProblemError(
      422,
      'no-outlines',
      'This font has no outlines, only pictures of letters. It cannot be printed sharply, so it was not taken in.',
    );
  return sfnt;
}

/** The tables of a font: name, checksum, offset and length. */
function* tablesOf(sfnt: Uint8Array): Generator<{ tag: string; checksum: number; offset: number; length: number }> {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  for (let i = 0; i < view.getUint16(4); i++) {
    const at = 12 + i * 16;
    yield {
      tag: String.fromCharCode(...sfnt.subarray(at, at + 4)),
      checksum: view.getUint32(at + 4),
      offset: view.getUint32(at + 8),
      length: view.getUint32(at + 12),
    };
  }
}

/**
 * A table whose bytes differ from its checksum would set wrong letters without a word (OpenType 1.9, «Calculating
 * checksums»: the sum of its 32-bit words;
 * the adjustment within `head` counts as nothing).
 * @throws ProblemError naming the table
 */
export function verifyChecksums(sfnt: Uint8Array): void {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  for (const { tag, checksum, offset, length } of tablesOf(sfnt)) {
    let sum = 0;
    for (let at = 0; at + 4 <= length; at += 4)
      if (tag !== 'head' || at !== 8) sum = (sum + view.getUint32(offset + at)) >>> 0;
    let rest = 0;
    for (let i = 0; i < length % 4; i++) rest |= sfnt[offset + length - (length % 4) + i] << (24 - 8 * i);
    if ((sum + (rest >>> 0)) >>> 0 !== checksum)
      throw damaged(`its table “${tag}” does not match its checksum, so its letters may be wrong`);
  }
}

/**
 * WOFF2 carries no checksums. A letter that reaches out of the box that the font itself says holds them all is a sign
 * of damage in the packed part.
 * @throws ProblemError when there is one
 */
export function verifyExtents({ face, font }: OpenFont, sfnt: Uint8Array): void {
  const head = [...tablesOf(sfnt)].find((table) => table.tag === 'head');
  if (!head || head.length < 44 || [...tablesOf(sfnt)].some((table) => table.tag === 'fvar')) return;
  const view = new DataView(sfnt.buffer, sfnt.byteOffset + head.offset, head.length);
  const [left, bottom, right, top] = [36, 38, 40, 42].map((at) => view.getInt16(at));
  const slack = face.upem / 100;
  for (const code of face.collectUnicodes()) {
    const glyph = font.nominalGlyph(code);
    const box = glyph ? font.glyphExtents(glyph) : null;
    if (!box || (!box.width && !box.height)) continue;
    if (
      box.xBearing < left - slack ||
      box.xBearing + box.width > right + slack ||
      box.yBearing > top + slack ||
      box.yBearing + box.height < bottom - slack
    )
      throw damaged('letters in it reach out of the box it says holds them all');
  }
}
