import type { Type } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';

/** A component on a page of its own, and what a hand finds and does there. */
export class InPage<T> {
  private constructor(readonly fixture: ComponentFixture<T>) {}

  static async show<T>(component: Type<T>, inputs: Record<string, unknown> = {}): Promise<InPage<T>> {
    const fixture = TestBed.createComponent(component);
    for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
    await fixture.whenStable();
    return new InPage(fixture);
  }

  get element(): HTMLElement {
    return this.fixture.nativeElement as HTMLElement;
  }

  get text(): string {
    return (this.element.textContent ?? '').replace(/\s+/g, ' ').trim();
  }

  /** Names of all buttons, as they are read out. */
  get buttons(): string[] {
    return [...this.element.querySelectorAll('button')].map(nameOf);
  }

  button(name: string): HTMLButtonElement {
    const found = [...this.element.querySelectorAll('button')].find((one) => nameOf(one) === name);
    if (!found) throw new Error(`No button is called “${name}”: ${this.buttons.join(', ')}`);
    return found;
  }

  /** A field by its name, without the unit that is read out behind it. */
  field<E extends HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement = HTMLInputElement>(label: string): E {
    const all = [...this.element.querySelectorAll<E>('input, textarea, select')];
    const found = all.find(
      (one) =>
        one.getAttribute('aria-label')?.replace(/, (?:mm|cm|in|px|%|°|s|DPI|kB|colours?)$/, '') === label ||
        labelOf(one) === label,
    );
    if (!found)
      throw new Error(
        `No field is called “${label}”: ${all.map((one) => one.getAttribute('aria-label') ?? labelOf(one)).join(' · ')}`,
      );
    return found;
  }

  async press(name: string): Promise<void> {
    this.button(name).click();
    await this.fixture.whenStable();
  }

  /** Ticks a box, or takes its tick away. */
  async tick(label: string): Promise<void> {
    this.field(label).click();
    await this.fixture.whenStable();
  }

  /** Gives a file to a field that takes files. */
  async give(label: string, file: File): Promise<void> {
    const field = this.field(label);
    const files = new DataTransfer();
    files.items.add(file);
    field.files = files.files;
    field.dispatchEvent(new Event('change'));
    await this.fixture.whenStable();
  }

  /** Types a value, or chooses it from a list, and leaves the field. */
  async enter(label: string, value: string): Promise<void> {
    const field = this.field(label);
    field.value = value;
    field.dispatchEvent(new Event('input', { bubbles: true }));
    field.dispatchEvent(new Event('change', { bubbles: true }));
    await this.fixture.whenStable();
  }
}

const nameOf = (button: HTMLElement): string =>
  (button.getAttribute('aria-label') ?? button.textContent ?? '').replace(/\s+/g, ' ').trim();

/** Words of the label around or before a field, without what stands in the field. */
const labelOf = (field: Element): string => {
  const label = field.closest('label') ?? document.querySelector(`label[for="${field.id}"]`);
  return [...(label?.childNodes ?? [])]
    .filter((one) => one.nodeType === Node.TEXT_NODE || (one as Element).tagName === 'SPAN')
    .map((one) => one.textContent ?? '')
    .join(' ')
    .replace(/\s+/g, ' ')
    .trim();
};
