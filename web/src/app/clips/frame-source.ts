import type { SeenMoving } from './moving-messages';
import type { FrameMaps } from './moving-frames';

/** To the worker that reads frames, over a port of its own. */
export interface FrameRequest {
  readonly id: number;
  readonly seen: SeenMoving;
  readonly frame: number;
  readonly densities: ReadonlyMap<string, number>;
}

/** From it. */
export type FrameReply = { readonly id: number } & ({ readonly frame: FrameMaps } | { readonly failed: string });

/** Has frames read by another worker, so that one is read while the one before is printed. */
export class FrameSource {
  private readonly waiting = new Map<number, { resolve: (frame: FrameMaps) => void; reject: (error: Error) => void }>();
  private last = 0;

  constructor(private readonly port: MessagePort) {
    port.onmessage = ({ data }: MessageEvent<FrameReply>) => {
      const asked = this.waiting.get(data.id);
      this.waiting.delete(data.id);
      if ('frame' in data) asked?.resolve(data.frame);
      else asked?.reject(new Error(data.failed));
    };
  }

  /** @throws Error with a sentence */
  read(seen: SeenMoving, frame: number, densities: ReadonlyMap<string, number> = new Map()): Promise<FrameMaps> {
    const id = ++this.last;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      this.port.postMessage({ id, seen, frame, densities } satisfies FrameRequest);
    });
  }
}
