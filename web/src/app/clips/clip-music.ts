import type { ClipMusic } from '@kettle/core/model';
import { joinPieces, mixTrack, peaksOf, type MusicTrack } from '@kettle/core/clip';

/** What sound is made of, Hz. */
export const SOUND_RATE = 48_000;
/** Tracks that are held decoded; each takes up to 12 MB for half a minute. */
const MOST_DECODED = 3;

const decoded = new Map<string, Promise<AudioBuffer>>();

/** A track, decoded. @throws Error with a sentence when it cannot be had */
function trackSound(id: string): Promise<AudioBuffer> {
  const sound =
    decoded.get(id) ??
    (async () => {
      const response = await fetch(`/api/music/${encodeURIComponent(id)}/content`).catch(() => null);
      if (!response?.ok)
        throw new Error('This track could not be loaded. Choose another, or make the clip without music.');
      return decodeSound(await response.arrayBuffer());
    })();
  decoded.delete(id);
  decoded.set(id, sound);
  sound.catch(() => decoded.delete(id));
  for (const oldest of decoded.keys()) if (decoded.size > MOST_DECODED) decoded.delete(oldest);
  return sound;
}

/** Sound as samples. @throws Error with a sentence when this browser cannot read it */
export async function decodeSound(bytes: ArrayBuffer): Promise<AudioBuffer> {
  const sound = await new OfflineAudioContext(2, 1, SOUND_RATE).decodeAudioData(bytes).catch(() => null);
  if (!sound) throw new Error('This browser cannot play this music. Choose another, or make the clip without music.');
  return sound;
}

const channelsOf = (sound: AudioBuffer): Float32Array<ArrayBuffer>[] =>
  // What has one channel is heard on both sides.
  [0, Math.min(1, sound.numberOfChannels - 1)].map((channel) => sound.getChannelData(channel));

/** The sound of a whole clip, exactly as long as its picture: left and right. */
export async function mixMusic(
  track: MusicTrack,
  music: ClipMusic,
  seconds: number,
): Promise<readonly Float32Array<ArrayBuffer>[]> {
  return mixTrack(channelsOf(await trackSound(track.id)), SOUND_RATE, track, music, seconds);
}

/** What a clip plays of a track, joined; its loudness is for a worker to find. @returns left and right */
export async function joinMusic(
  track: MusicTrack,
  music: ClipMusic,
  seconds: number,
): Promise<Float32Array<ArrayBuffer>[]> {
  return joinPieces(channelsOf(await trackSound(track.id)), SOUND_RATE, track, music, seconds);
}

/** How loud a track is along its length. */
export async function peaksOfTrack(id: string, count: number): Promise<number[]> {
  return peaksOf(channelsOf(await trackSound(id)), count);
}
