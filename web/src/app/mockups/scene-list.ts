import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { colourwayOf, type KeptScene } from '@kettle/core/model';
import { copyScene, dropScene, keepScene, MOST_SCENES, moveScene, renameScene, showScene } from '@kettle/core/document';
import { areaOf } from '@kettle/core/mockup';
import { Editor } from '../editor/editor';
import { newId } from '../data/new-id';
import { MockupEditor } from './mockup-editor';
import { SmallScenes } from './small-scenes';
import { WhenSeen } from './when-seen';
import { ChipRow, chip } from '../units/chips';

/** The scenes that a design keeps: shown, named, copied, put in order, taken away. */
@Component({
  selector: 'ks-scene-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, CdkDrag, CdkDropList, MatButtonModule, MatIconModule, MatMenuModule, WhenSeen],
  template: `
    <h3>Scenes</h3>
    <ol cdkDropList (cdkDropListDropped)="drop($event)" aria-label="Kept scenes">
      @for (scene of scenes(); track scene.id; let at = $index) {
        <li
          cdkDrag
          cdkDragLockAxis="y"
          [cdkDragStartDelay]="{ touch: 200, mouse: 0 }"
          (ksWhenSeen)="see(scene, $event)"
        >
          @if (renaming() === scene.id) {
            <input
              #name
              [value]="scene.name"
              maxlength="80"
              aria-label="Name of the scene"
              (keydown.enter)="rename(scene, name.value)"
              (keydown.escape)="renaming.set(null)"
              (blur)="rename(scene, name.value)"
            />
          } @else {
            <button
              type="button"
              class="scene"
              [attr.aria-pressed]="scene.id === shown()"
              [attr.data-drawn]="small.isDrawn('scene ' + scene.id)"
              (click)="show(scene)"
              (dblclick)="begin(scene)"
            >
              <img [src]="small.picture(scene.blankId, 'scene ' + scene.id)" alt="" width="44" height="44" />
              <span>{{ scene.name }}</span>
            </button>
            <button
              mat-icon-button
              type="button"
              class="more"
              [matMenuTriggerFor]="menu"
              [attr.aria-label]="'Scene ' + scene.name + ': more'"
            >
              <mat-icon svgIcon="dots-vertical" />
            </button>
            <mat-menu #menu>
              <button mat-menu-item type="button" (click)="begin(scene)">Rename</button>
              <button mat-menu-item type="button" [disabled]="full()" (click)="copy(scene)">Duplicate</button>
              <button mat-menu-item type="button" [disabled]="at === 0" (click)="move(scene, at - 1)">Move up</button>
              <button mat-menu-item type="button" [disabled]="at === scenes().length - 1" (click)="move(scene, at + 1)">
                Move down
              </button>
              <button mat-menu-item type="button" (click)="remove(scene)">Take it away</button>
            </mat-menu>
          }
        </li>
      } @empty {
        <li class="quiet">Keep what you see, and it follows the design from here on.</li>
      }
    </ol>
    <ks-chips [of]="acts()" />
    @if (full()) {
      <p class="quiet">A design keeps {{ most }} scenes. Take one away before you keep another.</p>
    }
  `,
  styleUrl: './scene-list.scss',
})
export class SceneList {
  private readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  protected readonly small = inject(SmallScenes);
  /** Scenes a picture each is wanted of. */
  readonly makeAll = output<readonly KeptScene[]>();
  /** Scenes that a set is to be made of. */
  readonly keepAsSet = output<readonly KeptScene[]>();
  private readonly busy = computed(() => !this.editor.desk.document()?.layers.length);
  protected readonly scenes = computed(() => this.editor.desk.document()?.scenes ?? []);
  protected readonly shown = computed(() => {
    const id = this.mockup.scene()?.keptAs;
    return this.scenes().some((one) => one.id === id) ? id : null;
  });
  protected readonly full = computed(() => this.scenes().length >= MOST_SCENES);
  protected readonly renaming = signal<string | null>(null);
  protected readonly most = MOST_SCENES;

  protected readonly acts = computed(() => {
    const scenes = this.scenes();
    const many = scenes.length;
    return [
      chip(this.shown() ? 'Keep as another' : 'Keep this scene', () => this.keep(), { disabled: this.full() }),
      many > 0 &&
        chip(many === 1 ? 'Make its picture' : `Make all ${many}`, () => this.makeAll.emit(scenes), {
          disabled: this.busy(),
        }),
      many > 0 && chip('Keep them as a set …', () => this.keepAsSet.emit(scenes)),
    ];
  });

  protected see(scene: KeptScene, isSeen: boolean): void {
    this.small.see(`scene ${scene.id}`, () => this.scenes().find((one) => one.id === scene.id) ?? null, isSeen);
  }

  private keep(): void {
    const [scene, blank] = [this.mockup.scene(), this.mockup.blank()];
    if (!scene || !blank) return;
    const kept = this.scenes().find((one) => one.id === this.shown());
    if (kept) {
      this.copy(kept);
      return;
    }
    const colour = colourwayOf(blank, scene.garment)?.name;
    const area = blank.areas.length > 1 && scene.areaId !== blank.areas[0].id ? areaOf(blank, scene.areaId).name : null;
    this.edit(keepScene(scene, newId('s'), this.free([blank.name, colour, area].filter(Boolean).join(', '))));
  }

  protected show(scene: KeptScene): void {
    if (scene.id === this.shown()) return;
    this.mockup.setOf.set(new Set());
    this.edit(showScene(scene.id));
  }

  protected copy(scene: KeptScene): void {
    this.edit(copyScene(scene.id, { id: newId('s'), name: this.free(scene.name) }));
  }

  protected move(scene: KeptScene, to: number): void {
    this.edit(moveScene(scene.id, to));
  }

  protected drop({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    if (previousIndex !== currentIndex) this.move(this.scenes()[previousIndex], currentIndex);
  }

  protected remove(scene: KeptScene): void {
    this.edit(dropScene(scene.id));
  }

  protected begin(scene: KeptScene): void {
    this.renaming.set(scene.id);
    setTimeout(() => document.querySelector<HTMLInputElement>('ks-scene-list li input')?.select());
  }

  protected rename(scene: KeptScene, name: string): void {
    if (this.renaming() !== scene.id) return;
    this.renaming.set(null);
    const trimmed = name.trim();
    if (trimmed && trimmed !== scene.name) this.edit(renameScene(scene.id, trimmed));
  }

  /** A name that no other scene has. */
  private free(name: string): string {
    const taken = new Set(this.scenes().map((one) => one.name));
    const short = name.slice(0, 74);
    let free = short;
    for (let n = 2; taken.has(free); n++) free = `${short} ${n}`;
    return free;
  }

  private edit(edit: Parameters<Editor['desk']['edit']>[0]): void {
    this.editor.desk.edit(edit);
    this.editor.desk.settle();
  }
}
