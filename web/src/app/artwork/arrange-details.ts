import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { renameGroup, type Edge } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { TypedValue } from '../units/typed-value';

const EDGES: readonly { edge: Edge; icon: string; label: string }[] = [
  { edge: 'left', icon: 'align-left', label: 'Left edges' },
  { edge: 'centre', icon: 'align-centre', label: 'Centres, left to right' },
  { edge: 'right', icon: 'align-right', label: 'Right edges' },
  { edge: 'top', icon: 'align-top', label: 'Top edges' },
  { edge: 'middle', icon: 'align-middle', label: 'Middles, top to bottom' },
  { edge: 'bottom', icon: 'align-bottom', label: 'Bottom edges' },
];

/** Lining up, spacing, matching, grouping and ordering of the selected layers. */
@Component({
  selector: 'ks-arrange-details',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TypedValue, MatButtonModule, MatIconModule],
  template: `
    @if (group(); as group) {
      <label class="text"
        >Group<input
          #name
          autocomplete="off"
          maxlength="200"
          [ksValue]="group.name"
          (change)="rename(group.key, name.value)"
      /></label>
    }
    <fieldset>
      <legend>{{ arranging.units().length > 1 ? 'Line up with each other' : 'Line up with the safe area' }}</legend>
      <div class="icons">
        @for (one of edges; track one.edge) {
          <button type="button" [title]="one.label" [attr.aria-label]="one.label" (click)="arranging.align(one.edge)">
            <mat-icon [svgIcon]="one.icon" />
          </button>
        }
      </div>
    </fieldset>
    @if (arranging.units().length > 2) {
      <fieldset>
        <legend>Spread out</legend>
        <div class="chips">
          <button
            type="button"
            class="chip"
            title="Equal room between them, left to right"
            (click)="arranging.spread('x', 'gaps')"
          >
            Equal gaps across
          </button>
          <button
            type="button"
            class="chip"
            title="Equal room between them, top to bottom"
            (click)="arranging.spread('y', 'gaps')"
          >
            Equal gaps down
          </button>
          <button
            type="button"
            class="chip"
            title="Equal distance from middle to middle"
            (click)="arranging.spread('x', 'centres')"
          >
            Middles across
          </button>
          <button
            type="button"
            class="chip"
            title="Equal distance from middle to middle"
            (click)="arranging.spread('y', 'centres')"
          >
            Middles down
          </button>
        </div>
      </fieldset>
    }
    @if (arranging.units().length > 1) {
      <fieldset>
        <legend>Same size as the one at the back</legend>
        <div class="chips">
          <button type="button" class="chip" (click)="arranging.match('width')">Width</button
          ><button type="button" class="chip" (click)="arranging.match('height')">Height</button>
        </div>
      </fieldset>
    }
    <fieldset>
      <legend>Order and groups</legend>
      <div class="chips">
        <button type="button" class="chip" (click)="arranging.order('back')">To the back</button
        ><button type="button" class="chip" (click)="arranging.order('backwards')">Backwards</button>
        <button type="button" class="chip" (click)="arranging.order('forwards')">Forwards</button
        ><button type="button" class="chip" (click)="arranging.order('front')">To the front</button>
        @if (editor.held().length > 1 && !arranging.isGroup()) {
          <button type="button" class="chip" title="Ctrl G" (click)="arranging.group()">Group</button>
        }
        @if (arranging.groups().length) {
          <button type="button" class="chip" title="Ctrl Shift G" (click)="arranging.ungroup()">Ungroup</button>
        }
      </div>
    </fieldset>
  `,
  styles: `
    :host {
      display: block;
    }
    fieldset {
      border: 0;
      padding: 0;
      margin: 0 0 10px;
    }
    legend {
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      padding: 0;
      margin-bottom: 5px;
    }
    .text {
      display: block;
      font-size: 12px;
      font-weight: 550;
      color: var(--quiet);
      margin-bottom: 10px;
    }
    .text input {
      display: block;
      width: 100%;
      margin-top: 3px;
      border: 1px solid var(--rule);
      border-radius: 9px;
      padding: 7px 10px;
      font: 500 13.5px var(--sans);
      background: var(--paper);
      color: var(--ink);
    }
    .icons {
      display: grid;
      grid-template-columns: repeat(6, 1fr);
      border: 1px solid var(--rule);
      border-radius: 10px;
      overflow: hidden;
      background: var(--raised);
    }
    .icons button {
      border: 0;
      border-left: 1px solid var(--rule);
      background: none;
      cursor: pointer;
      padding: 7px 0;
      display: grid;
      place-items: center;
    }
    .icons button:first-child {
      border-left: 0;
    }
    .icons button:hover {
      background: var(--enamel-light);
    }
  `,
})
export class ArrangeDetails {
  protected readonly editor = inject(Editor);
  protected readonly arranging = inject(Arranging);
  protected readonly edges = EDGES;
  protected readonly group = computed(() => {
    if (!this.arranging.isGroup()) return null;
    const [key] = this.arranging.groups();
    return { key, name: this.editor.desk.document()?.groups?.[key] ?? 'Group' };
  });

  protected rename(key: string, name: string): void {
    if (name.trim()) this.editor.edit(renameGroup(key, name.trim()));
  }
}
