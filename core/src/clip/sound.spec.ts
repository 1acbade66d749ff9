import { loudnessOf } from './loudness.js';
import { mixTrack, peaksOf, WANTED_LOUDNESS } from './mix.js';
import type { MusicTrack } from './music.js';

const RATE = 48_000;

/** A sine of so many Hz and a peak, in both channels. */
const tone = (hz: number, peak: number, seconds: number, rate = RATE): Float32Array<ArrayBuffer>[] =>
  [0, 1].map(() =>
    Float32Array.from({ length: Math.round(seconds * rate) }, (_, k) => peak * Math.sin((2 * Math.PI * hz * k) / rate)),
  );

/** Largest step between neighbours of the second difference: a click is one, a tone of some hundred Hz has hardly any. */
const harshness = (samples: Float32Array): number => {
  let most = 0;
  for (let k = 2; k < samples.length; k++)
    most = Math.max(most, Math.abs(samples[k] - 2 * samples[k - 1] + samples[k - 2]));
  return most;
};

const track: MusicTrack = {
  id: 'tone',
  title: 'Tone',
  mood: 'calm',
  tempo: null,
  beats: null,
  durationSeconds: 3,
  loopStart: 0.7137,
  loopEnd: 2.3391,
};

describe('loudness', () => {
  // EBU Tech 3341, cases 1 and 2: a stereo sine of 1000 Hz at -23 dBFS measures -23 LUFS, at -33 dBFS -33. Two seconds
  // of an even tone say what its twenty do.
  it('is what the recommendation’s own test tones say', () => {
    for (const level of [-23, -33])
      for (const rate of [48_000, 44_100])
        expect(loudnessOf(tone(1000, 10 ** (level / 20), 2, rate), rate)).toBeCloseTo(level, 1);
  });

  // EBU Tech 3341, case 3, in a quarter of its time: quiet passages before and after do not count.
  it('counts what is heard, not what is quiet around it', () => {
    const [quiet, loud] = [10 ** (-36 / 20), 10 ** (-23 / 20)];
    const all = tone(1000, quiet, 20);
    const middle = tone(1000, loud, 15);
    all.forEach((channel, c) => channel.set(middle[c], 2.5 * RATE));
    expect(Math.abs(loudnessOf(all, RATE) + 23)).toBeLessThan(0.1);
  });

  it('is nothing in silence', () => {
    expect(loudnessOf([new Float32Array(RATE), new Float32Array(RATE)], RATE)).toBe(-Infinity);
  });
});

describe('the sound of a clip', () => {
  it('is exactly as long as the picture and as loud as is wished, whatever the track is', () => {
    for (const peak of [0.02, 0.3, 0.98]) {
      const mixed = mixTrack(tone(330, peak, 3), RATE, track, { trackId: 'tone', start: 0, volume: 1 }, 7.25);
      expect(mixed.map(({ length }) => length)).toEqual([7.25 * RATE, 7.25 * RATE]);
      const loudness = loudnessOf(mixed, RATE);
      expect(loudness).withContext(`peak ${peak}`).toBeGreaterThan(-16);
      expect(loudness).toBeLessThan(-14);
    }
    const half = mixTrack(tone(330, 0.3, 3), RATE, track, { trackId: 'tone', start: 0, volume: 0.5 }, 6);
    expect(loudnessOf(half, RATE)).toBeCloseTo(WANTED_LOUDNESS - 6, 0);
  });

  it('does not click where the track jumps back or begins in its midst, nor at its end', () => {
    const mixed = mixTrack(tone(330, 0.5, 3), RATE, track, { trackId: 'tone', start: 0.411, volume: 1 }, 9);
    const even = mixed[0].slice(RATE * 0.2, RATE * 1.5);
    // Nowhere harsher than the tone is by itself; a jump without care would be more than ten times that.
    expect(harshness(mixed[0])).toBeLessThan(harshness(even) * 1.6);
    expect(Math.abs(mixed[0][0])).toBeLessThan(0.001);
    expect(Math.abs(mixed[0].at(-1)!)).toBeLessThan(0.001);
    const careless = new Float32Array(tone(330, 0.5, 3)[0]);
    careless.copyWithin(Math.round(track.loopEnd * RATE), Math.round(track.loopStart * RATE));
    expect(harshness(careless)).toBeGreaterThan(harshness(even) * 8);
  });

  it('holds peaks below full scale instead of cutting them off', () => {
    // Short strokes over a quiet tone: loud enough on average only when the strokes are held.
    const sound = tone(220, 0.05, 3);
    for (const channel of sound)
      for (let at = 0.25; at < 3; at += 0.5)
        for (let k = 0; k < 0.05 * RATE; k++)
          channel[Math.round(at * RATE) + k] += 0.9 * Math.sin((2 * Math.PI * 500 * k) / RATE) * Math.exp(-k / 700);
    const mixed = mixTrack(sound, RATE, track, { trackId: 'tone', start: 0, volume: 1 }, 6);
    const peak = Math.max(...peaksOf(mixed, 100));
    expect(peak).toBeLessThanOrEqual(0.892);
    expect(Math.abs(loudnessOf(mixed, RATE) - WANTED_LOUDNESS)).toBeLessThan(1);
    // Held smoothly: no flat tops, that is no run of equal samples at the ceiling.
    let run = 0;
    for (let k = 1; k < mixed[0].length; k++)
      if (Math.abs(mixed[0][k]) > 0.88 && mixed[0][k] === mixed[0][k - 1]) run++;
    expect(run).toBeLessThan(8);
  });

  it('leaves silence silent', () => {
    const mixed = mixTrack(
      [new Float32Array(RATE * 3), new Float32Array(RATE * 3)],
      RATE,
      track,
      { trackId: 'x', start: 0, volume: 1 },
      2,
    );
    expect(Math.max(...peaksOf(mixed, 4))).toBe(0);
  });

  it('has a picture of how loud it is', () => {
    const rising = Float32Array.from({ length: 1000 }, (_, k) => -k / 1000);
    const peaks = peaksOf([rising], 10);
    expect(peaks.length).toBe(10);
    peaks.forEach((peak, i) => expect(peak).toBeCloseTo((i + 1) / 10 - 0.001, 3));
  });
});
