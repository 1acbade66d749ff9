import { ChangeDetectionStrategy, Component } from '@angular/core';
import { BecameDesk } from './became-desk';

/** Everything that was made, sent, promised and sold, of all designs, on one page. */
@Component({
  selector: 'ks-became-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [BecameDesk],
  template: `
    <header>
      <h1>What became of it</h1>
    </header>
    <ks-became-desk [designId]="null" />
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(0, 1fr);
      height: 100%;
      min-height: 0;
    }
    header {
      display: flex;
      align-items: baseline;
      gap: 18px;
      padding: 14px 24px;
      border-bottom: 1px solid var(--rule);
    }
    h1 {
      margin: 0;
      font: 600 22px var(--serif);
    }
  `,
})
export class BecamePage {}
