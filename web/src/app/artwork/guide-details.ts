import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { addGuide, guidesOnCanvas, moveGuide, removeGuide, type ShownGuide } from '@kettle/core/document';
import { Editor } from '../editor/editor';
import { LengthField } from '../units/length-field';

/** Guides of the design and of the chosen target, at exact distances. */
@Component({
  selector: 'ks-guide-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, LengthField],
  template: `
    <fieldset>
      <legend>Guides</legend>
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
      <div class="chips">
        <button type="button" class="chip" (click)="add('x')">Upright</button
        ><button type="button" class="chip" (click)="add('y')">Level</button>
        <button
          type="button"
          class="chip"
          [attr.aria-pressed]="own()"
          title="New guides belong to this target alone"
          (click)="own.set(!own())"
        >
          Only this target
        </button>
      </div>
    </fieldset>
  `,
  styles: `
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 12px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 6px;
    }
    .guide {
      display: flex;
      align-items: end;
      gap: 6px;
      margin-bottom: 6px;
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
      margin: 0 0 8px;
      font-size: 12.5px;
    }
  `,
})
export class GuideDetails {
  private readonly editor = inject(Editor);
  protected readonly own = signal(false);
  protected readonly guides = computed<readonly ShownGuide[]>(() => {
    const current = this.editor.current();
    return current ? guidesOnCanvas(current.design, current.target, current.layout) : [];
  });

  protected round(mm: number): number {
    return Math.round(mm * 1000) / 1000;
  }

  protected add(axis: 'x' | 'y'): void {
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
