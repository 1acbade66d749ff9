import type { HttpTestingController } from '@angular/common/http/testing';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { FindingCard } from '../checks/finding-card';
import { badge, mug, openEditor } from '../testing/open-editor';
import type { Editor } from '../editor/editor';
import type { Maker } from '../editor/maker';
import { HistoryMenu } from './history-menu';
import { Strip } from './strip';
import { TargetCards } from './target-cards';

describe('around the stage', () => {
  let editor: Editor;
  let maker: Maker;
  let http: HttpTestingController;
  beforeEach(() => {
    ({ editor, maker, http } = openEditor());
    maker.picture(badge);
  });
  const page = (fixture: ComponentFixture<unknown>) => fixture.nativeElement as HTMLElement;
  const overlay = () => [...document.querySelectorAll<HTMLElement>('.cdk-overlay-container [mat-menu-item]')];
  async function show<T>(component: new () => T, inputs: Record<string, unknown> = {}): Promise<ComponentFixture<T>> {
    const fixture = TestBed.createComponent(component);
    for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    return fixture;
  }

  it('target cards choose, add and take off targets', async () => {
    const fixture = await show(TargetCards);
    [...page(fixture).querySelectorAll('button')].find((one) => one.textContent?.includes('Add a target'))!.click();
    await fixture.whenStable();
    expect(overlay().map((one) => one.textContent?.trim())).toEqual([
      'A size of your own …',
      'All over, cut and sewn …',
      jasmine.stringContaining('2480 × 1063 px · 300 DPI · RGB'),
    ]);
    overlay()[2].click();
    await fixture.whenStable();
    expect(editor.current()?.requirement.id).toBe(mug.id);
    expect([...page(fixture).querySelectorAll('.card')].map((one) => one.getAttribute('aria-pressed'))).toEqual([
      'false',
      'true',
    ]);
    page(fixture).querySelector<HTMLElement>('[aria-label="Take Mug wrap off the targets"]')!.click();
    await fixture.whenStable();
    expect(editor.targets().map((one) => one.requirement.id)).toEqual(['tee']);
  });

  it('target cards are added by typing: what is typed narrows them, and Enter adds the first', async () => {
    const fixture = await show(TargetCards);
    document.body.append(page(fixture));
    [...page(fixture).querySelectorAll('button')].find((one) => one.textContent?.includes('Add a target'))!.click();
    await fixture.whenStable();
    await new Promise((resolve) => setTimeout(resolve));
    const box = document.querySelector<HTMLInputElement>('[aria-label="Search requirements"]')!;
    expect(document.activeElement).toBe(box);
    const type = async (words: string): Promise<void> => {
      box.value = words;
      box.dispatchEvent(new Event('input'));
      box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
      await fixture.whenStable();
    };
    await type('umbrella');
    expect(editor.targets().map((one) => one.requirement.id)).toEqual(['tee']);
    await type('wrap');
    expect(editor.current()?.requirement.id).toBe(mug.id);
    page(fixture).remove();
  });

  it('the strip hides, deletes and reorders by keyboard', async () => {
    maker.shape('ring');
    const fixture = await show(Strip);
    const sheet = (i: number) => page(fixture).querySelectorAll<HTMLElement>('[data-layer]')[i];
    const press = async (i: number, key: string, altKey = false) => {
      sheet(i).dispatchEvent(new KeyboardEvent('keydown', { key, altKey, bubbles: true, cancelable: true }));
      await fixture.whenStable();
    };
    await press(1, 'ArrowLeft', true);
    expect(editor.desk.document()!.layers.map((one) => one.kind)).toEqual(['shape', 'picture']);
    page(fixture).querySelector<HTMLElement>('[aria-label="Hide Ring"]')!.click();
    await fixture.whenStable();
    expect(sheet(0).getAttribute('aria-label')).toBe('Ring, layer 1 of 2, hidden');
    await press(0, 'Delete');
    expect(editor.desk.document()!.layers.map((one) => one.kind)).toEqual(['picture']);
    editor.desk.undo();
    expect(editor.desk.document()!.layers.length).toBe(2);
  });

  it('history shows every revision, names one, and brings one back as a change that can be undone', async () => {
    const fixture = await show(HistoryMenu);
    page(fixture).querySelector('button')!.click();
    http.expectOne('/api/designs/d1/revisions').flush([
      { revision: 2, savedAt: '2026-11-25T20:05:00.000Z', name: null },
      { revision: 1, savedAt: '2026-11-25T20:00:00.000Z', name: 'For the club' },
    ]);
    await fixture.whenStable();
    const dialog = () => document.querySelector<HTMLElement>('ks-history-dialog')!;
    const button = (label: string) => dialog().querySelector<HTMLButtonElement>(`[aria-label="${label}"]`)!;
    expect([button('Bring back revision 2').disabled, button('Bring back revision 1').disabled]).toEqual([true, false]);
    const name = dialog().querySelector<HTMLInputElement>('[aria-label="Name of revision 2"]')!;
    name.value = 'Before the fog';
    name.dispatchEvent(new Event('change'));
    http.expectOne({ method: 'PUT', url: '/api/designs/d1/revisions/2/name' }).flush(null);
    button('Bring back revision 1').click();
    const before = editor.desk.document()!;
    http.expectOne('/api/designs/d1/revisions/1').flush({
      id: 'd1',
      revision: 1,
      savedAt: '2026-11-25T20:00:00.000Z',
      document: { ...before, name: 'As it was' },
    });
    expect(editor.desk.document()?.name).toBe('As it was');
    editor.desk.undo();
    expect(editor.desk.document()).toBe(before);
  });

  it('a finding says how grave it is in words, and hands out its fix', async () => {
    const finding = {
      code: 'enlarged' as const,
      severity: 'blocks' as const,
      title: 'Soft print',
      sentence: 'Enlarged to 315 %.',
      layerId: null,
      where: null,
      fix: { kind: 'centre' as const, label: 'Centre it' },
    };
    const fixture = await show(FindingCard, { finding });
    const mended: unknown[] = [];
    fixture.componentInstance.mended.subscribe((one) => mended.push(one));
    expect(page(fixture).textContent).toContain('Needs work');
    page(fixture).querySelector('button')!.click();
    expect(mended).toEqual([finding]);
    fixture.componentRef.setInput('finding', { ...finding, severity: 'tells', fix: null });
    await fixture.whenStable();
    expect(page(fixture).textContent).toContain('Good to know');
    expect(page(fixture).querySelector('button')).toBeNull();
  });
});
