/// <reference lib="webworker" />
import { FrameSource } from './frame-source';
import { nameOfSeen, type MovingReply, type MovingRequest, type SeenMoving } from './moving-messages';
import { MovingPress } from './moving-press';

// Prints the frames of moving blanks for the stage, so that the page never waits.

/** Blanks that are ready to be printed on; each holds up to 100 MB. */
const MOST_PRESSES = 2;
const presses = new Map<string, Promise<MovingPress>>();
let source: FrameSource | null = null;
const stopped = new Set<number>();
/** Number of the last request that was answered; they are answered in their order. */
let answered = 0;

function pressOf(seen: SeenMoving): Promise<MovingPress> {
  const key = nameOfSeen(seen);
  const press = presses.get(key) ?? MovingPress.open(seen, source!);
  presses.delete(key);
  presses.set(key, press);
  press.catch(() => presses.delete(key));
  for (const oldest of presses.keys()) if (presses.size > MOST_PRESSES) presses.delete(oldest);
  return press;
}

const say = (reply: MovingReply, transfer: Transferable[] = []): void => postMessage(reply, transfer);

async function answer(request: Exclude<MovingRequest, { kind: 'stop' | 'frames' }>): Promise<void> {
  switch (request.kind) {
    case 'load': {
      const press = await pressOf(request.seen);
      say({ kind: 'loaded', id: request.id, areas: request.seen.areaIds.map((id) => press.area(id)) });
      return;
    }
    case 'draw': {
      const { id, seen, guises, needed } = request;
      const press = await pressOf(seen);
      for (const [i, one] of needed.entries()) {
        if (stopped.has(id)) break;
        const next = needed.slice(i + 1).find(({ frame }) => frame !== one.frame);
        if (next) press.ahead(next.frame);
        const picture = await press.draw(one.frame, guises[one.guise]);
        say({ kind: 'drawn', id, needed: one, picture }, [picture]);
      }
      say({ kind: 'done', id });
    }
  }
}

/** One after the other: a press shows one frame at a time. */
let last: Promise<unknown> = Promise.resolve();

addEventListener('message', ({ data }: MessageEvent<MovingRequest>) => {
  if (data.kind === 'frames') {
    source = new FrameSource(data.port);
    return;
  }
  if (data.kind === 'stop') {
    if (data.id > answered) stopped.add(data.id);
    return;
  }
  last = last
    .then(() => answer(data))
    .catch((error: unknown) =>
      say({
        kind: 'failed',
        id: data.id,
        message: error instanceof Error ? error.message : 'The product could not be drawn.',
      }),
    )
    .finally(() => {
      answered = data.id;
      stopped.delete(data.id);
    });
});
