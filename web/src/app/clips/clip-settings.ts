import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import {
  CLIP_FPS,
  CLIP_SHAPES,
  CLIP_SHAPE_WORDS,
  coverOf,
  LOGO_CORNERS,
  LOGO_SIZE,
  type ClipLogo,
  type ClipWords,
  type LogoCorner,
} from '@kettle/core/model';
import { Editor } from '../editor/editor';
import { Intake } from '../data/intake';
import { keptList } from '../data/preferences';
import { SlideField } from '../units/slide-field';
import { TypedValue } from '../units/typed-value';
import { ClipEditor } from './clip-editor';
import { MusicSettings } from './music-settings';

const START_WORDS: ClipWords = { title: '', line: '', when: 'end', hex: '#1f2623' };

/** What holds for all of a clip: name, shape, music, words and logo. */
@Component({
  selector: 'ks-clip-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MusicSettings, SlideField, TypedValue],
  templateUrl: './clip-settings.html',
  styleUrl: './clip-settings.scss',
})
export class ClipSettings {
  private readonly desk = inject(Editor).desk;
  private readonly intake = inject(Intake);
  protected readonly editor = inject(ClipEditor);
  protected readonly shapes = CLIP_SHAPES;
  protected readonly shapeWords = CLIP_SHAPE_WORDS;
  protected readonly corners = LOGO_CORNERS;
  protected readonly logoSize = LOGO_SIZE;
  protected readonly whens = [
    { id: 'start', label: 'at the start' },
    { id: 'end', label: 'at the end' },
    { id: 'all', label: 'all the time' },
  ] as const;
  /** The logo that was taken in last: one press puts it over the next clip. */
  private readonly lastLogo = keptList('kettle.clips.logo');
  protected readonly knownLogo = computed(() => this.lastLogo()[0] ?? null);
  protected readonly taking = signal(false);
  protected readonly coverAt = computed(() => {
    const clip = this.editor.clip();
    return clip ? `${(coverOf(clip) / CLIP_FPS).toFixed(2)} s` : '';
  });

  protected readonly spaced = (corner: LogoCorner): string => corner.replace('-', ' ');

  protected rename(name: string): void {
    if (name.trim()) this.editor.change({ name: name.trim() });
  }

  protected setWords(change: Partial<ClipWords>, mergeKey: string | null = null): void {
    this.editor.change({ words: { ...START_WORDS, ...this.editor.clip()?.words, ...change } }, mergeKey);
  }

  protected setWhen(when: string): void {
    this.setWords({ when: when as ClipWords['when'] });
  }

  protected takeLogo(input: HTMLInputElement): void {
    const files = [...(input.files ?? [])].slice(0, 1);
    input.value = '';
    if (!files.length) return;
    this.taking.set(true);
    const clipId = this.editor.clip()?.id;
    this.intake.takeIn(files).subscribe({
      next: ({ id }) => {
        this.lastLogo.set([id]);
        // Another clip may be looked at by now.
        if (this.editor.clip()?.id === clipId) this.useLogo(id);
      },
      complete: () => this.taking.set(false),
    });
  }

  protected useLogo(assetId: string): void {
    const usual = { when: 'end', corner: 'top-right', size: LOGO_SIZE.usual } as const;
    this.setLogo({ ...usual, ...this.editor.clip()?.logo, assetId });
  }

  protected setLogo(logo: ClipLogo | undefined, mergeKey: string | null = null): void {
    this.editor.change({ logo }, mergeKey);
  }

  protected setCorner(logo: ClipLogo, corner: string): void {
    this.setLogo({ ...logo, corner: corner as LogoCorner });
  }

  protected setLogoWhen(logo: ClipLogo, when: string): void {
    this.setLogo({ ...logo, when: when as ClipLogo['when'] });
  }

  protected settle(): void {
    this.desk.settle();
  }
}
