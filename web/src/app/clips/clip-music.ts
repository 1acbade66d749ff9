import { gainAt, musicPlan, startsInside, type ClipMusic, type MusicTrack } from '@kettle/core';

/** What sound is made of, Hz. */
export const SOUND_RATE = 48_000;
/** How finely loudness follows its course, values a second. */
const STEPS = 200;

const decoded = new Map<string, Promise<AudioBuffer>>();

/** A track, decoded. @throws Error with a sentence when it cannot be had */
function trackSound(id: string): Promise<AudioBuffer> {
  const sound =
    decoded.get(id) ??
    (async () => {
      const response = await fetch(`/api/music/${encodeURIComponent(id)}/content`);
      if (!response.ok)
        throw new Error('This track could not be loaded. Choose another, or make the clip without music.');
      const bytes = await response.arrayBuffer();
      return new OfflineAudioContext(2, 1, SOUND_RATE).decodeAudioData(bytes).catch(() => {
        throw new Error('This browser cannot play this track. Choose another, or make the clip without music.');
      });
    })();
  decoded.set(id, sound);
  sound.catch(() => decoded.delete(id));
  return sound;
}

/** The sound of a whole clip, exactly as long as its picture. */
export async function mixMusic(track: MusicTrack, { start, volume }: ClipMusic, seconds: number): Promise<AudioBuffer> {
  const sound = await trackSound(track.id);
  const context = new OfflineAudioContext(2, Math.max(1, Math.round(seconds * SOUND_RATE)), SOUND_RATE);
  const gain = context.createGain();
  const inside = startsInside(track, start);
  const course = Float32Array.from(
    { length: Math.ceil(seconds * STEPS) + 1 },
    (_, i) => volume * gainAt(seconds, Math.min(seconds, i / STEPS), inside),
  );
  gain.gain.setValueCurveAtTime(course, 0, seconds);
  gain.connect(context.destination);
  for (const { from, to, at } of musicPlan(track, start, seconds)) {
    const source = context.createBufferSource();
    source.buffer = sound;
    source.connect(gain);
    source.start(at, from, to - from);
  }
  return context.startRendering();
}
