import type { Readable } from 'node:stream';
import { stringify } from 'csv-stringify/sync';
import yazl from 'yazl';
import { formatBytes } from '@kettle/core/units';
import type { CertificateRow } from '@kettle/core/requirement';
import type { PackedFile } from './package-store.js';

/** What the manifest says of a file. */
export interface FileAbout {
  readonly kind: string;
  readonly design: string;
  readonly designId: string | null;
  readonly channel: string;
  readonly requirement: string;
  readonly requirementId: string;
  readonly version: 'light' | 'dark' | null;
  /** SHA-256 of the recipe it was made by. */
  readonly recipe: string;
  readonly certificate: readonly CertificateRow[];
}

/** All files carry the same time, so that the same package gives the same bytes. */
const TIME = new Date(2026, 0, 1);
const AS_IT_IS = { mtime: TIME, mode: 0o100644, compress: false } as const;

/**
 * A package as a ZIP that is written while it is read: files as they are, then what is in it in three ways.
 * @param open bytes of a file, by its hash
 * @returns the archive and its length in bytes
 */
export async function packageZip(
  name: string,
  files: readonly PackedFile<FileAbout>[],
  open: (sha256: string) => Readable,
): Promise<{ readonly stream: NodeJS.ReadableStream; readonly length: number }> {
  const zip = new yazl.ZipFile();
  // A file that cannot be read ends the archive where it is: it is shorter than it said.
  zip.on('error', (error: Error) => (zip.outputStream as Readable).destroy(error));
  for (const { path, sha256, bytes } of files)
    zip.addReadStreamLazy(path, { ...AS_IT_IS, size: bytes }, (give) =>
      give(
        null,
        open(sha256).on('error', (error) => zip.emit('error', error)),
      ),
    );
  for (const [path, content] of descriptions(name, files)) zip.addBuffer(Buffer.from(content, 'utf8'), path, AS_IT_IS);
  // The types leave out that the length is told.
  const length = await new Promise<number>((resolve) =>
    zip.end({ forceZip64Format: false, comment: '' }, resolve as () => void),
  );
  return { stream: zip.outputStream, length };
}

/** What is in a package: for a spreadsheet, for a program, and for a person. */
export function descriptions(name: string, files: readonly PackedFile<FileAbout>[]): [string, string][] {
  const found = ({ certificate }: FileAbout, demand: string): string =>
    certificate.find((row) => row.demand === demand)?.found ?? '';
  const rows = files.map(({ path, sha256, bytes, about }) => ({
    file: path,
    design: about.design,
    channel: about.channel,
    requirement: about.requirement,
    version: about.version ?? '',
    size: found(about, 'Size'),
    dpi: found(about, 'DPI') || found(about, 'True size'),
    mode: found(about, 'Colour mode'),
    profile: found(about, 'Colour profile'),
    transparency: found(about, 'Transparency'),
    bytes,
    sha256,
    recipe: about.recipe,
  }));
  const csv = stringify(rows, { header: true, bom: true, escape_formulas: true, record_delimiter: '\r\n' });
  const json = `${JSON.stringify(
    { package: name, files: files.map(({ path, sha256, bytes, about }) => ({ file: path, sha256, bytes, ...about })) },
    null,
    2,
  )}\n`;
  return [
    ['manifest.csv', csv],
    ['manifest.json', json],
    ['README.txt', inWords(name, files)],
  ];
}

function inWords(name: string, files: readonly PackedFile<FileAbout>[]): string {
  const channels = [...new Set(files.map(({ about }) => about.channel))];
  const bytes = files.reduce((sum, file) => sum + file.bytes, 0);
  const lines = [
    name,
    '',
    `${files.length} ${files.length === 1 ? 'file' : 'files'}, ${formatBytes(bytes)} in all. Each was opened again after writing, by another library than the one`,
    'that wrote it, and compared with what its channel demands.',
    '',
    ...channels.flatMap((channel) => [
      channel,
      ...files
        .filter(({ about }) => about.channel === channel)
        .map(({ path, about }) => `  ${path}  (${about.design}, ${about.requirement})`),
      '',
    ]),
    'manifest.csv opens in any spreadsheet; manifest.json says the same for programs, with every demand and what was found.',
    'To see that a file arrived whole, compare its SHA-256 with the one in the manifest.',
    '',
  ];
  return lines.join('\r\n');
}
