import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { renameGroup, type Edge } from '@kettle/core/document';
import { Arranging } from '../editor/arranging';
import { Editor } from '../editor/editor';
import { Settings, chips, text, type Setting } from '../units/settings';

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
  imports: [MatIconModule, Settings],
  template: `
    <ks-settings [of]="named()" />
    <ks-settings
      [heading]="arranging.units().length > 1 ? 'Line up with each other' : 'Line up with the safe area'"
      [of]="[]"
    >
      <div class="icons">
        @for (one of edges; track one.edge) {
          <button type="button" [title]="one.label" [attr.aria-label]="one.label" (click)="arranging.align(one.edge)">
            <mat-icon [svgIcon]="one.icon" />
          </button>
        }
      </div>
    </ks-settings>
    @if (arranging.units().length > 2) {
      <ks-settings heading="Spread out" [of]="[spread]" />
    }
    @if (arranging.units().length > 1) {
      <ks-settings heading="Same size as the one at the back" [of]="[match]" />
    }
    <ks-settings heading="Order and groups" [of]="[order()]" />
  `,
  styles: `
    :host {
      display: block;
    }
    ks-settings {
      margin-bottom: 10px;
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
  private readonly editor = inject(Editor);
  protected readonly arranging = inject(Arranging);
  protected readonly edges = EDGES;
  protected readonly named = computed<readonly Setting[]>(() => {
    if (!this.arranging.isGroup()) return [];
    const [key] = this.arranging.groups();
    return [
      text('Group', this.editor.desk.document()?.groups?.[key] ?? 'Group', {
        most: 200,
        set: (name) => {
          if (name.trim()) this.editor.edit(renameGroup(key, name.trim()));
        },
      }),
    ];
  });
  protected readonly spread = chips([
    {
      words: 'Equal gaps across',
      title: 'Equal room between them, left to right',
      press: () => this.arranging.spread('x', 'gaps'),
    },
    {
      words: 'Equal gaps down',
      title: 'Equal room between them, top to bottom',
      press: () => this.arranging.spread('y', 'gaps'),
    },
    {
      words: 'Middles across',
      title: 'Equal distance from middle to middle',
      press: () => this.arranging.spread('x', 'centres'),
    },
    {
      words: 'Middles down',
      title: 'Equal distance from middle to middle',
      press: () => this.arranging.spread('y', 'centres'),
    },
  ]);
  protected readonly match = chips([
    { words: 'Width', press: () => this.arranging.match('width') },
    { words: 'Height', press: () => this.arranging.match('height') },
  ]);
  protected readonly order = computed(() => {
    const { arranging } = this;
    return chips([
      { words: 'To the back', press: () => arranging.order('back') },
      { words: 'Backwards', press: () => arranging.order('backwards') },
      { words: 'Forwards', press: () => arranging.order('forwards') },
      { words: 'To the front', press: () => arranging.order('front') },
      ...(this.editor.held().length > 1 && !arranging.isGroup()
        ? [{ words: 'Group', title: 'Ctrl G', press: () => arranging.group() }]
        : []),
      ...(arranging.groups().length
        ? [{ words: 'Ungroup', title: 'Ctrl Shift G', press: () => arranging.ungroup() }]
        : []),
    ]);
  });
}
