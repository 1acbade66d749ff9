import { packageEntries, writeToFolder } from './write-to-folder';

/** A ZIP of stored files whose sizes stand behind them, as a package has. */
function zipOf(files: readonly (readonly [string, string])[]): Uint8Array<ArrayBuffer> {
  const encoder = new TextEncoder();
  const parts: number[] = [];
  const list: number[] = [];
  const put = (into: number[], ...values: (readonly [number, number])[]): void => {
    for (const [value, bytes] of values) for (let i = 0; i < bytes; i++) into.push((value >>> (8 * i)) & 255);
  };
  for (const [path, content] of files) {
    const [name, data] = [encoder.encode(path), encoder.encode(content)];
    const offset = parts.length;
    put(parts, [0x04034b50, 4], [20, 2], [0x808, 2], [0, 2], [0, 4], [0, 4], [0, 4], [0, 4], [name.length, 2], [0, 2]);
    parts.push(...name, ...data);
    put(parts, [0x08074b50, 4], [0, 4], [data.length, 4], [data.length, 4]);
    put(
      list,
      [0x02014b50, 4],
      [20, 2],
      [20, 2],
      [0x808, 2],
      [0, 2],
      [0, 4],
      [0, 4],
      [data.length, 4],
      [data.length, 4],
      [name.length, 2],
      [0, 2],
      [0, 2],
      [0, 2],
      [0, 2],
      [0, 4],
      [offset, 4],
    );
    list.push(...name);
  }
  const end: number[] = [];
  put(
    end,
    [0x06054b50, 4],
    [0, 2],
    [0, 2],
    [files.length, 2],
    [files.length, 2],
    [list.length, 4],
    [parts.length, 4],
    [0, 2],
  );
  return Uint8Array.from([...parts, ...list, ...end]);
}

const SHA_OF_FOG = '3f6b9b2a';

describe('a package in a folder', () => {
  const real = (window as unknown as { showDirectoryPicker?: unknown }).showDirectoryPicker;
  const written = new Map<string, string>();
  function folder(path: string): unknown {
    return {
      getDirectoryHandle: async (name: string) => folder(`${path}${name}/`),
      getFileHandle: async (name: string) => ({
        createWritable: async () => ({
          write: async (data: Uint8Array<ArrayBuffer>) => {
            written.set(path + name, new TextDecoder().decode(data));
          },
          close: async () => undefined,
        }),
      }),
    };
  }
  beforeEach(() => {
    written.clear();
    (window as unknown as { showDirectoryPicker: unknown }).showDirectoryPicker = async () => folder('');
  });
  afterEach(() => {
    (window as unknown as { showDirectoryPicker: unknown }).showDirectoryPicker = real;
  });
  const sha = async (text: string): Promise<string> =>
    [...new Uint8Array(await crypto.subtle.digest('SHA-256', new TextEncoder().encode(text)))]
      .map((byte) => byte.toString(16).padStart(2, '0'))
      .join('');
  const packed = async (content: string, hash?: string) =>
    new Blob([
      zipOf([
        ['Larkpost/Fog ☁.png', content],
        [
          'manifest.json',
          JSON.stringify({ files: [{ file: 'Larkpost/Fog ☁.png', sha256: hash ?? (await sha(content)) }] }),
        ],
      ]),
    ]);

  it('has every file at its path, each compared with the manifest', async () => {
    const told: number[] = [];
    expect(
      await writeToFolder(
        () => packed('fog'),
        (done) => told.push(done),
      ),
    ).toBe(2);
    expect([written.get('Larkpost/Fog ☁.png'), told]).toEqual(['fog', [1, 2]]);
  });

  it('is not written where a file did not arrive whole, or no folder was chosen', async () => {
    await expectAsync(
      writeToFolder(
        () => packed('fog', SHA_OF_FOG),
        () => undefined,
      ),
    ).toBeRejectedWithError(/did not arrive whole/);
    expect(written.size).toBe(0);
    const whole = zipOf([['a', 'b']]);
    expect(packageEntries(whole).map(({ path }) => path)).toEqual(['a']);
    expect(() => packageEntries(whole.slice(0, whole.length - 30))).toThrowError(/did not arrive whole/);
    (window as unknown as { showDirectoryPicker: unknown }).showDirectoryPicker = async () => {
      throw new DOMException('no', 'AbortError');
    };
    expect(
      await writeToFolder(
        () => packed('fog'),
        () => undefined,
      ),
    ).toBeNull();
  });
});
