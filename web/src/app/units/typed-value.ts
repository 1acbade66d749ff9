import { DOCUMENT } from '@angular/common';
import { Directive, ElementRef, effect, inject, input } from '@angular/core';

/**
 * The value of a field that people type in. What is typed is never written over: a value that comes in meanwhile,
 * from a late answer or from elsewhere on the
 * page, waits until the field is left. A press elsewhere first takes what was typed, for what it was typed for,
 * before it selects something else.
 */
@Directive({
  selector: 'input[ksValue], textarea[ksValue]',
  host: { '(input)': 'typing = true', '(change)': 'typing = false', '(focus)': 'watch(true)', '(blur)': 'left()' },
})
export class TypedValue {
  private readonly field = inject<ElementRef<HTMLInputElement | HTMLTextAreaElement>>(ElementRef).nativeElement;
  private readonly page = inject(DOCUMENT);
  readonly ksValue = input.required<string | number>();
  protected typing = false;
  private readonly pressed = (event: Event): void => {
    if (
      event.target instanceof Node &&
      !this.field.contains(event.target) &&
      !this.field.closest('label')?.contains(event.target)
    )
      this.field.blur();
  };

  constructor() {
    effect(() => {
      const value = String(this.ksValue());
      if (!this.typing && this.field.value !== value) this.put(value);
    });
  }

  /** Puts a value in; where all of the old one was held, all of the new one is, so that the next letter replaces it. */
  private put(value: string): void {
    const { selectionStart: from, selectionEnd: to, value: old } = this.field;
    const allHeld = this.page.activeElement === this.field && old !== '' && from === 0 && to === old.length;
    this.field.value = value;
    if (allHeld) this.field.select();
  }

  protected watch(on: boolean): void {
    this.page.removeEventListener('pointerdown', this.pressed, { capture: true });
    if (on) this.page.addEventListener('pointerdown', this.pressed, { capture: true });
  }

  protected left(): void {
    this.watch(false);
    this.typing = false;
    // What came in while it was typed, or what became of what was typed.
    queueMicrotask(() => {
      if (!this.typing) this.put(String(this.ksValue()));
    });
  }
}
