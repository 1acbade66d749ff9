import { parseFile } from 'music-metadata';
import { MOST_MUSIC_SECONDS } from '@kettle/core/clip';
import { ProblemError } from '../../floor/basics/problem-error.js';

/** What a music file says of itself. */
export interface MusicFacts {
  readonly seconds: number;
  readonly mediaType: string;
  /** Empty where it has none. */
  readonly title: string;
}

/** Kinds of files that are taken, by how a reader names their containers. */
const KINDS: readonly (readonly [RegExp, string])[] = [
  [/^wave/i, 'audio/wav'],
  [/^flac/i, 'audio/flac'],
  [/^ogg/i, 'audio/ogg'],
  [/^mpeg/i, 'audio/mpeg'],
];
/** Shortest piece that makes sense, s. */
const LEAST_SECONDS = 0.5;

const refused = (sentence: string): ProblemError => new ProblemError(422, 'no-music', sentence);

/** Reads what a music file is. @throws ProblemError with a sentence when it is none that can be used */
export async function checkMusic(path: string): Promise<MusicFacts> {
  const { format, common } = await parseFile(path, { duration: true, skipCovers: true }).catch(() => {
    throw refused('This file cannot be read as music. Take a WAV, FLAC, Ogg or MP3 file.');
  });
  const mediaType = KINDS.find(([kind]) => kind.test(format.container ?? ''))?.[1];
  if (!mediaType || !format.numberOfChannels)
    throw refused('Kettle Sheet takes music as WAV, FLAC, Ogg or MP3. Save it as one of these first.');
  const seconds = format.duration ?? 0;
  if (!(seconds >= LEAST_SECONDS)) throw refused('There is hardly any sound in this file. Choose another.');
  if (seconds > MOST_MUSIC_SECONDS)
    throw refused(
      `This piece lasts ${Math.round(seconds / 60)} minutes; a clip needs less than one. Cut it to at most ${MOST_MUSIC_SECONDS / 60} minutes first.`,
    );
  return { seconds, mediaType, title: common.title?.trim() ?? '' };
}
