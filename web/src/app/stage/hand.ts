import type { Point } from '@kettle/core/geometry';

/** Follows the pointer from a press on an element until it is let go, wherever it goes. */
export class Hand {
  private stop: () => void = () => undefined;

  constructor(private readonly element: HTMLElement) {}

  /** Position of a pointer in the element, px. */
  at(event: { clientX: number; clientY: number }): Point {
    const { left, top } = this.element.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  }

  follow(move: (event: PointerEvent) => void, end: (event: PointerEvent) => void): void {
    this.letGo();
    const up = (event: PointerEvent): void => {
      this.letGo();
      end(event);
    };
    window.addEventListener('pointermove', move);
    window.addEventListener('pointerup', up);
    window.addEventListener('pointercancel', up);
    this.stop = () => {
      window.removeEventListener('pointermove', move);
      window.removeEventListener('pointerup', up);
      window.removeEventListener('pointercancel', up);
    };
  }

  letGo(): void {
    this.stop();
    this.stop = () => undefined;
  }
}
