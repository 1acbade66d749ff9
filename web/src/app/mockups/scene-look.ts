import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { InkKind, Look } from '@kettle/core/model';
import { INK_ADVICE, INK_KINDS, INK_WORDS, isClothing, MOST_FOLDS } from '@kettle/core/mockup';
import { Editor } from '../editor/editor';
import { Settings, pick, slide, words, type Setting } from '../units/settings';
import { MockupEditor } from './mockup-editor';

type Measure = Exclude<keyof Look, 'ink'>;

const none = (percent: number): string | undefined => (percent === 0 ? 'none' : undefined);

/** How ink, folds and camera look, and the picture without any of it beside. */
@Component({
  selector: 'ks-scene-look',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [Settings],
  templateUrl: './scene-look.html',
  styleUrl: './scene-look.scss',
})
export class SceneLook {
  private readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  protected readonly look = this.mockup.look;
  protected readonly isChanged = computed(() => this.mockup.scene()?.look !== undefined);
  private readonly isCloth = computed(() => {
    const blank = this.mockup.blank();
    return !blank || isClothing(blank) || blank.category === 'Home';
  });
  protected readonly fields = computed<readonly Setting[]>(() => {
    const [scene, look, { mockup }] = [this.mockup.scene(), this.look(), this];
    if (!scene || !look) return [];
    const measure = (label: string, key: Measure, most = 1): Setting =>
      slide(label, look[key] * 100, {
        most: most * 100,
        step: 5,
        unit: '%',
        word: key === 'folds' ? (percent) => (percent === 100 ? 'as taken' : undefined) : none,
        set: (percent) => this.set(key, percent / 100),
      });
    return [
      pick('Ink', scene.look?.ink ?? 'usual', {
        of: [
          { id: 'usual', words: `by itself: ${INK_WORDS[mockup.lookWith(undefined)?.ink ?? 'plain']}` },
          ...INK_KINDS.map((id) => ({ id, words: INK_WORDS[id] })),
        ],
        set: (ink) => this.takeInk(ink),
      }),
      words(INK_ADVICE[look.ink]),
      slide('Fabric showing through the ink', Math.round(100 - scene.inkOpacity * 100), {
        most: 40,
        unit: '%',
        word: none,
        set: (percent) => mockup.change({ inkOpacity: 1 - percent / 100 }, 'ink'),
      }),
      // What has no cloth has no folds.
      measure(this.isCloth() ? 'Folds' : 'Shading', 'folds', MOST_FOLDS),
      ...(mockup.blank()?.category === 'Tops' ? [measure('Knit of the cloth, up close', 'knit')] : []),
      measure('Softness of the lens', 'softness'),
      measure('Grain of the camera', 'grain'),
    ];
  });

  private takeInk(value: string): void {
    const { ink: _ink, ...rest } = this.mockup.scene()?.look ?? {};
    const look = value === 'usual' ? rest : { ...rest, ink: value as InkKind };
    this.mockup.change({ look: Object.keys(look).length ? look : undefined });
    this.editor.desk.settle();
  }

  private set(key: Measure, value: number): void {
    this.mockup.change({ look: { ...this.mockup.scene()?.look, [key]: value } }, `look ${key}`);
  }

  protected asUsual(): void {
    this.mockup.change({ look: undefined });
    this.editor.desk.settle();
  }

  /** A key that is held down repeats. */
  protected holdKey(event: KeyboardEvent, isDown: boolean): void {
    if (event.key !== ' ' && event.key !== 'Enter') return;
    event.preventDefault();
    this.mockup.before.set(isDown);
  }
}
