import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import {
  CLIP_FPS,
  CLIP_SHAPE_WORDS,
  MOVEMENTS,
  MOVEMENT_WORDS,
  NEAREST,
  OWN_FRAMING,
  TRANSITIONS,
  TRANSITION_WORDS,
  type ClipScene,
  type Framing,
  type Movement,
  type TransitionKind,
} from '@kettle/core/model';
import { MockupEditor } from '../mockups/mockup-editor';
import { NumberField } from '../units/number-field';
import { SlideField } from '../units/slide-field';
import { ClipEditor } from './clip-editor';
import { ClipScenes } from './clip-scenes';

/** A transition that has just been chosen, frames. */
const USUAL_TRANSITION = 12;

/** The scene that is chosen: product, colour, movement, length, how it is framed and gives way to the next. */
@Component({
  selector: 'ks-scene-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [NumberField, SlideField],
  templateUrl: './scene-settings.html',
  styleUrl: './scene-settings.scss',
})
export class SceneSettings {
  private readonly mockup = inject(MockupEditor);
  private readonly scenes = inject(ClipScenes);
  protected readonly editor = inject(ClipEditor);
  protected readonly fps = CLIP_FPS;
  protected readonly nearest = NEAREST;
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly movementWords = MOVEMENT_WORDS;
  protected readonly transitions = TRANSITIONS;
  protected readonly transitionWords = TRANSITION_WORDS;
  protected readonly blanks = computed(() => this.mockup.blanks());
  protected readonly colours = computed(() => {
    const id = this.editor.scene()?.scene.blankId;
    return this.blanks().find((one) => one.id === id)?.colourways ?? [];
  });
  /** Only what moves can turn. */
  protected readonly movements = computed(() => {
    const scene = this.editor.scene();
    const moves = scene && this.scenes.movingBlank(scene.scene);
    return MOVEMENTS.filter((one) => one !== 'turn' || moves);
  });
  /** Frames of a beat; null where nobody knows. */
  protected readonly beat = computed(() => {
    const beats = this.editor.track()?.beats;
    return beats ? (60 / beats.bpm) * CLIP_FPS : null;
  });
  protected readonly framing = computed<Framing>(() => {
    const [clip, scene] = [this.editor.clip(), this.editor.scene()];
    return (clip && scene?.framings?.[clip.shape]) ?? OWN_FRAMING;
  });
  protected readonly isCorrected = computed(() => this.framing() !== OWN_FRAMING);

  protected readonly rounded = (value: number): number => Math.round(value * 100) / 100;
  protected readonly tenths = (value: number): number => Math.round(value * 10) / 10;

  protected move(scene: ClipScene, movement: string): void {
    const others = this.colours()
      .map(({ hex }) => hex)
      .filter((hex) => hex !== scene.scene.garment);
    this.editor.changeScene({
      movement: movement as Movement,
      colours: movement === 'colours' ? (scene.colours ?? others.slice(0, 7)) : scene.colours,
    });
  }

  /** A length in seconds; with music its end falls on a beat that is near. */
  protected setSeconds(seconds: number): void {
    this.setFrames(seconds * CLIP_FPS);
  }

  protected setFrames(frames: number): void {
    const scene = this.editor.scene();
    if (scene) this.editor.trim(scene.id, frames);
  }

  protected setTransition({ transition }: ClipScene, kind: string): void {
    this.editor.changeScene({
      transition:
        kind === 'cut' ? undefined : { kind: kind as TransitionKind, frames: transition?.frames ?? USUAL_TRANSITION },
    });
  }

  protected setTransitionSeconds({ transition }: ClipScene, seconds: number): void {
    if (transition)
      this.editor.changeScene({ transition: { ...transition, frames: Math.max(1, Math.round(seconds * CLIP_FPS)) } });
  }

  protected frame(change: Partial<Framing>): void {
    this.editor.frameScene({ ...this.framing(), ...change });
  }
}
