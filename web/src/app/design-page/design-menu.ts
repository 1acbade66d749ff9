import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { keepAsTemplate } from '@kettle/core/document';
import { Notices } from '../data/notices';
import { Editor } from '../editor/editor';

/** The whole design: as a file to keep or hand on, or as a starting point for others. */
@Component({
  selector: 'ks-design-menu',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, MatMenuModule],
  template: `
    <button
      mat-icon-button
      type="button"
      aria-label="This design as a file"
      title="This design as a file"
      [matMenuTriggerFor]="menu"
    >
      <mat-icon svgIcon="file-export" />
    </button>
    <mat-menu #menu>
      <a mat-menu-item [href]="href('kettle')" download
        ><span class="row"
          ><b>Everything, as .kettle.zip</b
          ><small>Layers, originals and your own fonts. It can be opened again here or elsewhere.</small></span
        ></a
      >
      <a mat-menu-item [href]="href('ora')" download
        ><span class="row"
          ><b>Layers, as OpenRaster (.ora)</b
          ><small
            >For other programs: on the canvas of {{ editor.current()?.requirement?.name ?? 'the print field' }}.</small
          ></span
        ></a
      >
      <button mat-menu-item type="button" (click)="toggle()">
        <span class="row"
          ><b>{{ template() ? 'No longer a starting point' : 'Keep as a starting point' }}</b
          ><small>{{
            template()
              ? 'It stays a design like any other.'
              : 'New designs can begin from it, with other words and pictures.'
          }}</small></span
        >
      </button>
    </mat-menu>
  `,
  styles: `
    :host {
      --mat-icon-button-state-layer-size: 36px;
    }
    button[mat-icon-button] {
      padding: 6px;
    }
    .row {
      display: flex;
      flex-direction: column;
      line-height: 1.35;
      padding: 4px 0;
    }
    small {
      white-space: normal;
      max-width: 240px;
    }
  `,
})
export class DesignMenu {
  protected readonly editor = inject(Editor);
  private readonly notices = inject(Notices);
  protected readonly template = computed(() => this.editor.desk.document()?.template === true);

  protected href(as: 'kettle' | 'ora'): string {
    const requirement = this.editor.current()?.requirement.id;
    return `/api/designs/${this.editor.desk.id()}/file?as=${as}${as === 'ora' && requirement ? `&requirement=${requirement}` : ''}`;
  }

  protected toggle(): void {
    const kept = !this.template();
    this.editor.edit(keepAsTemplate(kept));
    this.editor.desk.settle();
    if (kept)
      this.notices.say('Kept as a starting point. “Start from …” on the job sheet offers it.', {
        label: 'Undo',
        run: () => this.editor.desk.undo(),
      });
  }
}
