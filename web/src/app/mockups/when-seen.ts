import { DestroyRef, Directive, ElementRef, inject, output } from '@angular/core';

/** How far outside the screen something counts as seen already, px. */
const AHEAD = '120px';

/** Says when an element comes into sight and when it leaves it. */
@Directive({ selector: '[ksWhenSeen]' })
export class WhenSeen {
  readonly ksWhenSeen = output<boolean>();

  constructor() {
    const observer = new IntersectionObserver(
      (entries) => this.ksWhenSeen.emit(entries[entries.length - 1].isIntersecting),
      { rootMargin: AHEAD },
    );
    observer.observe(inject<ElementRef<HTMLElement>>(ElementRef).nativeElement);
    inject(DestroyRef).onDestroy(() => observer.disconnect());
  }
}
