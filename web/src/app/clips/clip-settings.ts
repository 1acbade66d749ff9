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
import { ChipRow, chip, type Chip } from '../units/chips';
import { FilePicker } from '../units/file-picker';
import { Settings, colour, oneOf, pick, row, slide, text, type Setting } from '../units/settings';
import { ClipEditor } from './clip-editor';
import { MusicSettings } from './music-settings';

const START_WORDS: ClipWords = { title: '', line: '', when: 'end', hex: '#1f2623' };

const WHENS = [
  { id: 'start', words: 'at the start' },
  { id: 'end', words: 'at the end' },
  { id: 'all', words: 'all the time' },
] as const;

/** What holds for all of a clip: name, shape, music, words and logo. */
@Component({
  selector: 'ks-clip-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, FilePicker, MusicSettings, Settings],
  templateUrl: './clip-settings.html',
  styleUrl: './clip-settings.scss',
})
export class ClipSettings {
  private readonly desk = inject(Editor).desk;
  private readonly intake = inject(Intake);
  protected readonly editor = inject(ClipEditor);
  /** The logo that was taken in last: one press puts it over the next clip. */
  private readonly lastLogo = keptList('kettle.clips.logo');
  private readonly knownLogo = computed(() => this.lastLogo()[0] ?? null);
  private readonly taking = signal(false);
  protected readonly coverAt = computed(() => {
    const clip = this.editor.clip();
    return clip ? `${(coverOf(clip) / CLIP_FPS).toFixed(2)} s` : '';
  });

  protected readonly shape = computed(() =>
    oneOf(
      'Shape',
      CLIP_SHAPES.map((id) => ({ id, label: `${CLIP_SHAPE_WORDS[id]} ${id}` })),
      this.editor.clip()?.shape,
      (shape) => this.editor.change({ shape }),
    ),
  );
  protected readonly title = computed(() => [
    text('Name', this.editor.clip()?.name ?? '', { most: 80, set: (name) => this.rename(name) }),
  ]);
  protected readonly words = computed<readonly Setting[]>(() => {
    const words = { ...START_WORDS, ...this.editor.clip()?.words };
    const typed = (key: 'title' | 'line', most: number) => ({
      most,
      live: true,
      set: (said: string) => this.setWords({ [key]: said }, key),
    });
    return [
      text('Title', words.title, typed('title', 80)),
      text('Line below', words.line, { ...typed('line', 120), hint: 'a price, a date' }),
      row(
        pick('Seen', words.when, { of: WHENS, set: (when) => this.setWords({ when: when as ClipWords['when'] }) }),
        colour('Colour of the words', words.hex, (hex) => this.setWords({ hex }, 'hex')),
      ),
    ];
  });
  protected readonly logo = computed<readonly Setting[]>(() => {
    const logo = this.editor.clip()?.logo;
    if (!logo) return [];
    return [
      row(
        pick('Corner', logo.corner, {
          of: LOGO_CORNERS.map((id) => ({ id, words: id.replace('-', ' ') })),
          set: (corner) => this.setLogo({ ...logo, corner: corner as LogoCorner }),
        }),
        pick('Seen', logo.when, {
          of: WHENS,
          set: (when) => this.setLogo({ ...logo, when: when as ClipLogo['when'] }),
          spoken: 'Logo seen',
        }),
      ),
      slide('Size', logo.size * 100, {
        unit: '%',
        least: LOGO_SIZE.least * 100,
        most: LOGO_SIZE.most * 100,
        set: (percent) => this.setLogo({ ...logo, size: percent / 100 }, 'logo'),
        settle: () => this.desk.settle(),
      }),
    ];
  });

  private rename(name: string): void {
    if (name.trim()) this.editor.change({ name: name.trim() });
  }

  private setWords(change: Partial<ClipWords>, mergeKey: string | null = null): void {
    this.editor.change({ words: { ...START_WORDS, ...this.editor.clip()?.words, ...change } }, mergeKey);
  }

  protected logoActs(files: FilePicker): readonly (Chip | false)[] {
    const [logo, known, taking] = [this.editor.clip()?.logo, this.knownLogo(), this.taking()];
    return [
      logo !== undefined && chip('Take it away', () => this.setLogo(undefined)),
      !logo && !!known && chip('The one used last', () => this.useLogo(known)),
      chip(taking ? 'Taking it in …' : logo ? 'Another …' : 'Choose a picture …', () => files.open(), {
        disabled: taking,
      }),
    ];
  }
  protected readonly coverActs = [
    chip('Take the one shown now', () => this.editor.change({ cover: this.editor.frame() })),
  ];

  protected takeLogo(file: File): void {
    this.taking.set(true);
    const clipId = this.editor.clip()?.id;
    this.intake.takeIn([file]).subscribe({
      next: ({ id }) => {
        this.lastLogo.set([id]);
        // Another clip may be looked at by now.
        if (this.editor.clip()?.id === clipId) this.useLogo(id);
      },
      complete: () => this.taking.set(false),
    });
  }

  private useLogo(assetId: string): void {
    const usual = { when: 'end', corner: 'top-right', size: LOGO_SIZE.usual } as const;
    this.setLogo({ ...usual, ...this.editor.clip()?.logo, assetId });
  }

  private setLogo(logo: ClipLogo | undefined, mergeKey: string | null = null): void {
    this.editor.change({ logo }, mergeKey);
  }
}
