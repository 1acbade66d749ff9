import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import type { ClipFile } from '@kettle/contract';
import { CLIP_FPS, CLIP_SHAPES, CLIP_SHAPE_WORDS } from '@kettle/core/model';
import {
  CLIP_FILE_KINDS,
  CLIP_FILES,
  refusedAfter,
  refusedBefore,
  type ClipRequirement,
  type ClipRequirementFields,
} from '@kettle/core/clip';
import { type Observable } from 'rxjs';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { Notices } from '../data/notices';
import { CLIP_REQUIREMENT } from '../data/saved-kinds';
import { Saving, asChanged, savesOf } from '../data/saving';
import { SaveNotice } from '../parts/save-notice';
import { Settings, amount, chips, pick, row, type Setting } from '../units/settings';
import { TypedValue } from '../units/typed-value';
import { ClipEditor } from './clip-editor';

const MEGABYTE = 1_000_000;
/** What a new requirement demands until it is changed. */
const START: ClipRequirementFields = {
  channel: 'Channel',
  name: 'Clip',
  shapes: ['1:1'],
  files: ['webm', 'mp4'],
  leastSeconds: 3,
  mostSeconds: 30,
  mostBytes: 20 * MEGABYTE,
  leastSide: 720,
  sound: 'any',
};

const SOUNDS = [
  { id: 'any', words: 'with or without sound' },
  { id: 'needed', words: 'with sound' },
  { id: 'none', words: 'without sound' },
] as const;

/** Where a clip may go: what each channel would refuse of it as it is planned, and of its newest files. */
@Component({
  selector: 'ks-clip-places',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatIconModule, SaveNotice, Settings, TypedValue],
  templateUrl: './clip-places.html',
  styleUrl: './clip-places.scss',
})
export class ClipPlaces {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly editor = inject(ClipEditor);
  /** Files of the clip, the newest first. */
  readonly files = input.required<readonly ClipFile[]>();
  protected readonly edited = signal<string | null>(null);
  /** The one that is changed just now. */
  protected readonly saving = new Saving(CLIP_REQUIREMENT);
  private readonly all = new Loaded(() => this.api.ask('get /api/clip-requirements'), {
    of: 'What channels demand of clips',
    on: savesOf(this.saving),
  });
  private readonly requirements = computed(() => (this.all.value() ?? []).map((one) => asChanged(one, this.saving)!));

  protected readonly places = computed(() => {
    const clip = this.editor.clip();
    if (!clip) return [];
    const planned = {
      seconds: this.editor.frames() / CLIP_FPS,
      shape: clip.shape,
      hasSound: clip.music !== undefined,
    };
    const current = this.files().filter(({ outOfDate }) => !outOfDate);
    return this.requirements().map((requirement) => {
      const judged = current.map((file) => ({ file, refused: refusedAfter(requirement, readOf(file)) }));
      const taken = judged.find(({ refused }) => !refused.length)?.file ?? null;
      return { requirement, taken, refused: taken ? [] : refusedBefore(requirement, planned), judged };
    });
  });

  constructor() {
    effect(() => {
      const one = this.all.value()?.find(({ id }) => id === this.edited());
      if (one) untracked(() => this.saving.look(one.id, one));
    });
  }

  protected add(): void {
    this.done(this.api.ask('post /api/clip-requirements', { body: START }), ({ id }) => this.edited.set(id));
  }

  protected change(one: ClipRequirement, change: Partial<ClipRequirementFields>): void {
    if (one.id === this.saving.id()) this.saving.change((fields) => ({ ...fields, ...change }));
  }

  protected fields(one: ClipRequirement): readonly Setting[] {
    const several = <T extends string>(
      label: string,
      key: 'shapes' | 'files',
      all: readonly T[],
      named: (of: T) => string,
    ) =>
      chips(
        all.map((of) => ({
          words: named(of),
          on: (one[key] as readonly string[]).includes(of),
          press: () => this.change(one, { [key]: toggled(one[key] as readonly string[], of) }),
        })),
        label,
      );
    const limit = (
      label: string,
      key: 'leastSeconds' | 'mostSeconds' | 'mostBytes' | 'leastSide',
      range: { unit: string; least: number; most: number },
      factor = 1,
    ) => amount(label, one[key] / factor, { ...range, set: (value) => this.change(one, { [key]: value * factor }) });
    return [
      several('Shapes it takes', 'shapes', CLIP_SHAPES, (of) => CLIP_SHAPE_WORDS[of]),
      several('Files it takes', 'files', CLIP_FILE_KINDS, (of) => CLIP_FILES[of].name),
      row(
        limit('Shortest', 'leastSeconds', { unit: 's', least: 0, most: 60 }),
        limit('Longest', 'mostSeconds', { unit: 's', least: 1, most: 600 }),
      ),
      row(
        limit('Largest file', 'mostBytes', { unit: 'MB', least: 0.1, most: 1000 }, MEGABYTE),
        limit('Shorter side', 'leastSide', { unit: 'px', least: 1, most: 4000 }),
      ),
      pick('It comes', one.sound, {
        of: SOUNDS,
        set: (sound) => this.change(one, { sound: sound as ClipRequirementFields['sound'] }),
      }),
    ];
  }

  protected remove({ id }: ClipRequirement): void {
    this.done(this.api.ask('delete /api/clip-requirements/{id}', { id }), () => this.edited.set(null));
  }

  private done<T>(call: Observable<T>, then: (value: T) => void = () => undefined): void {
    call.subscribe({
      next: (value) => {
        then(value);
        this.all.again();
      },
      error: (error: unknown) => {
        this.notices.complain(error);
        // What is shown is what is kept.
        this.all.again();
      },
    });
  }
}

const toggled = <T>(values: readonly T[], value: T): T[] =>
  values.includes(value) ? values.filter((one) => one !== value) : [...values, value];

const readOf = ({ certificate: { seconds, width, height, sound }, file, bytes }: ClipFile) => ({
  seconds,
  width,
  height,
  file,
  bytes,
  hasSound: sound !== null,
});
