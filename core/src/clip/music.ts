import { CLIP_FPS } from './clip.js';

/** A piece of music with its beats and the places where it can be repeated without being heard to. */
export interface MusicTrack {
  readonly id: string;
  readonly title: string;
  readonly mood: string;
  readonly tempo: number;
  readonly beats: { readonly bpm: number; readonly offset: number; readonly perBar: number };
  readonly durationSeconds: number;
  readonly loopStart: number;
  readonly loopEnd: number;
}

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

/** Loudness over the clip, 0 to 1, at a time of it. */
export function gainAt(seconds: number, time: number, startsInside: boolean): number {
  const comes = startsInside ? Math.min(1, time / FADE_IN) : 1;
  const goes = Math.min(1, Math.max(0, seconds - time) / Math.min(FADE_OUT, seconds / 2));
  return Math.max(0, comes * goes);
}

/** Time of the place in a track that a time of the clip plays. */
function placeIn(plan: readonly MusicPiece[], time: number): number {
  const piece = plan.findLast(({ at }) => at <= time + 1e-9) ?? plan[0];
  return piece.from + time - piece.at;
}

/** Frames of a clip on which a beat falls, to the nearest. */
export function beatFrames(track: MusicTrack, start: number, frames: number): number[] {
  const plan = musicPlan(track, start, frames / CLIP_FPS);
  const step = 60 / track.beats.bpm;
  const found: number[] = [];
  for (const piece of plan) {
    const first = Math.ceil((piece.from - track.beats.offset) / step - 1e-6);
    for (let beat = first; track.beats.offset + beat * step < piece.to - 1e-6; beat++) {
      const frame = Math.round((piece.at + track.beats.offset + beat * step - piece.from) * CLIP_FPS);
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
