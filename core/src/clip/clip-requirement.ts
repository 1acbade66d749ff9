import { formatBytes } from '../units/bytes.js';
import { CLIP_FILES, type ClipFileKind } from './clip-file.js';
import { aspectOf, CLIP_SHAPES, CLIP_SHAPE_WORDS, type ClipShape } from '../model/clip.js';

/** What a channel demands of clips. */
export interface ClipRequirementFields {
  readonly channel: string;
  readonly name: string;
  readonly shapes: readonly ClipShape[];
  readonly files: readonly ClipFileKind[];
  readonly leastSeconds: number;
  readonly mostSeconds: number;
  readonly mostBytes: number;
  /** Of the shorter side, px. */
  readonly leastSide: number;
  readonly sound: 'any' | 'none' | 'needed';
}

export interface ClipRequirement extends ClipRequirementFields {
  readonly id: string;
  readonly revision: number;
  /** True for one that came with Kettle Sheet. */
  readonly shipped: boolean;
}

/** A clip as far as it is known before it is made. */
export interface PlannedClip {
  readonly seconds: number;
  readonly shape: ClipShape;
  readonly hasSound: boolean;
}

/** A clip's file as it was read back. */
export interface ReadClipFile {
  readonly seconds: number;
  readonly width: number;
  readonly height: number;
  readonly file: ClipFileKind;
  readonly bytes: number;
  readonly hasSound: boolean;
}

const listed = (words: readonly string[]): string =>
  words.length < 2 ? words.join('') : `${words.slice(0, -1).join(', ')} or ${words[words.length - 1]}`;
const inSeconds = (seconds: number): string => `${Math.round(seconds * 10) / 10} s`;

/** A frame is forgiven: containers round. */
const SLACK = 0.05;

/** What of a clip a channel would refuse, a sentence each; none when it may be made. */
export function refusedBefore(
  { shapes, leastSeconds, mostSeconds, sound }: ClipRequirementFields,
  { seconds, shape, hasSound }: PlannedClip,
): string[] {
  return [
    ...(shapes.includes(shape)
      ? []
      : [`Its shape is ${CLIP_SHAPE_WORDS[shape]}; it must be ${listed(shapes.map((one) => CLIP_SHAPE_WORDS[one]))}.`]),
    ...refusedLength(seconds, leastSeconds, mostSeconds),
    ...refusedSound(sound, hasSound),
  ];
}

/** What of a finished file it would refuse. */
export function refusedAfter(
  { shapes, files, leastSeconds, mostSeconds, mostBytes, leastSide, sound }: ClipRequirementFields,
  { seconds, width, height, file, bytes, hasSound }: ReadClipFile,
): string[] {
  const shape = CLIP_SHAPES.find((one) => Math.abs(width / height - aspectOf(one)) < 0.01);
  const side = Math.min(width, height);
  return [
    ...(shape && shapes.includes(shape)
      ? []
      : [
          `Its shape is ${shape ? CLIP_SHAPE_WORDS[shape] : `${width} × ${height}`}; it must be ${listed(shapes.map((one) => CLIP_SHAPE_WORDS[one]))}.`,
        ]),
    ...(files.includes(file)
      ? []
      : [`It is ${CLIP_FILES[file].name}; it must be ${listed(files.map((one) => CLIP_FILES[one].name))}.`]),
    ...(side < leastSide ? [`Its shorter side has ${side} px; it must have at least ${leastSide}.`] : []),
    ...(bytes > mostBytes
      ? [`It has ${formatBytes(bytes)}, ${formatBytes(bytes - mostBytes)} more than ${formatBytes(mostBytes)}.`]
      : []),
    ...refusedLength(seconds, leastSeconds, mostSeconds),
    ...refusedSound(CLIP_FILES[file].hasSound || sound === 'none' ? sound : 'any', hasSound),
  ];
}

const refusedLength = (seconds: number, least: number, most: number): string[] =>
  seconds < least - SLACK
    ? [`It lasts ${inSeconds(seconds)}, ${inSeconds(least - seconds)} less than ${inSeconds(least)}.`]
    : seconds > most + SLACK
      ? [`It lasts ${inSeconds(seconds)}, ${inSeconds(seconds - most)} more than ${inSeconds(most)}.`]
      : [];

const refusedSound = (sound: ClipRequirementFields['sound'], hasSound: boolean): string[] =>
  sound === 'needed' && !hasSound ? ['It has no sound.'] : sound === 'none' && hasSound ? ['It has sound.'] : [];
