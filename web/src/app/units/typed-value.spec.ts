import { Component, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { TypedValue } from './typed-value';

@Component({
  imports: [TypedValue],
  template: `<input [ksValue]="value()" (change)="taken.push(field.value)" #field /><button type="button">
      elsewhere
    </button>`,
})
class Page {
  readonly value = signal('first');
  readonly taken: string[] = [];
}

describe('a field that is typed in', () => {
  it('is never written over, takes what was typed before a press elsewhere does anything, and shows what is true once it is left', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Page);
    await fixture.whenStable();
    const page = fixture.nativeElement as HTMLElement;
    document.body.append(page);
    const field = page.querySelector('input')!;
    expect(field.value).toBe('first');
    field.focus();
    field.value = 'typed';
    field.dispatchEvent(new Event('input'));
    fixture.componentInstance.value.set('late answer');
    await fixture.whenStable();
    expect(field.value).toBe('typed');
    let focused: Element | null = field;
    page.addEventListener('pointerdown', () => {
      focused = document.activeElement;
    });
    page.querySelector('button')!.dispatchEvent(new PointerEvent('pointerdown', { bubbles: true }));
    expect(focused).not.toBe(field);
    await fixture.whenStable();
    expect(field.value).toBe('late answer');
    page.remove();
  });

  it('held whole, is replaced whole by the next letter though another value came in between', async () => {
    TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
    const fixture = TestBed.createComponent(Page);
    await fixture.whenStable();
    const page = fixture.nativeElement as HTMLElement;
    document.body.append(page);
    const field = page.querySelector('input')!;
    field.focus();
    field.select();
    fixture.componentInstance.value.set('late answer');
    await fixture.whenStable();
    expect([field.value, field.selectionStart, field.selectionEnd]).toEqual(['late answer', 0, 11]);
    // With the caret somewhere in it, it is not all held afterwards either.
    field.setSelectionRange(2, 2);
    fixture.componentInstance.value.set('a later one');
    await fixture.whenStable();
    expect(field.selectionStart).toBe(field.selectionEnd);
    page.remove();
  });
});
