import { STRIP_BOX, type SheetCell } from '@kettle/contract';
import { InPage } from '../testing/in-page';
import { mug, tee } from '../testing/open-editor';
import { SheetCellView } from './sheet-cell';

const cell = (change: Partial<SheetCell> = {}): SheetCell =>
  ({
    requirementId: 'tee',
    garment: '#1f2b4d',
    state: 'needs-work',
    finding: 'White box',
    printFileId: null,
    ...change,
  }) as SheetCell;

describe('a cell of the job sheet', () => {
  const show = (inputs: object = {}) =>
    InPage.show(SheetCellView, {
      cell: cell(),
      requirement: tee,
      strip: 'none',
      index: 0,
      designName: 'Fog',
      ...inputs,
    });
  const hear = (page: InPage<SheetCellView>): unknown[] => {
    const heard: unknown[] = [];
    page.fixture.componentInstance.opened.subscribe(() => heard.push('opened'));
    page.fixture.componentInstance.toggled.subscribe((range) => heard.push(range));
    return heard;
  };

  it('is read out with its design, where it goes, its state and what it needs', async () => {
    const page = await show();
    expect(page.buttons).toEqual(['Fog for Larkpost Market, Tee: needs work, white box']);
    page.fixture.componentRef.setInput('cell', cell({ state: 'ready', finding: null, listing: 'live' }));
    await page.fixture.whenStable();
    expect(page.buttons).toEqual(['Fog for Larkpost Market, Tee: ready, live']);
    expect(page.text).toContain('· live');
  });

  it('has the shape of its print file, and shows its own part of the strip', async () => {
    const art = async (requirement: object, index: number) => {
      const page = await show({ requirement, index });
      const { width, height, backgroundPositionX } = page.element.querySelector<HTMLElement>('.art')!.style;
      return [parseFloat(width) / parseFloat(height), parseFloat(backgroundPositionX), parseFloat(width)];
    };
    const [tall, first] = await art(tee, 0);
    const [wide, third, width] = await art(mug, 2);
    expect(tall).toBeCloseTo(14 / 16, 1);
    expect(wide).toBeCloseTo(210 / 90, 1);
    expect(first).toBeLessThanOrEqual(0);
    expect(third).toBe(-(2 * STRIP_BOX.width + (STRIP_BOX.width - width) / 2));
  });

  it('opens on a press, and is selected with Ctrl, with Shift from the last one on, or with the space bar', async () => {
    const page = await show();
    const heard = hear(page);
    const button = page.element.querySelector<HTMLElement>('button')!;
    const press = (more: MouseEventInit) => button.dispatchEvent(new MouseEvent('click', { bubbles: true, ...more }));
    press({});
    press({ ctrlKey: true });
    press({ shiftKey: true });
    button.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', cancelable: true }));
    button.dispatchEvent(new KeyboardEvent('keydown', { key: 'x' }));
    expect(heard).toEqual(['opened', false, true, false]);
  });

  it('has its box to tick once a pointer comes near, or it is selected', async () => {
    const page = await show();
    expect(page.element.querySelector('input')).toBeNull();
    page.element.dispatchEvent(new PointerEvent('pointerenter'));
    await page.fixture.whenStable();
    expect(page.element.querySelector('input')!.checked).toBeFalse();
    page.element.dispatchEvent(new PointerEvent('pointerleave'));
    page.fixture.componentRef.setInput('selected', true);
    await page.fixture.whenStable();
    expect(page.element.querySelector('input')!.checked).toBeTrue();
  });
});
