import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { versionWord } from '@kettle/core';
import { Mending } from '../bench/mending';
import { Bench, type BenchTarget } from '../bench/bench';
import { TargetPicture } from '../bench/target-picture';
import { StateMark } from '../sheet/state-mark';
import { FindingCard } from './finding-card';

/** All findings of a design, target by target, each with its fix. */
@Component({
  selector: 'ks-checks-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, FindingCard, StateMark, TargetPicture],
  template: `
    <div class="head">
      <h2>Checks</h2>
      <p class="quiet">{{ summary() }}</p>
      <button mat-stroked-button type="button" class="wall" (click)="bench.place.set({ kind: 'colours' })">
        <mat-icon svgIcon="shirt" /> On every colour
      </button>
    </div>
    @for (one of bench.targets(); track one.key) {
      <section [attr.aria-label]="one.requirement.channel + ', ' + one.requirement.name" [id]="'check-' + one.key">
        <button
          type="button"
          class="shown"
          (click)="show(one)"
          [attr.aria-label]="'Show ' + one.requirement.name + ' on the canvas'"
        >
          <ks-target-picture
            [design]="one.design"
            [toCanvas]="one.layout.toCanvas"
            [canvas]="one.layout.canvas"
            [garment]="one.garment"
            [most]="[300, 280]"
          />
        </button>
        <div class="words">
          <h3>{{ one.requirement.name }}</h3>
          <small>{{ one.requirement.channel }}{{ one.cloth ? ', ' + versionWord(one.cloth) : '' }}</small>
          <ks-state-mark [state]="bench.stateOf(one)" />
        </div>
        <div class="list">
          @for (finding of one.findings; track $index) {
            <ks-finding-card [finding]="finding" (mended)="mending.mend($event, one)" />
          } @empty {
            <p class="fine">
              Size, DPI, transparency, sharpness, place and colours are as {{ one.requirement.channel }} wants them.
            </p>
          }
        </div>
      </section>
    }
  `,
  styles: `
    :host {
      display: block;
      overflow: auto;
      padding: 18px 26px 40px;
      background: var(--table);
    }
    .head {
      display: flex;
      align-items: baseline;
      gap: 14px;
      margin-bottom: 12px;
    }
    .head p {
      margin: 0;
    }
    .head .wall {
      margin-left: auto;
    }
    section {
      display: grid;
      grid-template: auto 1fr / 320px minmax(0, 1fr);
      column-gap: 26px;
      background: var(--raised);
      border: 1px solid var(--rule);
      border-radius: 14px;
      padding: 16px 20px 16px 14px;
      margin-bottom: 12px;
      min-height: 200px;
    }
    .shown {
      grid-row: 1 / 3;
      border: 0;
      background: none;
      cursor: pointer;
      padding: 2px;
      justify-self: center;
      align-self: start;
      border-radius: 6px;
    }
    .words {
      display: flex;
      align-items: baseline;
      gap: 10px;
      margin-bottom: 10px;
    }
    .words ks-state-mark {
      margin-left: auto;
    }
    .fine {
      color: var(--ready);
      margin: 0;
    }
    .list {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
      gap: 0 10px;
      align-items: start;
    }
  `,
})
export class ChecksStation {
  protected readonly bench = inject(Bench);
  protected readonly mending = inject(Mending);
  protected readonly versionWord = versionWord;
  /** Asked to look at the chosen target on the canvas. */
  readonly look = output<void>();
  protected readonly summary = computed(() => {
    const blocked = this.bench
      .targets()
      .filter((one) => one.findings.some((finding) => finding.severity === 'blocks')).length;
    const count = this.bench.toMend();
    return count === 0
      ? 'Nothing to mend on any target.'
      : `${count} ${count === 1 ? 'thing' : 'things'} to look at; ${blocked === 0 ? 'every target can be printed' : `${blocked} of ${this.bench.targets().length} targets should not be printed yet`}.`;
  });

  protected show(one: BenchTarget): void {
    this.bench.choose(one.requirement.id, one.cloth);
    this.look.emit();
  }
}
