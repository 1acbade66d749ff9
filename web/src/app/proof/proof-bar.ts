import { ChangeDetectionStrategy, Component, DestroyRef, inject } from '@angular/core';
import { INTENTS, type Intent } from '@kettle/core/model';
import { PressProof } from './press-proof';

const LABELS: Readonly<Record<Intent, string>> = {
  perceptual: 'Perceptual',
  relative: 'Relative',
  saturation: 'Saturation',
  absolute: 'Absolute',
};

/** How a proof is shown: by which intent, with which black, on which ground, and with a warning. */
@Component({
  selector: 'ks-proof-bar',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <select
      #intent
      aria-label="Rendering intent"
      title="How colours that the press does not have are brought to those it has"
      [value]="proof.conversion()?.intent"
      (change)="proof.intent.set(asIntent(intent.value))"
    >
      @for (one of intents; track one) {
        <option [value]="one" [selected]="one === proof.conversion()?.intent">{{ labels[one] }}</option>
      }
    </select>
    <button
      type="button"
      class="chip"
      title="The darkest tone becomes the darkest of the press, so that shadows keep their steps"
      [attr.aria-pressed]="proof.conversion()?.blackPoint ?? true"
      (click)="proof.blackPoint.set(!proof.conversion()?.blackPoint)"
    >
      Black point
    </button>
    <button type="button" class="chip" [attr.aria-pressed]="proof.paper()" (click)="proof.paper.set(!proof.paper())">
      Paper
    </button>
    <button
      type="button"
      class="chip"
      title="Covers colours that the press does not have"
      [attr.aria-pressed]="proof.warning()"
      (click)="proof.warning.set(!proof.warning())"
    >
      Warning
    </button>
    @if (proof.failed(); as sentence) {
      <span class="quiet" role="alert">{{ sentence }}</span>
      <button type="button" class="chip" (click)="proof.again()">Try again</button>
    } @else if (!proof.ready()) {
      <span class="quiet" role="status">Working …</span>
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: 6px;
      align-items: center;
    }
    .chip {
      white-space: nowrap;
    }
    select {
      font: inherit;
      padding: 5px 8px;
      border-radius: 9px;
      border: 1px solid var(--rule);
      background: var(--raised);
      color: inherit;
    }
  `,
})
export class ProofBar {
  protected readonly proof = inject(PressProof);
  protected readonly intents = INTENTS;
  protected readonly labels = LABELS;
  protected readonly asIntent = (value: string): Intent => INTENTS.find((one) => one === value) ?? 'relative';

  constructor() {
    this.proof.wanted.set(true);
    inject(DestroyRef).onDestroy(() => this.proof.wanted.set(false));
  }
}
