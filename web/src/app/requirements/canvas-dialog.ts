import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatCheckboxModule } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { Requirement, RequirementFields } from '@kettle/core/model';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { RequirementShelf, withWords } from '../data/requirement-shelf';
import { OwnSize } from './own-size';
import { SearchField } from '../units/search-field';

export interface CanvasDialogData {
  readonly title: string;
  /** Whether it asks for the usual canvas of new designs, and for nothing else. */
  readonly usual?: boolean;
  /** Whether only a size of one's own is asked for. */
  readonly own?: boolean;
}

/** Asks what a design is for: a requirement, or a size of one's own. Closes with the requirement. */
@Component({
  selector: 'ks-canvas-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [SearchField, MatButtonModule, MatCheckboxModule, MatDialogModule, OwnSize],
  template: `
    <h2 mat-dialog-title>{{ data.title }}</h2>
    <mat-dialog-content>
      @if (!data.own) {
        <ks-search-field
          cdkFocusInitial
          label="Search requirements"
          hint="tee, mug, 300 DPI …"
          [(words)]="words"
          (keydown.enter)="takeFirst()"
        />
        <div class="all" aria-label="Requirements">
          @for (group of groups(); track group.channel) {
            <h3>{{ group.channel }}</h3>
            @for (one of group.requirements; track one.id) {
              <button type="button" [attr.aria-pressed]="isUsual(one)" (click)="take(one)">
                <b>{{ one.name }}</b><small>{{ shelf.demands(one) }}</small>
              </button>
            }
          } @empty {
            <p class="quiet">No requirement has these words.</p>
          }
        </div>
        <h3>A size of your own</h3>
      }
      <ks-own-size (taken)="keep($event)" />
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      @if (!data.usual && !data.own) {
        <mat-checkbox [checked]="usual()" (change)="usual.set($event.checked)"
          >New designs begin with it from now on</mat-checkbox
        >
        <span class="grow"></span>
      }
      <button mat-button type="button" mat-dialog-close>Leave it</button>
    </mat-dialog-actions>
  `,
  styles: `
    .all {
      max-height: 30vh;
      overflow: auto;
      margin: 8px 0 4px;
    }
    h3 {
      font: 600 15px var(--serif);
      margin: 12px 0 4px;
    }
    .all button {
      display: block;
      width: 100%;
      text-align: left;
      border: 0;
      background: none;
      color: inherit;
      font: inherit;
      padding: 6px 10px;
      border-radius: 10px;
      cursor: pointer;
    }
    .all button:hover,
    .all button[aria-pressed='true'] {
      background: var(--enamel-light);
    }
    b {
      display: block;
      font-weight: 600;
    }
    .grow {
      flex: 1;
    }
  `,
})
export class CanvasDialog {
  protected readonly data = inject<CanvasDialogData>(MAT_DIALOG_DATA);
  private readonly dialog = inject<MatDialogRef<CanvasDialog, Requirement>>(MatDialogRef);
  protected readonly shelf = inject(RequirementShelf);
  private readonly preferences = inject(Preferences);
  private readonly notices = inject(Notices);
  protected readonly words = signal('');
  protected readonly usual = signal(false);
  protected readonly groups = computed(() => withWords(this.shelf.all(), this.words()));

  protected isUsual(one: Requirement): boolean {
    return this.data.usual === true && this.shelf.usual()?.id === one.id;
  }

  /** Enter takes the first that has the words. */
  protected takeFirst(): void {
    const first = this.words().trim() && this.groups()[0]?.requirements[0];
    if (first) this.take(first);
  }

  protected keep(fields: RequirementFields): void {
    this.shelf.keepOwn(fields).subscribe({
      next: (requirement) => this.take(requirement),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected take(requirement: Requirement): void {
    if (this.data.usual || this.usual()) this.preferences.usual.set(requirement.id);
    this.dialog.close(requirement);
  }
}
