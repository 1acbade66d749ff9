import type { Point } from '@kettle/core/geometry';

/** Two fingers on the stage, as they lie when the second comes down and as they lie now, px. */
export interface Fingers {
  readonly middle: Point;
  readonly apart: number;
}

/**
 * Follows two fingers. The second one ends whatever the first had begun, and nothing else hears of either until both
 * are lifted.
 */
export class Pinch {
  private readonly down = new Map<number, Point>();
  private first: Fingers | null = null;

  /**
   * @param element what they are put on
   * @param at position of a pointer in it, px
   * @param begun hears that there are two now
   * @param moved hears how they lay at first, and how they lie now
   */
  constructor(
    private readonly element: HTMLElement,
    private readonly at: (event: PointerEvent) => Point,
    private readonly begun: () => void,
    private readonly moved: (first: Fingers, now: Fingers) => void,
  ) {
    element.addEventListener('pointerdown', this.press, { capture: true });
    element.addEventListener('touchstart', this.touch, { capture: true });
    window.addEventListener('pointermove', this.move, { capture: true });
    window.addEventListener('pointerup', this.lift, { capture: true });
    window.addEventListener('pointercancel', this.lift, { capture: true });
  }

  destroy(): void {
    this.element.removeEventListener('pointerdown', this.press, { capture: true });
    this.element.removeEventListener('touchstart', this.touch, { capture: true });
    window.removeEventListener('pointermove', this.move, { capture: true });
    window.removeEventListener('pointerup', this.lift, { capture: true });
    window.removeEventListener('pointercancel', this.lift, { capture: true });
  }

  private readonly press = (event: PointerEvent): void => {
    if (event.pointerType !== 'touch') return;
    this.down.set(event.pointerId, this.at(event));
    if (this.down.size < 2) return;
    event.stopPropagation();
    if (this.first || this.down.size > 2) return;
    this.first = this.fingers();
    this.begun();
  };

  /** The same touch as it is told a second time, for parts that listen to that alone. */
  private readonly touch = (event: TouchEvent): void => {
    if (event.touches.length > 1) event.stopPropagation();
  };

  private readonly move = (event: PointerEvent): void => {
    if (!this.down.has(event.pointerId)) return;
    this.down.set(event.pointerId, this.at(event));
    if (!this.first) return;
    event.stopPropagation();
    if (this.down.size === 2) this.moved(this.first, this.fingers());
  };

  private readonly lift = (event: PointerEvent): void => {
    if (!this.down.delete(event.pointerId)) return;
    if (this.first) event.stopPropagation();
    if (!this.down.size) this.first = null;
  };

  private fingers(): Fingers {
    const [one, other] = [...this.down.values()];
    return {
      middle: { x: (one.x + other.x) / 2, y: (one.y + other.y) / 2 },
      apart: Math.max(1, Math.hypot(one.x - other.x, one.y - other.y)),
    };
  }
}
