import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { BenchPage } from './bench-page';

/**
 * A bench of its own for every design that is opened: nothing of one, its selection, its tools or its late answers,
 * reaches another.
 */
@Component({
  selector: 'ks-open-bench',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BenchPage],
  template: `@for (id of [designId()]; track id) {
    <ks-bench-page [designId]="id" [station]="station()" [target]="target()" />
  }`,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class OpenBench {
  readonly designId = input.required<string>();
  readonly station = input.required<string>();
  readonly target = input<string>();
}
