import { CLIP_FPS, type ClipMusic } from '../model/clip.js';

/** A piece of music, with its beats and the places where it can be repeated without being heard to. */
export interface MusicTrack {
  readonly id: string;
  readonly title: string;
  readonly mood: string;
  /** Beats a minute; null where nobody knows. */
  readonly tempo: number | null;
  readonly beats: { readonly bpm: number; readonly offset: number; readonly perBar: number } | null;
  readonly durationSeconds: number;
  readonly loopStart: number;
  readonly loopEnd: number;
  /** True for a seller's own. */
  readonly own?: boolean;
}

/** Longest piece of music of one's own, s, and the longest that it may take to come in or go. */
export const MOST_MUSIC_SECONDS = 900;
export const MOST_FADE = 10;

/** A stretch of a track as it is played. Seconds. */
export interface MusicPiece {
  readonly from: number;
  readonly to: number;
  /** When it begins in the clip. */
  readonly at: number;
}

/** Music comes in over this time where it does not begin at its beginning, and goes out over that at the end, seconds. */
export const FADE_IN = 0.03;
export const FADE_OUT = 1.2;

/** What of a track is played so that it lasts as long as a clip: jumps back at its loop as often as needed. */
export function musicPlan(track: MusicTrack, start: number, seconds: number): MusicPiece[] {
  const pieces: MusicPiece[] = [];
  let from = Math.min(Math.max(0, start), Math.max(0, track.loopEnd - 0.1));
  let at = 0;
  while (at < seconds - 1e-9) {
    const left = seconds - at;
    // What is left is shorter than all there is: the ending is played, if it comes to that, instead of one more jump.
    const most = from + left <= track.durationSeconds ? track.durationSeconds : track.loopEnd;
    const to = Math.min(from + left, most);
    pieces.push({ from, to, at });
    at += to - from;
    from = track.loopStart;
  }
  return pieces;
}

/** How long music comes in and goes, seconds: what the seller said, at least so long that nothing clicks, and never so long that they meet. */
export function fadesOf(
  track: MusicTrack,
  { start, fadeIn, fadeOut }: Pick<ClipMusic, 'start' | 'fadeIn' | 'fadeOut'>,
  seconds: number,
): { readonly comes: number; readonly goes: number } {
  const least = startsInside(track, start) ? FADE_IN : 0;
  return {
    comes: Math.min(seconds / 2, Math.max(least, fadeIn ?? least)),
    goes: Math.min(seconds / 2, Math.max(FADE_IN, fadeOut ?? FADE_OUT)),
  };
}

/** Loudness over the clip, 0 to 1, at a time of it. */
export function gainAt(
  seconds: number,
  time: number,
  { comes, goes }: { readonly comes: number; readonly goes: number },
): number {
  const in_ = comes > 0 ? Math.min(1, Math.max(0, time) / comes) : 1;
  return in_ * Math.min(1, Math.max(0, seconds - time) / goes);
}

/** Time of the place in a track that a time of the clip plays. */
function placeIn(plan: readonly MusicPiece[], time: number): number {
  const piece = plan.findLast(({ at }) => at <= time + 1e-9) ?? plan[0];
  return piece.from + time - piece.at;
}

/** Frames of a clip on which a beat falls, to the nearest; none where nobody knows them. */
export function beatFrames(track: MusicTrack, start: number, frames: number): number[] {
  const { beats } = track;
  if (!beats) return [];
  const plan = musicPlan(track, start, frames / CLIP_FPS);
  const step = 60 / beats.bpm;
  const found: number[] = [];
  for (const piece of plan) {
    const first = Math.ceil((piece.from - beats.offset) / step - 1e-6);
    for (let beat = first; beats.offset + beat * step < piece.to - 1e-6; beat++) {
      const frame = Math.round((piece.at + beats.offset + beat * step - piece.from) * CLIP_FPS);
      if (frame < frames && frame !== found.at(-1)) found.push(frame);
    }
  }
  return found;
}

/** The frame nearest to one on which a beat falls, no further away than half a beat; the frame itself without music. */
export function onBeat(frame: number, beats: readonly number[]): number {
  return beats.reduce(
    (best, beat) => (Math.abs(beat - frame) < Math.abs(best - frame) ? beat : best),
    beats[0] ?? frame,
  );
}

/** True where the music begins inside its track: there it has to come in softly. */
export const startsInside = (track: MusicTrack, start: number): boolean =>
  placeIn(musicPlan(track, start, 1), 0) > 1e-6;
