import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Preferences } from '../data/preferences';
import { LengthField } from './length-field';
import { NumberField } from './number-field';

describe('number fields', () => {
  beforeEach(() => {
    localStorage.clear();
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  });

  const boxOf = (fixture: ComponentFixture<unknown>) => (fixture.nativeElement as HTMLElement).querySelector('input')!;
  async function type(fixture: ComponentFixture<unknown>, text: string): Promise<void> {
    boxOf(fixture).value = text;
    boxOf(fixture).dispatchEvent(new Event('change'));
    await fixture.whenStable();
  }
  async function number(inputs: Record<string, unknown> = {}) {
    const fixture = TestBed.createComponent(NumberField);
    for (const [name, value] of Object.entries({ label: 'Turn', value: 10, unit: '°', ...inputs }))
      fixture.componentRef.setInput(name, value);
    const taken: number[] = [];
    fixture.componentInstance.changed.subscribe((value) => taken.push(value));
    await fixture.whenStable();
    return { fixture, taken };
  }

  it('take numbers with a point or a comma', async () => {
    const { fixture, taken } = await number();
    await type(fixture, '12.5');
    await type(fixture, ' 7,25 ');
    expect(taken).toEqual([12.5, 7.25]);
  });

  it('refuse the rest with a sentence and keep the old value', async () => {
    const { fixture, taken } = await number({ least: 0, most: 90 });
    for (const [text, sentence] of [
      ['wide', 'Turn must be a number.'],
      ['', 'Turn must be a number.'],
      ['-1', 'At least 0 °.'],
      ['91', 'At most 90 °.'],
      ['Infinity', 'Turn must be a number.'],
    ]) {
      await type(fixture, text);
      expect((fixture.nativeElement as HTMLElement).querySelector('[role=alert]')?.textContent)
        .withContext(text)
        .toContain(sentence);
      expect(boxOf(fixture).value).toBe('10');
    }
    expect(taken).toEqual([]);
  });

  it('show what was typed, not what stood there before, until it comes back', async () => {
    const { fixture, taken } = await number();
    const box = boxOf(fixture);
    box.value = '25';
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    box.dispatchEvent(new Event('change'));
    // Whoever holds the number is slow: nothing has come back.
    await fixture.whenStable();
    expect([box.value, taken]).toEqual(['25', [25]]);
    fixture.componentRef.setInput('value', 25);
    await fixture.whenStable();
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    box.dispatchEvent(new Event('change'));
    expect(taken).toEqual([25]);
    box.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp' }));
    expect([box.value, taken]).toEqual(['26', [25, 26]]);
  });

  it('ask where a comma can be two things, and take what is chosen', async () => {
    const { fixture, taken } = await number();
    await type(fixture, '1,200');
    expect((fixture.nativeElement as HTMLElement).querySelector('[role=alert]')?.textContent).toBe(
      '“1,200” can be 1200 or 1.2: write one of them.',
    );
    const buttons = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')];
    expect([boxOf(fixture).value, taken, buttons.map((one) => one.textContent)]).toEqual(['10', [], ['1200', '1.2']]);
    buttons[0].click();
    await fixture.whenStable();
    expect(taken).toEqual([1200]);
    expect((fixture.nativeElement as HTMLElement).querySelector('button, [role=alert]')).toBeNull();
  });

  it('may be empty or whole where that is asked', async () => {
    const { fixture, taken } = await number({ optional: true, whole: true, label: 'Byte limit' });
    let cleared = 0;
    fixture.componentInstance.cleared.subscribe(() => cleared++);
    await type(fixture, '12.5');
    expect((fixture.nativeElement as HTMLElement).textContent).toContain('Byte limit must be a whole number.');
    await type(fixture, '');
    expect([taken, cleared]).toEqual([[], 1]);
  });

  it('step by arrow keys', async () => {
    const { fixture, taken } = await number({ step: 0.1 });
    boxOf(fixture).dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp' }));
    boxOf(fixture).dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowDown', shiftKey: true }));
    expect(taken).toEqual([10.1, 9.1]);
  });

  it('for lengths speak the seller’s unit and millimetres inside', async () => {
    const fixture = TestBed.createComponent(LengthField);
    fixture.componentRef.setInput('label', 'Width');
    fixture.componentRef.setInput('mm', 254);
    fixture.componentRef.setInput('dpi', 300);
    const taken: number[] = [];
    fixture.componentInstance.changed.subscribe((value) => taken.push(value));
    await fixture.whenStable();
    expect(boxOf(fixture).value).toBe('254');
    TestBed.inject(Preferences).unit.set('in');
    await fixture.whenStable();
    expect(boxOf(fixture).value).toBe('10');
    await type(fixture, '2');
    TestBed.inject(Preferences).unit.set('px');
    await fixture.whenStable();
    expect(boxOf(fixture).value).toBe('3000');
    await type(fixture, '300');
    expect(taken.map((mm) => Math.round(mm * 1e6) / 1e6)).toEqual([50.8, 25.4]);
  });
});
