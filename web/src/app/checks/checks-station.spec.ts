import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { apply, type Point } from '@kettle/core/geometry';
import type { PressMeasure } from '@kettle/core/press';
import type { Editor } from '../editor/editor';
import { badge, openEditor } from '../testing/open-editor';
import { ChecksStation } from './checks-station';

/** So many places around a point on the canvas. */
const places = (count: number, { x, y }: Point) => ({
  count,
  where: Array.from({ length: count }, (_, i) => ({ x: x + i, y, width: 2, height: 0.2 })),
});
const measuredAt = (point: Point): PressMeasure => ({
  thin: { ...places(2, point), thinnestMm: 0.2 },
  gaps: { count: 0, where: [], thinnestMm: 0 },
  letters: { count: 0, where: [], lowestMm: 0 },
  specks: places(5, point),
  holes: { count: 0, where: [] },
  fade: { count: 0, where: [], widestMm: 0 },
  coverage: null,
  gamut: null,
});

describe('the checks station', () => {
  let editor: Editor;
  let http: HttpTestingController;
  let fixture: ComponentFixture<ChecksStation>;
  let page: HTMLElement;
  beforeEach(async () => {
    const opened = openEditor({ targets: [{ requirementId: 'tee' }, { requirementId: 'mug' }] });
    ({ editor, http } = opened);
    opened.maker.picture(badge);
    const { place } = editor.layers()[0];
    editor.measured.set({ tee: measuredAt(apply(editor.current()!.layout.toCanvas, place)) });
    fixture = TestBed.createComponent(ChecksStation);
    page = fixture.nativeElement as HTMLElement;
    document.body.append(page);
    await fixture.whenStable();
  });
  afterEach(() => page.remove());
  const options = (): HTMLElement[] => [...page.querySelectorAll<HTMLElement>('[role=option]')];
  const chosen = (): string => page.querySelector('[role=option][aria-selected=true] b')!.textContent!.trim();
  const list = (): HTMLElement => page.querySelector('[role=listbox]')!;
  const press = async (key: string): Promise<void> => {
    list().dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
    await fixture.whenStable();
  };
  const button = (label: RegExp): HTMLButtonElement =>
    [...page.querySelectorAll('button')].find((one) => label.test(one.textContent!))!;
  const go = async (title: RegExp): Promise<void> => {
    options()
      .find((one) => title.test(one.textContent!))!
      .click();
    await fixture.whenStable();
  };

  it('lists the findings of all targets, the worst first, with how many places each has', () => {
    const severities = options().map((one) =>
      ['blocks', 'warns', 'tells'].findIndex((word) => one.classList.contains(word)),
    );
    expect(severities).toEqual([...severities].sort());
    expect(options().map((one) => one.textContent)).toEqual(
      jasmine.arrayContaining([jasmine.stringMatching(/Lines too thin to hold.*Tee.*2 places/s) as unknown as string]),
    );
  });

  it('is walked through by keyboard, and turns to the target of what is chosen', async () => {
    await press('End');
    const last = chosen();
    await press('ArrowUp');
    expect(chosen()).not.toBe(last);
    await press('ArrowDown');
    expect(chosen()).toBe(last);
    for (let i = 0; i < options().length; i++) await press('ArrowUp');
    expect(options()[0].getAttribute('aria-selected')).toBe('true');
    await go(/Mug wrap/);
    expect(editor.current()!.requirement.id).toBe('mug');
  });

  it('mends the chosen finding by Enter, and all that needs no choice by one press, which one undo takes back', async () => {
    await go(/Lines too thin/);
    await press('Enter');
    expect(editor.layers()[0].keyline).toEqual(jasmine.objectContaining({ width: 0.08 }));
    editor.desk.undo();
    await fixture.whenStable();
    expect(editor.layers()[0].keyline).toBeUndefined();
    button(/^Mend \d+ at once/).click();
    await fixture.whenStable();
    const [layer] = editor.layers();
    expect([layer.keyline !== undefined, layer.kind === 'picture' && layer.treatments?.[0].id]).toEqual([
      true,
      'cleaned',
    ]);
    expect(document.body.textContent).toContain('Done: make them thicker, clear them away');
    editor.desk.undo();
    expect([editor.layers()[0].keyline, editor.layers().length]).toEqual([undefined, 1]);
  });

  it('takes a finding as it is with a reason, shows it last, counts it no more, and looks at it again', async () => {
    const before = editor.toMend();
    await go(/Lines too thin/);
    button(/Take it as it is/).click();
    await fixture.whenStable();
    const why = page.querySelector<HTMLInputElement>('.why')!;
    why.value = 'hairlines are meant';
    button(/^Accept it/).click();
    await fixture.whenStable();
    expect(editor.toMend()).toBe(before - 1);
    expect(options().at(-1)!.textContent).toContain('accepted');
    await go(/Lines too thin/);
    expect(page.querySelector('.said')!.textContent).toContain('hairlines are meant');
    button(/Look at it again/).click();
    await fixture.whenStable();
    expect(editor.toMend()).toBe(before);
  });

  it('asks for the tables of the print when it is wanted, by the requirement’s intent and then by another', async () => {
    http.expectNone((request) => request.url.startsWith('/api/proof'));
    button(/Side by side/).click();
    await fixture.whenStable();
    http
      .expectOne((request) => /intent=relative&blackPoint=true&paper=false/.test(request.url))
      .flush(new Blob([new ArrayBuffer(33 ** 3 * 16)]));
    expect(page.querySelectorAll('ks-print-view').length).toBe(2);
    const intent = page.querySelector('select')!;
    intent.value = 'perceptual';
    intent.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    http.expectOne((request) => /intent=perceptual/.test(request.url)).flush(new Blob([new ArrayBuffer(7)]));
    // Nonsense is told, and the screen's colours stay.
    while (!document.body.textContent.includes('Something unexpected happened'))
      await new Promise((resolve) => setTimeout(resolve));
    expect(page.querySelector('ks-print-view')).not.toBeNull();
  });
});
