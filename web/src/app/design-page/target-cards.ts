import { AsyncPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule, type MatMenuTrigger } from '@angular/material/menu';
import type { Requirement } from '@kettle/core/model';
import { removeTarget, versionWord } from '@kettle/core/document';
import { MatDialog } from '@angular/material/dialog';
import { RouterLink } from '@angular/router';
import { BlankShelf } from '../data/blank-shelf';
import { RequirementShelf, withWords } from '../data/requirement-shelf';
import { CanvasDialog, type CanvasDialogData } from '../requirements/canvas-dialog';
import { StateMark } from '../parts/state-mark';
import { Editor, type EditorTarget } from '../editor/editor';
import { TargetPicture } from '../editor/target-picture';
import { SearchField } from '../units/search-field';

/** The targets of a design as live cards. The chosen one is on the stage. */
@Component({
  selector: 'ks-target-cards',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    SearchField,
    AsyncPipe,
    MatButtonModule,
    MatIconModule,
    MatMenuModule,
    RouterLink,
    StateMark,
    TargetPicture,
  ],
  template: `
    <h3>Targets</h3>
    <ul>
      @for (one of editor.targets(); track one.key) {
        <li [class.on]="one.key === editor.current()?.key">
          <button
            type="button"
            class="card"
            [attr.aria-pressed]="one.key === editor.current()?.key"
            (click)="editor.choose(one.requirement.id, one.cloth)"
          >
            <ks-target-picture
              [design]="one.design"
              [toCanvas]="one.layout.toCanvas"
              [canvas]="one.layout.canvas"
              [garment]="one.garment"
            />
            <b>{{ one.requirement.name }}</b>
            <ks-state-mark [state]="editor.stateOf(one)" />
            <small class="channel">{{ one.requirement.channel }}</small>
            @if (one.cloth) {
              <small class="own">{{ versionWord(one.cloth) }}</small>
            }
            @if (one.target.placement) {
              <small class="own">placed on its own</small>
            }
            @if (exceptions(one); as count) {
              <small class="own">{{ count === 1 ? 'one layer differs' : count + ' layers differ' }}</small>
            }
          </button>
          <button
            type="button"
            class="drop"
            [attr.aria-label]="'Take ' + one.requirement.name + ' off the targets'"
            (click)="remove(one)"
          >
            <mat-icon svgIcon="x" />
          </button>
        </li>
      }
    </ul>
    <button
      mat-stroked-button
      type="button"
      [matMenuTriggerFor]="menu"
      #trigger="matMenuTrigger"
      (menuOpened)="search()"
    >
      <mat-icon svgIcon="plus" /> Add a target
    </button>
    <mat-menu #menu class="target-menu">
      <div
        class="menu-search"
        (click)="$event.stopPropagation()"
        (keydown)="$event.key !== 'Escape' && $event.key !== 'ArrowDown' && $event.stopPropagation()"
      >
        <ks-search-field
          label="Search requirements"
          hint="tee, mug, 300 DPI …"
          [(words)]="words"
          (keydown.enter)="takeFirst(trigger)"
        />
      </div>
      <button mat-menu-item type="button" (click)="ownSize()">A size of your own …</button>
      <button mat-menu-item type="button" [matMenuTriggerFor]="cloth">All over, cut and sewn …</button>
      @for (group of groups(); track group.channel) {
        <span class="menu-group serif">{{ group.channel }}</span>
        @for (requirement of group.requirements; track requirement.id) {
          <button mat-menu-item type="button" (click)="editor.choose(requirement.id)">
            <span class="menu-row"
              ><b>{{ requirement.name }}</b
              ><small>{{ requirements.demands(requirement) }}</small></span
            >
          </button>
        }
      } @empty {
        <span class="menu-group quiet">{{
          words() ? 'No requirement has these words.' : 'Every requirement is a target already.'
        }}</span>
      }
    </mat-menu>
    <mat-menu #cloth>
      <ng-template matMenuContent>
        @for (blank of blanks.allOver | async; track blank.id) {
          <button
            mat-menu-item
            type="button"
            [routerLink]="['/designs', editor.desk.id(), 'mockups']"
            [queryParams]="{ blank: blank.id }"
          >
            {{ blank.name }}
          </button>
        }
      </ng-template>
    </mat-menu>
  `,
  styles: `
    :host {
      display: block;
      padding: 14px 10px 14px 12px;
      overflow: auto;
    }
    h3 {
      margin: 0 4px 8px;
    }
    ul {
      list-style: none;
      margin: 0 0 10px;
      padding: 0;
    }
    li {
      position: relative;
      border-radius: 12px;
      margin-bottom: 6px;
    }
    li.on {
      background: var(--enamel-light);
    }
    .card {
      width: 100%;
      border: 0;
      background: none;
      cursor: pointer;
      text-align: left;
      padding: 8px;
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      row-gap: 0;
      align-items: center;
      border-radius: 12px;
    }
    ks-target-picture {
      grid-column: 1 / 3;
      justify-self: start;
      margin-bottom: 7px;
    }
    b {
      font-weight: 600;
      display: block;
      line-height: 1.25;
    }
    .channel {
      grid-column: 1 / 3;
    }
    .own {
      grid-column: 1 / 3;
      color: var(--plum);
    }
    .drop {
      position: absolute;
      right: 4px;
      top: 4px;
      border: 0;
      background: none;
      padding: 4px;
      border-radius: 6px;
      color: var(--quiet);
      cursor: pointer;
      display: flex;
      opacity: 0;
    }
    .drop mat-icon {
      width: 14px;
      height: 14px;
    }
    li:hover .drop,
    .drop:focus-visible {
      opacity: 1;
    }
    .menu-search {
      padding: 4px 12px 8px;
    }
    .menu-group {
      display: block;
      padding: 6px 16px 2px;
      font-size: 14px;
      font-weight: 600;
    }
    .menu-row {
      display: flex;
      flex-direction: column;
      line-height: 1.3;
    }
  `,
})
export class TargetCards {
  private readonly box = viewChild(SearchField);
  protected readonly editor = inject(Editor);
  protected readonly requirements = inject(RequirementShelf);
  private readonly dialog = inject(MatDialog);
  protected readonly blanks = inject(BlankShelf);
  protected readonly words = signal('');
  protected readonly versionWord = versionWord;
  protected readonly groups = computed(() => {
    const taken = new Set(this.editor.targets().map((one) => one.requirement.id));
    return withWords(
      this.requirements.all().filter((one) => !taken.has(one.id)),
      this.words(),
    );
  });

  protected exceptions({ target }: EditorTarget): number {
    return Object.keys(target.layers ?? {}).length;
  }

  /** A canvas that no requirement stands for yet, typed in place. */
  protected ownSize(): void {
    this.dialog
      .open<CanvasDialog, CanvasDialogData, Requirement>(CanvasDialog, {
        width: '460px',
        maxWidth: '94vw',
        data: { title: 'A size of your own', own: true },
      })
      .afterClosed()
      .subscribe((requirement) => {
        if (requirement) this.editor.choose(requirement.id);
      });
  }

  /** The menu opens where words are typed, which narrow it. */
  protected search(): void {
    this.words.set('');
    setTimeout(() => this.box()?.focus());
  }

  /** Enter adds the first that has the words. */
  protected takeFirst(menu: MatMenuTrigger): void {
    const first = this.words().trim() && this.groups()[0]?.requirements[0];
    if (!first) return;
    menu.closeMenu();
    this.editor.choose(first.id);
  }

  protected remove(one: EditorTarget): void {
    this.editor.desk.edit(removeTarget(one.requirement.id));
  }
}
