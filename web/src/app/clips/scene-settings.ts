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
import { Settings, amount, pick, row, slide, type Setting } from '../units/settings';
import { Swatches } from '../units/swatches';
import { ClipEditor } from './clip-editor';
import { ClipScenes } from './clip-scenes';

/** A transition that has just been chosen, frames. */
const USUAL_TRANSITION = 12;

/** The scene that is chosen: product, colour, movement, length, how it is framed and gives way to the next. */
@Component({
  selector: 'ks-scene-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings, Swatches],
  templateUrl: './scene-settings.html',
  styleUrl: './scene-settings.scss',
})
export class SceneSettings {
  private readonly mockup = inject(MockupEditor);
  private readonly scenes = inject(ClipScenes);
  protected readonly editor = inject(ClipEditor);
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  private readonly blanks = computed(() => this.mockup.blanks());
  protected readonly colours = computed(() => {
    const id = this.editor.scene()?.scene.blankId;
    return this.blanks().find((one) => one.id === id)?.colourways ?? [];
  });
  /** Only what moves can turn. */
  private readonly movements = computed(() => {
    const scene = this.editor.scene();
    const moves = scene && this.scenes.movingBlank(scene.scene);
    return MOVEMENTS.filter((one) => one !== 'turn' || moves);
  });
  /** Frames of a beat; null where nobody knows. */
  private readonly beat = computed(() => {
    const beats = this.editor.track()?.beats;
    return beats ? (60 / beats.bpm) * CLIP_FPS : null;
  });
  private readonly framing = computed<Framing>(() => {
    const [clip, scene] = [this.editor.clip(), this.editor.scene()];
    return (clip && scene?.framings?.[clip.shape]) ?? OWN_FRAMING;
  });
  protected readonly isCorrected = computed(() => this.framing() !== OWN_FRAMING);

  protected readonly product = computed(() =>
    pick('Product', this.editor.scene()?.scene.blankId ?? '', {
      of: this.blanks().map(({ id, name, kind }) => ({ id, words: `${name}${kind === 'moving' ? ' (moves)' : ''}` })),
      set: (id) => this.editor.showBlank(id),
    }),
  );
  protected readonly timing = computed<readonly Setting[]>(() => {
    const [clip, scene, beat] = [this.editor.clip(), this.editor.scene(), this.beat()];
    if (!clip || !scene) return [];
    const { transition } = scene;
    const seconds = (frames: number): number => Math.round((frames / CLIP_FPS) * 100) / 100;
    return [
      pick('Movement', scene.movement, {
        of: this.movements().map((id) => ({ id, words: MOVEMENT_WORDS[id] })),
        set: (movement) => this.move(scene, movement),
      }),
      row(
        amount('Length', seconds(scene.frames), {
          unit: 's',
          step: 0.25,
          least: 0.25,
          most: 60,
          set: (value) => this.setFrames(value * CLIP_FPS),
        }),
        beat !== null &&
          amount('In beats', Math.round((scene.frames / beat) * 10) / 10, {
            least: 1,
            most: 240,
            set: (beats) => this.setFrames(beats * beat),
          }),
      ),
      ...(scene === clip.scenes.at(-1)
        ? []
        : [
            row(
              pick('Into the next', transition?.kind ?? 'cut', {
                of: TRANSITIONS.map((id) => ({ id, words: TRANSITION_WORDS[id] })),
                set: (kind) => this.setTransition(scene, kind),
              }),
              transition !== undefined &&
                transition.kind !== 'cut' &&
                amount('lasting', seconds(transition.frames), {
                  unit: 's',
                  step: 0.1,
                  least: 0.1,
                  most: 3,
                  set: (value) => this.setTransitionSeconds(scene, value),
                }),
            ),
          ]),
    ];
  });
  protected readonly framed = computed(() => {
    const part = (label: string, key: keyof Framing, least: number, most: number): Setting =>
      slide(label, this.framing()[key] * 100, {
        unit: '%',
        least,
        most,
        set: (percent) => this.frame({ [key]: percent / 100 }),
        settle: () => this.editor.settle(),
      });
    return [part('Across', 'x', -50, 50), part('Down', 'y', -50, 50), part('Nearer', 'zoom', 100, NEAREST * 100)];
  });

  private move(scene: ClipScene, movement: string): void {
    const others = this.colours()
      .map(({ hex }) => hex)
      .filter((hex) => hex !== scene.scene.garment);
    this.editor.changeScene({
      movement: movement as Movement,
      colours: movement === 'colours' ? (scene.colours ?? others.slice(0, 7)) : scene.colours,
    });
  }

  /** A length in frames; with music its end falls on a beat that is near. */
  private setFrames(frames: number): void {
    const scene = this.editor.scene();
    if (scene) this.editor.trim(scene.id, frames);
  }

  private setTransition({ transition }: ClipScene, kind: string): void {
    this.editor.changeScene({
      transition:
        kind === 'cut' ? undefined : { kind: kind as TransitionKind, frames: transition?.frames ?? USUAL_TRANSITION },
    });
  }

  private setTransitionSeconds({ transition }: ClipScene, seconds: number): void {
    if (transition)
      this.editor.changeScene({ transition: { ...transition, frames: Math.max(1, Math.round(seconds * CLIP_FPS)) } });
  }

  private frame(change: Partial<Framing>): void {
    this.editor.frameScene({ ...this.framing(), ...change });
  }
}
