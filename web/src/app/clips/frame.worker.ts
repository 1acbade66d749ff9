/// <reference lib="webworker" />
import type { FrameReply, FrameRequest } from './frame-source';
import { readFrame, type FrameMaps } from './moving-frames';

// Reads frames of moving blanks for the worker at the other end of a port.

const buffersOf = ({ maps, areas }: FrameMaps): ArrayBuffer[] => [
  ...new Set(
    [
      maps.photo,
      maps.mask,
      maps.shade,
      maps.shadow,
      ...[...areas.values()].flatMap(({ index, u, v, coverage, detail, along }) => [
        index,
        u,
        v,
        coverage,
        detail,
        along,
      ]),
    ].map(({ buffer }) => buffer as ArrayBuffer),
  ),
];

addEventListener('message', ({ data: port }: MessageEvent<MessagePort>) => {
  port.onmessage = ({ data: { id, seen, frame, densities } }: MessageEvent<FrameRequest>) => {
    readFrame(seen, frame, densities).then(
      (read) => port.postMessage({ id, frame: read } satisfies FrameReply, buffersOf(read)),
      (error: unknown) =>
        port.postMessage({
          id,
          failed: error instanceof Error ? error.message : 'A frame could not be read.',
        } satisfies FrameReply),
    );
  };
});
