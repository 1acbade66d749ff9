import { Directive, output, signal } from '@angular/core';

/** Takes files that are dropped anywhere on its element, or pasted. */
@Directive({
  selector: '[ksDropZone]',
  exportAs: 'dropZone',
  host: {
    '(dragover)': 'over($event)',
    '(dragenter)': 'over($event)',
    '(dragleave)': 'leave($event)',
    '(drop)': 'drop($event)',
    '(document:paste)': 'paste($event)',
  },
})
export class DropZone {
  readonly files = output<File[]>();
  /** True while files hover over the element. */
  readonly hovering = signal(false);

  protected over(event: DragEvent): void {
    if (!event.dataTransfer?.types.includes('Files')) return;
    event.preventDefault();
    event.dataTransfer.dropEffect = 'copy';
    this.hovering.set(true);
  }

  protected leave(event: DragEvent): void {
    const host = event.currentTarget as HTMLElement;
    if (!host.contains(event.relatedTarget as Node | null)) this.hovering.set(false);
  }

  protected drop(event: DragEvent): void {
    if (!event.dataTransfer?.files.length) return;
    event.preventDefault();
    this.hovering.set(false);
    this.files.emit([...event.dataTransfer.files]);
  }

  protected paste(event: ClipboardEvent): void {
    const files = [...(event.clipboardData?.files ?? [])];
    if (!files.length) return;
    event.preventDefault();
    // Browsers call every picture on the clipboard the same.
    this.files.emit(
      files.map((file) =>
        file.name === 'image.png' ? new File([file], 'pasted picture.png', { type: file.type }) : file,
      ),
    );
  }
}
