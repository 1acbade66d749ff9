import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import type { MusicChange } from '@kettle/contract';
import { shortName } from '@kettle/core/text';
import type { MusicTrack } from '@kettle/core/clip';
import type { Caller } from '../floor/basics/caller.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import { newId } from '../floor/database/ids.js';
import type { MusicStore, StoredMusic } from './music-store.js';
import { withIncoming } from '../floor/files/incoming.js';

/** Largest piece that is taken in: a quarter of an hour as WAV. */
const MOST_BYTES = 200 * 1024 * 1024;
/** Beats in a bar of music that a seller says the tempo of. */
const PER_BAR = 4;

/** Music for clips: the tracks that ship, and sellers' own. */
export class MusicService {
  private constructor(
    private readonly folder: string,
    private readonly shipped: readonly (MusicTrack & { readonly file: string })[],
    private readonly store: MusicStore,
    private readonly blobs: BlobStore,
    private readonly intake: RenderPool,
    private readonly cache: string,
  ) {}

  static async open(
    folder: string,
    store: MusicStore,
    blobs: BlobStore,
    intake: RenderPool,
    cache: string,
  ): Promise<MusicService> {
    const tracks = JSON.parse(await readFile(join(folder, 'tracks.json'), 'utf8')) as (MusicTrack & { file: string })[];
    return new MusicService(folder, tracks, store, blobs, intake, cache);
  }

  async list(who: Caller): Promise<readonly MusicTrack[]> {
    const own = await this.store.list(who.owner);
    return [...own.map(trackOf), ...this.shipped.map(({ file: _file, ...track }) => track)];
  }

  /** A track, also one of one's own that was taken off the list. */
  async get(who: Caller, id: string): Promise<MusicTrack> {
    const shipped = this.shipped.find((one) => one.id === id);
    if (!shipped) return trackOf(await this.own(who, id));
    const { file: _file, ...track } = shipped;
    return track;
  }

  async content(who: Caller, id: string): Promise<{ path: string; mediaType: string; tag: string }> {
    const shipped = this.shipped.find((one) => one.id === id);
    if (shipped) return { path: join(this.folder, shipped.file), mediaType: 'audio/ogg', tag: id };
    const { sha256, mediaType } = await this.own(who, id);
    return { path: await this.blobs.localPath(sha256), mediaType, tag: sha256 };
  }

  /** @throws ProblemError with a sentence when it is no music that can be read, or lasts too long */
  takeIn(who: Caller, stream: Readable, filename: string): Promise<MusicTrack> {
    return withIncoming(this.cache, stream, MOST_BYTES, async (path) => {
      const { seconds, mediaType, title } = await this.intake.run('checkMusic', { path });
      const { sha256, bytes } = await this.blobs.put(path);
      const named = shortName(title || filename.replace(/\.[a-z0-9]{2,5}$/i, ''), 120, 'Music without a name');
      const music = { id: newId(), sha256, title: named, mediaType, seconds, bytes, bpm: null, firstBeat: null };
      return trackOf(await this.store.add(who.owner, music));
    });
  }

  async change(who: Caller, id: string, { title, bpm, firstBeat }: MusicChange): Promise<MusicTrack> {
    await this.own(who, id);
    await this.store.change(who.owner, id, { title, bpm, firstBeat: bpm === null ? null : (firstBeat ?? 0) });
    return trackOf(await this.own(who, id));
  }

  /** Takes one off the list: clips that have it keep it. */
  async remove(who: Caller, id: string): Promise<void> {
    if (!(await this.store.remove(who.owner, id))) throw gone();
  }

  private async own(who: Caller, id: string): Promise<StoredMusic> {
    const music = await this.store.get(who.owner, id);
    if (!music) throw gone();
    return music;
  }
}

const gone = (): ProblemError => new ProblemError(404, 'no-such-track', 'There is no track with this id.');

const trackOf = ({ id, title, seconds, bpm, firstBeat }: StoredMusic): MusicTrack => ({
  id,
  title,
  mood: 'own',
  tempo: bpm,
  beats: bpm === null ? null : { bpm, offset: firstBeat ?? 0, perBar: PER_BAR },
  durationSeconds: seconds,
  loopStart: 0,
  loopEnd: seconds,
  own: true,
});
