import { Injectable, signal } from '@angular/core';

/** How the brush draws. Size in printed mm; hardness and opacity 0 to 1. */
export interface Brush {
  readonly size: number;
  readonly hardness: number;
  readonly opacity: number;
  readonly hex: string;
  readonly erase: boolean;
}

/** What a hand on the stage does just now. Provided by the bench. */
@Injectable()
export class Tools {
  /** True while the brush is out. */
  readonly drawing = signal(false);
  readonly brush = signal<Brush>({ size: 6, hardness: 1, opacity: 1, hex: '#f2bd4b', erase: false });
  /** Waits for a colour to be taken from the canvas. */
  readonly sampling = signal<((hex: string) => void) | null>(null);
  /** True while semi-transparent ink is marked on the canvas. */
  readonly showSoft = signal(false);
  /** True while dragged layers jump to lines. */
  readonly snapping = signal(true);

  change(change: Partial<Brush>): void {
    this.brush.update((brush) => ({ ...brush, ...change }));
  }

  /** Asks for a colour from the canvas; the next press there gives it. */
  sample(take: (hex: string) => void): void {
    this.sampling.set(take);
  }
}
