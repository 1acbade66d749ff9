import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { DesignPage } from './design-page';

/**
 * A bench of its own for every design that is opened: nothing of one, its selection, its tools or its late answers,
 * reaches another.
 */
@Component({
  selector: 'ks-open-design',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [DesignPage],
  template: `@for (id of [designId()]; track id) {
    <ks-design-page [designId]="id" [station]="station()" [target]="target()" />
  }`,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class OpenDesign {
  readonly designId = input.required<string>();
  readonly station = input.required<string>();
  readonly target = input<string>();
}
