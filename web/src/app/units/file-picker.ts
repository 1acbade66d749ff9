import { ChangeDetectionStrategy, Component, ElementRef, input, output, viewChild } from '@angular/core';

/** Endings of the files that artwork and photos come in. */
const ENDINGS: Readonly<Record<string, string>> = {
  artwork: '.png,.jpg,.jpeg,.webp,.tif,.tiff,.heic,.heif,.gif,.svg,.svgz',
  photos: '.png,.jpg,.jpeg,.webp,.tif,.tiff,.heic,.heif',
};

/**
 * Files of the seller's, asked for by whatever button calls `open`; the same file can be chosen again.
 * @example <ks-file-picker #photo label="Photo" kinds="photos" (chosen)="take($event)" />
 */
@Component({
  selector: 'ks-file-picker',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { class: 'sr-only' },
  template: `
    <input
      #box
      type="file"
      tabindex="-1"
      [attr.aria-label]="label()"
      [accept]="kinds()"
      [multiple]="several()"
      (change)="take(box)"
    />
  `,
})
export class FilePicker {
  /** What the files are, as it is read out. */
  readonly label = input.required<string>();
  /** `artwork`, `photos`, or endings and media types as `accept` takes them. */
  readonly kinds = input.required<string, string>({ transform: (kinds) => ENDINGS[kinds] ?? kinds });
  readonly several = input(false);
  /** At least one file. */
  readonly chosen = output<readonly File[]>();
  private readonly box = viewChild.required<ElementRef<HTMLInputElement>>('box');

  open(): void {
    this.box().nativeElement.click();
  }

  protected take(box: HTMLInputElement): void {
    const files = Array.from(box.files ?? []);
    box.value = '';
    if (files.length) this.chosen.emit(files);
  }
}
