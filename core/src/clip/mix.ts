import type { ClipMusic } from '../model/clip.js';
import { loudnessOf } from './loudness.js';
import { fadesOf, gainAt, musicPlan, type MusicTrack } from './music.js';

/** Loudness that a clip's music has at full volume, LUFS: what places for posts play without turning it down. */
export const WANTED_LOUDNESS = -15;
/** No sample is louder than this, a share of full scale: 1 dB is left for what coding adds. */
const CEILING = 0.891;
/** Time over which a jump in the track goes over from one place to the other, seconds. */
const CROSSED = 0.012;
/** How far a limiter looks ahead, and how fast it lets go, seconds. */
const [AHEAD, RELEASE] = [0.004, 0.12];
/** Silence is not made loud: what is quieter than this is left alone, LUFS. */
const SILENT = -50;
/** How near the loudness comes to what is wished, LU, in so many tries. */
const [CLOSE, MOST_TRIES] = [0.3, 5];

type Channels = readonly Float32Array<ArrayBuffer>[];

/**
 * The sound of a clip, exactly as long as its picture: the track's pieces joined without a click, as loud as is wished.
 * @param sound the track, decoded; one array of samples a channel, -1 to 1
 * @param rate samples a second, of the track and of what is returned
 */
export const mixTrack = (
  sound: Channels,
  rate: number,
  track: MusicTrack,
  music: ClipMusic,
  seconds: number,
): Float32Array<ArrayBuffer>[] =>
  levelTrack(joinPieces(sound, rate, track, music, seconds), rate, track, music, seconds);

/** The first, quick half of {@link mixTrack}: what a clip plays of a track, joined, as long as the clip. */
export function joinPieces(
  sound: Channels,
  rate: number,
  track: MusicTrack,
  music: ClipMusic,
  seconds: number,
): Float32Array<ArrayBuffer>[] {
  const length = Math.max(1, Math.round(seconds * rate));
  const out = sound.map(() => new Float32Array(length));
  const plan = musicPlan(track, music.start, seconds);
  const crossed = Math.round(CROSSED * rate);
  plan.forEach(({ from, to, at }, i) => {
    const [begin, first, count] = [Math.round(at * rate), Math.round(from * rate), Math.round((to - from) * rate)];
    const goesOn = i < plan.length - 1 ? crossed : 0;
    sound.forEach((channel, c) => {
      for (let k = 0; k < count + goesOn && begin + k < length; k++) {
        const comes = i > 0 ? Math.min(1, (k + 1) / (crossed + 1)) : 1;
        const goes = k >= count ? 1 - (k - count + 1) / (crossed + 1) : 1;
        out[c][begin + k] += (channel[first + k] ?? 0) * comes * goes;
      }
    });
  });
  return out;
}

/** The second half of {@link mixTrack}, most of its work: fades, loudness, volume. Writes over `joined`. */
export function levelTrack(
  joined: Float32Array<ArrayBuffer>[],
  rate: number,
  track: MusicTrack,
  music: ClipMusic,
  seconds: number,
): Float32Array<ArrayBuffer>[] {
  const fades = fadesOf(track, music, seconds);
  for (const channel of joined) for (let k = 0; k < channel.length; k++) channel[k] *= gainAt(seconds, k / rate, fades);
  const loud = asLoudAs(joined, rate, WANTED_LOUDNESS);
  for (const channel of loud) for (let k = 0; k < channel.length; k++) channel[k] *= music.volume;
  return loud;
}

/** Sound with a loudness, LUFS; silence stays what it is. */
function asLoudAs(channels: Float32Array<ArrayBuffer>[], rate: number, wanted: number): Float32Array<ArrayBuffer>[] {
  const loudness = loudnessOf(channels, rate);
  if (!(loudness > SILENT)) return channels;
  let decibels = wanted - loudness;
  for (let tries = 1; ; tries++) {
    const loud = amplified(channels, rate, 10 ** (decibels / 20));
    // What held its peaks took of the loudness is given back.
    const missing = wanted - loudnessOf(loud, rate);
    if (Math.abs(missing) < CLOSE || tries === MOST_TRIES) return loud;
    decibels += missing;
  }
}

/** Sound made louder or quieter; what would go over the ceiling is held below it, smoothly. */
function amplified(channels: readonly Float32Array[], rate: number, gain: number): Float32Array<ArrayBuffer>[] {
  const length = channels[0]?.length ?? 0;
  const out = channels.map(() => new Float32Array(length));
  const ahead = Math.round(AHEAD * rate);
  const release = Math.exp(-1 / (RELEASE * rate));
  // What each sample may be multiplied with so that it stays below the ceiling.
  const allowed = new Float32Array(length);
  for (let k = 0; k < length; k++) {
    let peak = 0;
    for (const channel of channels) peak = Math.max(peak, Math.abs(channel[k]));
    allowed[k] = Math.min(gain, CEILING / Math.max(peak, 1e-9));
  }
  // The least of those that come within the look-ahead; then a mean over it, which is never above what a sample allows.
  const least = runningLeast(allowed, ahead);
  let held = gain;
  const eased = least.map((value) => (held = Math.min(value, gain + (held - gain) * release)));
  let sum = gain * ahead;
  for (let k = 0; k < length; k++) {
    sum += eased[k] - (k >= ahead ? eased[k - ahead] : gain);
    const factor = Math.min(allowed[k], sum / ahead);
    channels.forEach((channel, c) => (out[c][k] = channel[k] * factor));
  }
  return out;
}

/** The least of each value and the ones that come after it, so many of them. */
function runningLeast(values: Float32Array, ahead: number): Float32Array {
  const out = new Float32Array(values.length);
  const queue: number[] = [];
  let begin = 0;
  for (let k = values.length - 1; k >= 0; k--) {
    while (queue.length > begin && values[queue[queue.length - 1]] >= values[k]) queue.pop();
    queue.push(k);
    while (queue[begin] > k + ahead) begin++;
    out[k] = values[queue[begin]];
  }
  return out;
}

/** The loudest sample of each of so many even stretches, 0 to 1, for a picture of the sound. */
export function peaksOf(channels: readonly Float32Array[], count: number): number[] {
  const length = channels[0]?.length ?? 0;
  return Array.from({ length: count }, (_, i) => {
    const [from, to] = [Math.floor((i * length) / count), Math.floor(((i + 1) * length) / count)];
    let peak = 0;
    for (const channel of channels) for (let k = from; k < to; k++) peak = Math.max(peak, Math.abs(channel[k]));
    return Math.min(1, peak);
  });
}
