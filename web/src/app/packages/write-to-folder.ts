/** A folder that a person chose, as browsers that have one give it (File System Access). */
interface Folder {
  getDirectoryHandle(name: string, options: { create: boolean }): Promise<Folder>;
  getFileHandle(
    name: string,
    options: { create: boolean },
  ): Promise<{ createWritable(): Promise<{ write(data: BufferSource): Promise<void>; close(): Promise<void> }> }>;
}

type Picker = (options: { mode: 'readwrite' }) => Promise<Folder>;

const picker = (): Picker | undefined => (window as unknown as { showDirectoryPicker?: Picker }).showDirectoryPicker;

export const canWriteFolders = (): boolean => picker() !== undefined;

/** A file within an archive whose files are kept as they are. */
interface Entry {
  readonly path: string;
  readonly bytes: Uint8Array<ArrayBuffer>;
}

/** Files of a package's ZIP, found by its list at the end (APPNOTE 6.3.10, 4.3). @throws Error when it is none of ours */
export function packageEntries(zip: Uint8Array<ArrayBuffer>): Entry[] {
  const view = new DataView(zip.buffer, zip.byteOffset, zip.byteLength);
  let end = zip.length - 22;
  while (end >= 0 && view.getUint32(end, true) !== 0x06054b50) end--;
  if (end < 0) throw new Error('The package did not arrive whole. Take it again.');
  const count = view.getUint16(end + 10, true);
  let at = view.getUint32(end + 16, true);
  return Array.from({ length: count }, () => {
    if (view.getUint32(at, true) !== 0x02014b50) throw new Error('The package did not arrive whole. Take it again.');
    const [size, name, extra, comment, offset] = [
      view.getUint32(at + 20, true),
      view.getUint16(at + 28, true),
      view.getUint16(at + 30, true),
      view.getUint16(at + 32, true),
      view.getUint32(at + 42, true),
    ];
    const path = new TextDecoder().decode(zip.subarray(at + 46, at + 46 + name));
    const begin = offset + 30 + view.getUint16(offset + 26, true) + view.getUint16(offset + 28, true);
    at += 46 + name + extra + comment;
    return { path, bytes: zip.subarray(begin, begin + size) };
  });
}

const hexOf = async (bytes: Uint8Array<ArrayBuffer>): Promise<string> =>
  [...new Uint8Array(await crypto.subtle.digest('SHA-256', bytes))]
    .map((byte) => byte.toString(16).padStart(2, '0'))
    .join('');

/**
 * Writes the files of a package into a folder that is asked for, each compared with the manifest first.
 * @param load the package's bytes
 * @param told hears how many are written
 * @returns how many were written, or null when no folder was chosen
 */
export async function writeToFolder(load: () => Promise<Blob>, told: (done: number) => void): Promise<number | null> {
  // The folder is asked for while the press still counts.
  let root: Folder;
  try {
    root = await picker()!({ mode: 'readwrite' });
  } catch {
    return null;
  }
  const entries = packageEntries(new Uint8Array(await (await load()).arrayBuffer()));
  const manifest = JSON.parse(
    new TextDecoder().decode(entries.find(({ path }) => path === 'manifest.json')?.bytes ?? new Uint8Array()),
  ) as { files: readonly { file: string; sha256: string }[] };
  const hashes = new Map(manifest.files.map(({ file, sha256 }) => [file, sha256]));
  let done = 0;
  for (const { path, bytes } of entries) {
    const hash = hashes.get(path);
    if (hash && (await hexOf(bytes)) !== hash) throw new Error(`${path} did not arrive whole. Take the package again.`);
    const parts = path.split('/');
    let folder = root;
    for (const part of parts.slice(0, -1)) folder = await folder.getDirectoryHandle(part, { create: true });
    const file = await (await folder.getFileHandle(parts.at(-1)!, { create: true })).createWritable();
    await file.write(bytes);
    await file.close();
    told(++done);
  }
  return done;
}
