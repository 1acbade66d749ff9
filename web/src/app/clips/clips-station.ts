import { CdkDrag, CdkDropList, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import {
  CLIP_FPS,
  CLIP_SHAPE_WORDS,
  MOVEMENT_WORDS,
  TRANSITION_WORDS,
  type Clip,
  type ClipScene,
} from '@kettle/core/model';
import { ARRANGEMENTS, framesOf, startsOf } from '@kettle/core/clip';
import { Editor } from '../editor/editor';
import { MockupEditor } from '../mockups/mockup-editor';
import { ScenePainter } from '../mockups/scene-painter';
import { ClipEditor } from './clip-editor';
import { ClipLogos } from './clip-logos';
import { ClipMaker } from './clip-maker';
import { ClipMaking } from './clip-making';
import { ClipPictures } from './clip-pictures';
import { ClipScenes } from './clip-scenes';
import { ClipSettings } from './clip-settings';
import { ClipStage } from './clip-stage';
import { ClipStarts } from './clip-starts';
import { ClipThumb } from './clip-thumb';
import { MovingPainter } from './moving-painter';
import { OtherDesigns } from './other-designs';
import { ScenePictures } from './scene-pictures';
import { SceneSettings } from './scene-settings';
import { ChipRow, chip } from '../units/chips';

/** Clips of the design: scenes in a row, with movement, music and words, played and made. */
@Component({
  selector: 'ks-clips-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    ChipRow,
    CdkDrag,
    CdkDropList,
    MatButtonModule,
    MatIconModule,
    ClipMaking,
    ClipSettings,
    ClipStage,
    ClipStarts,
    ClipThumb,
    SceneSettings,
  ],
  providers: [
    MockupEditor,
    ScenePainter,
    MovingPainter,
    OtherDesigns,
    ClipScenes,
    ClipLogos,
    ClipPictures,
    ScenePictures,
    ClipEditor,
    ClipMaker,
  ],
  templateUrl: './clips-station.html',
  styleUrl: './clips-station.scss',
})
export class ClipsStation {
  private readonly desk = inject(Editor).desk;
  private readonly mockup = inject(MockupEditor);
  private readonly others = inject(OtherDesigns);
  protected readonly editor = inject(ClipEditor);
  protected readonly sceneActs = computed(() => {
    const scene = this.editor.scene();
    return [
      chip(scene ? 'Duplicate scene' : 'Add a scene', () => this.editor.addScene()),
      scene !== null && chip('Take scene away', () => this.editor.removeScene(scene.id)),
    ];
  });
  protected readonly fps = CLIP_FPS;
  protected readonly first = ARRANGEMENTS[0];
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly movementWords = MOVEMENT_WORDS;
  protected readonly transitionWords = TRANSITION_WORDS;
  protected readonly canStart = computed(
    () => this.mockup.blanks().length > 0 && !!this.desk.document()?.layers.length && this.editor.tracks().length > 0,
  );

  protected readonly seconds = (clip: Clip): string => (framesOf(clip) / CLIP_FPS).toFixed(1);

  protected nameOf({ scene, designId }: ClipScene): string {
    const name = this.mockup.blanks().find((one) => one.id === scene.blankId)?.name ?? 'a product that is gone';
    const other = designId && this.others.known().get(designId);
    return other ? `${other.name}, ${name}` : name;
  }

  protected choose(scene: ClipScene, at: number): void {
    this.editor.select(scene.id);
    const clip = this.editor.clip();
    if (clip) this.editor.frame.set(startsOf(clip)[at]);
  }

  protected drop({ item, currentIndex, previousIndex }: CdkDragDrop<unknown>): void {
    const scene = this.editor.clip()?.scenes[previousIndex];
    if (item && scene && currentIndex !== previousIndex) this.editor.moveScene(scene.id, currentIndex);
  }

  /** The scene whose end is in a hand, where the hand took it, and how many frames a pixel is. */
  private hold: { readonly id: string; readonly x: number; readonly frames: number; readonly each: number } | null =
    null;

  protected grab(event: PointerEvent, { id, frames }: ClipScene): void {
    const edge = event.currentTarget as HTMLElement;
    const { width } = edge.parentElement!.getBoundingClientRect();
    this.hold = { id, x: event.clientX, frames, each: frames / width };
    edge.setPointerCapture(event.pointerId);
  }

  protected pull(event: PointerEvent): void {
    if (!this.hold) return;
    const { id, x, frames, each } = this.hold;
    this.editor.trim(id, frames + (event.clientX - x) * each, `trim ${id}`);
  }

  protected letGo(): void {
    if (this.hold) this.editor.settle();
    this.hold = null;
  }

  /** Frame by frame; with Shift a beat at a time where there are beats. */
  protected trimBy(event: Event, { id, frames }: ClipScene, by: number): void {
    event.preventDefault();
    const beats = this.editor.track()?.beats;
    const step = (event as KeyboardEvent).shiftKey && beats ? (60 / beats.bpm) * CLIP_FPS : 1;
    // A beat would pull a single frame back to where it was.
    const wanted = frames + by * step;
    if (step === 1) this.editor.setFrames(id, wanted);
    else this.editor.trim(id, wanted);
  }

  protected shift(event: Event, scene: ClipScene, to: number): void {
    event.preventDefault();
    this.editor.moveScene(scene.id, to);
  }
}
