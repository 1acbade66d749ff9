import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { addGuide, guidesOnCanvas, moveGuide, removeGuide, type ShownGuide } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { LengthField } from '../units/length-field';
import { Settings, chips } from '../units/settings';

/** Guides of the design and of the chosen target, at exact distances. */
@Component({
  selector: 'ks-guide-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, LengthField, Settings],
  template: `
    <ks-settings heading="Guides" [of]="[]">
      @for (guide of guides(); track guide.owner + ' ' + guide.index) {
        <div class="guide">
          <ks-length-field
            [label]="(guide.axis === 'x' ? 'From the left' : 'From the top') + (guide.owner ? ', this target' : '')"
            [mm]="round(guide.at)"
            (changed)="move(guide, $event)"
          />
          <button type="button" [attr.aria-label]="'Take this guide away'" (click)="remove(guide)">
            <mat-icon svgIcon="x" />
          </button>
        </div>
      } @empty {
        <p class="quiet">Pull a guide out of a ruler, or add one here and type where it lies.</p>
      }
      <ks-settings [of]="[acts()]" />
    </ks-settings>
  `,
  styles: `
    .guide {
      display: flex;
      align-items: end;
      gap: 6px;
    }
    ks-length-field {
      flex: 1;
    }
    .guide button {
      border: 0;
      background: none;
      padding: 8px;
      cursor: pointer;
      display: flex;
      border-radius: 8px;
      color: var(--quiet);
    }
    .guide mat-icon {
      width: 15px;
      height: 15px;
    }
    p {
      margin: 0;
      font-size: 12.5px;
    }
  `,
})
export class GuideDetails {
  private readonly editor = inject(Editor);
  private readonly own = signal(false);
  protected readonly guides = computed<readonly ShownGuide[]>(() => {
    const current = this.editor.current();
    return current ? guidesOnCanvas(current.design, current.target, current.layout) : [];
  });

  protected readonly acts = computed(() =>
    chips([
      { words: 'Upright', press: () => this.add('x') },
      { words: 'Level', press: () => this.add('y') },
      {
        words: 'Only this target',
        on: this.own(),
        title: 'New guides belong to this target alone',
        press: () => this.own.set(!this.own()),
      },
    ]),
  );

  protected round(mm: number): number {
    return Math.round(mm * 1000) / 1000;
  }

  private add(axis: 'x' | 'y'): void {
    const current = this.editor.current();
    if (!current) return;
    const { canvas } = current.layout;
    this.editor.edit(
      addGuide(
        current.layout,
        this.own() ? current.requirement.id : null,
        axis,
        (axis === 'x' ? canvas.widthMm : canvas.heightMm) / 2,
      ),
    );
  }

  protected move(guide: ShownGuide, mm: number): void {
    const current = this.editor.current();
    if (current) this.editor.edit(moveGuide(current.layout, guide, mm));
  }
  protected remove(guide: ShownGuide): void {
    this.editor.edit(removeGuide(guide));
  }
}
