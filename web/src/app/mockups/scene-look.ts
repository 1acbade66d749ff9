import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import type { InkKind, Look } from '@kettle/core/model';
import { INK_ADVICE, INK_KINDS, INK_WORDS, isClothing, MOST_FOLDS } from '@kettle/core/mockup';
import { Editor } from '../editor/editor';
import { MockupEditor } from './mockup-editor';

type Measure = Exclude<keyof Look, 'ink'>;

/** How ink, folds and camera look, and the picture without any of it beside. */
@Component({
  selector: 'ks-scene-look',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatSliderModule],
  templateUrl: './scene-look.html',
  styleUrl: './scene-look.scss',
})
export class SceneLook {
  private readonly editor = inject(Editor);
  protected readonly mockup = inject(MockupEditor);
  protected readonly kinds = INK_KINDS;
  protected readonly words = INK_WORDS;
  protected readonly advice = INK_ADVICE;
  protected readonly look = this.mockup.look;
  protected readonly opacity = computed(() => this.mockup.scene()?.inkOpacity ?? 1);
  /** The ink of this print by itself. */
  protected readonly usual = computed(() => this.mockup.lookWith(undefined)?.ink ?? 'plain');
  protected readonly chosen = computed(() => this.mockup.scene()?.look?.ink ?? null);
  protected readonly isChanged = computed(() => this.mockup.scene()?.look !== undefined);
  private readonly isCloth = computed(() => {
    const blank = this.mockup.blank();
    return !blank || isClothing(blank) || blank.category === 'Home';
  });
  protected readonly sliders = computed<readonly { key: Measure; label: string; most: number }[]>(() => [
    // What has no cloth has no folds.
    { key: 'folds', label: this.isCloth() ? 'Folds' : 'Shading', most: MOST_FOLDS },
    ...(this.mockup.blank()?.category === 'Tops'
      ? [{ key: 'knit' as const, label: 'Knit of the cloth, up close', most: 1 }]
      : []),
    { key: 'softness', label: 'Softness of the lens', most: 1 },
    { key: 'grain', label: 'Grain of the camera', most: 1 },
  ]);

  protected said(key: Measure, value: number): string {
    if (key === 'folds') return value === 1 ? 'as taken' : `${Math.round(value * 100)} %`;
    return value === 0 ? 'none' : `${Math.round(value * 100)} %`;
  }

  protected showsThrough(): string {
    const share = Math.round((1 - this.opacity()) * 100);
    return share === 0 ? 'none' : `${share} %`;
  }

  protected takeInk(value: string): void {
    const { ink: _ink, ...rest } = this.mockup.scene()?.look ?? {};
    const look = value === 'usual' ? rest : { ...rest, ink: value as InkKind };
    this.mockup.change({ look: Object.keys(look).length ? look : undefined });
    this.editor.desk.settle();
  }

  protected set(key: Measure, value: number): void {
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
