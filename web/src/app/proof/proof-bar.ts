import { ChangeDetectionStrategy, Component, DestroyRef, computed, inject } from '@angular/core';
import { INTENTS, type Intent } from '@kettle/core/model';
import { PressProof } from './press-proof';
import { ChipRow, chip } from '../units/chips';
import { PickField } from '../units/pick-field';

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
  imports: [ChipRow, PickField],
  template: `
    <ks-pick-field
      class="small"
      label="Rendering intent"
      [bare]="true"
      note="How colours that the press does not have are brought to those it has"
      [of]="intents"
      [value]="proof.conversion()?.intent ?? ''"
      (chosen)="proof.intent.set(asIntent($event))"
    />
    <ks-chips class="tight" [of]="ways()" />
    @if (proof.failed(); as sentence) {
      <span class="quiet" role="alert">{{ sentence }}</span>
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
  `,
})
export class ProofBar {
  protected readonly proof = inject(PressProof);
  protected readonly intents = INTENTS.map((id) => ({ id, words: LABELS[id] }));
  protected readonly ways = computed(() => {
    const { proof } = this;
    const blackPoint = proof.conversion()?.blackPoint ?? true;
    return [
      chip('Black point', () => proof.blackPoint.set(!blackPoint), {
        on: blackPoint,
        title: 'The darkest tone becomes the darkest of the press, so that shadows keep their steps',
      }),
      chip('Paper', () => proof.paper.set(!proof.paper()), { on: proof.paper() }),
      chip('Warning', () => proof.warning.set(!proof.warning()), {
        on: proof.warning(),
        title: 'Covers colours that the press does not have',
      }),
      !!proof.failed() && chip('Try again', () => proof.again()),
    ];
  });
  protected readonly asIntent = (value: string): Intent => INTENTS.find((one) => one === value) ?? 'relative';

  constructor() {
    this.proof.wanted.set(true);
    inject(DestroyRef).onDestroy(() => this.proof.wanted.set(false));
  }
}
