import type { InPage } from './in-page';

/** What follows a change on the screen: sizes are told, then it is drawn with one of the next pictures. */
export async function drawn(page: InPage<unknown>): Promise<void> {
  for (let i = 0; i < 6; i++) {
    await new Promise((resolve) => requestAnimationFrame(resolve));
    await page.fixture.whenStable();
  }
}

/** Red, green and blue of one pixel of a canvas on the page, told by CSS px. */
export function colourAt(canvas: HTMLCanvasElement, x: number, y: number): number[] {
  const density = canvas.width / canvas.clientWidth;
  return [
    ...canvas
      .getContext('2d')!
      .getImageData(x * density, y * density, 1, 1)
      .data.slice(0, 3),
  ];
}

/** A hand on an element, at a place of its own. */
export function point(on: Element, type: string, x: number, y: number, more: PointerEventInit = {}): void {
  const { left, top } = on.getBoundingClientRect();
  on.dispatchEvent(
    new PointerEvent(type, { clientX: left + x, clientY: top + y, button: 0, pointerId: 1, bubbles: true, ...more }),
  );
}
