import {
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  OnDestroy,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { MatIconModule } from '@angular/material/icon';
import { CLIP_FPS, type ClipMusic } from '@kettle/core/model';
import { FADE_OUT, MOST_FADE, type MusicTrack } from '@kettle/core/clip';
import { finalize } from 'rxjs';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import { ChipRow, chip, type Chip } from '../units/chips';
import { FilePicker } from '../units/file-picker';
import { PickField, type PickChoice } from '../units/pick-field';
import { Settings, amount, chips, row, slide, text, type Setting } from '../units/settings';
import { ClipEditor } from './clip-editor';
import { decodeSound, peaksOfTrack } from './clip-music';

/** Strokes of the wave picture. */
const STROKES = 116;

/** Music of a clip: tracks by mood, with a picture of their sound, where they begin, how loud, and one's own. */
@Component({
  selector: 'ks-music-settings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, FilePicker, MatIconModule, PickField, Settings],
  templateUrl: './music-settings.html',
  styleUrl: './music-settings.scss',
})
export class MusicSettings implements OnDestroy {
  private readonly desk = inject(Editor).desk;
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly editor = inject(ClipEditor);
  private readonly mood = signal<string | null>(null);
  protected readonly heard = signal<string | null>(null);
  protected readonly taking = signal(false);
  private readonly peaks = signal<{ readonly id: string; readonly values: readonly number[] } | null>(null);
  private readonly wave = viewChild<ElementRef<HTMLCanvasElement>>('wave');
  private audio: HTMLAudioElement | null = null;

  protected readonly moods = computed(() => {
    const counts = new Map<string, number>();
    for (const { mood } of this.editor.tracks()) counts.set(mood, (counts.get(mood) ?? 0) + 1);
    return chips(
      [...counts].map(([mood, count]) => {
        const on = this.mood() === mood;
        return { words: `${mood} ${count}`, on, press: () => this.mood.set(on ? null : mood) };
      }),
      'Moods of music',
    );
  });
  protected readonly fields = computed<readonly Setting[]>(() => {
    const music = this.editor.clip()?.music;
    if (!music) return [];
    const fade = (label: string, key: 'fadeIn' | 'fadeOut', usual: number): Setting =>
      amount(label, music[key] ?? usual, {
        unit: 's',
        step: 0.1,
        least: 0,
        most: MOST_FADE,
        set: (seconds) => this.set({ [key]: seconds }),
      });
    return [
      slide('Volume', music.volume * 100, {
        unit: '%',
        set: (percent) => this.set({ volume: percent / 100 }, 'volume'),
        settle: () => this.desk.settle(),
      }),
      row(
        amount('Begins', music.start, {
          unit: 's',
          step: 0.5,
          least: 0,
          most: 900,
          set: (start) => this.set({ start }),
        }),
        fade('Comes in', 'fadeIn', 0),
        fade('Goes', 'fadeOut', FADE_OUT),
      ),
    ];
  });
  /** Title and beats of music of one's own. */
  protected readonly facts = (track: MusicTrack): readonly Setting[] => [
    text('Title of the music', track.title, { most: 120, set: (title) => this.change(track, { title }) }),
    row(
      amount('Beats/min', track.tempo ?? 0, {
        least: 0,
        most: 300,
        set: (bpm) => this.change(track, { bpm: bpm < 30 ? null : bpm }),
      }),
      amount('First beat', track.beats?.offset ?? 0, {
        unit: 's',
        least: 0,
        most: 900,
        disabled: !track.beats,
        set: (firstBeat) => this.change(track, { firstBeat }),
      }),
    ),
  ];
  /** Tracks of the mood that is chosen; the one the clip has is among them whatever its mood. */
  protected readonly choices = computed<readonly PickChoice[]>(() => {
    const [mood, now] = [this.mood(), this.editor.track()];
    const tracks = this.editor.tracks().filter((one) => !mood || one.mood === mood);
    const shown = now && !tracks.includes(now) ? [now, ...tracks] : tracks;
    return [
      { id: '', words: 'none' },
      ...shown.map(({ id, title, tempo }) => ({ id, words: tempo ? `${title}, ${tempo} beats a minute` : title })),
    ];
  });
  protected readonly isSilent = computed(() => {
    const [peaks, track] = [this.peaks(), this.editor.track()];
    return !!track && peaks?.id === track.id && Math.max(...peaks.values) < 0.003;
  });

  constructor() {
    effect(() => {
      const track = this.editor.track();
      if (track && this.peaks()?.id !== track.id) void this.draw(track.id);
    });
    effect(() => this.paint());
  }

  ngOnDestroy(): void {
    this.quiet();
  }

  private async draw(id: string): Promise<void> {
    // Music that cannot be had is said where it is played.
    const values = await peaksOfTrack(id, STROKES).catch(() => null);
    if (values && this.editor.track()?.id === id) this.peaks.set({ id, values });
  }

  private paint(): void {
    const [canvas, peaks, track, music] = [
      this.wave()?.nativeElement,
      this.peaks(),
      this.editor.track(),
      this.editor.clip()?.music,
    ];
    if (!canvas || !track) return;
    const context = canvas.getContext('2d')!;
    const { width, height } = canvas;
    const style = getComputedStyle(canvas);
    context.clearRect(0, 0, width, height);
    if (peaks?.id !== track.id) return;
    const [from, to] = [music?.start ?? 0, (music?.start ?? 0) + this.editor.frames() / CLIP_FPS].map(
      (seconds) => (seconds / track.durationSeconds) * width,
    );
    peaks.values.forEach((peak, i) => {
      const x = ((i + 0.5) / peaks.values.length) * width;
      // Colours come from the style sheet, as this browser works them out.
      context.fillStyle = x >= from && x <= to ? style.color : style.columnRuleColor;
      const tall = Math.max(2, peak * (height - 4));
      context.fillRect(x - 1, (height - tall) / 2, 2, tall);
    });
    context.fillStyle = style.caretColor;
    context.fillRect(Math.min(width - 2, from), 0, 2, height);
  }

  protected choose(trackId: string): void {
    const before = this.editor.clip()?.music;
    this.editor.change({ music: trackId ? { ...before, trackId, start: 0, volume: before?.volume ?? 1 } : undefined });
    this.quiet();
  }

  private set(change: Partial<ClipMusic>, mergeKey: string | null = null): void {
    const music = this.editor.clip()?.music;
    if (music) this.editor.change({ music: { ...music, ...change } }, mergeKey);
  }

  /** Begins where the wave picture was pressed. */
  protected startAt(event: MouseEvent, track: MusicTrack): void {
    const { left, width } = (event.currentTarget as HTMLElement).getBoundingClientRect();
    const seconds = ((event.clientX - left) / width) * track.loopEnd;
    this.set({ start: Math.round(Math.max(0, Math.min(track.loopEnd - 0.5, seconds)) * 100) / 100 });
  }

  /** Plays a track by itself, or stops it. */
  protected listen(id: string): void {
    if (this.heard() === id) {
      this.quiet();
      return;
    }
    this.quiet();
    const audio = new Audio(`/api/music/${id}/content`);
    this.audio = audio;
    this.heard.set(id);
    audio.onended = () => this.quiet();
    audio.play().catch(() => {
      if (this.audio !== audio) return;
      this.quiet();
      this.notices.complain('This browser cannot play this track.');
    });
  }

  private quiet(): void {
    this.audio?.pause();
    this.audio = null;
    this.heard.set(null);
  }

  protected ownMusic(files: FilePicker): readonly (Chip | false)[] {
    const [taking, own] = [this.taking(), this.editor.track()];
    return [
      !!own?.own && chip('Take off', () => this.remove(own)),
      chip(taking ? 'Taking it in …' : 'Your own music …', () => files.open(), { disabled: taking }),
    ];
  }

  protected async take(file: File): Promise<void> {
    if (this.taking()) return;
    this.taking.set(true);
    try {
      // What this browser cannot play is not taken in.
      await decodeSound(await file.arrayBuffer());
    } catch (error) {
      this.taking.set(false);
      this.notices.complain(`“${file.name}”: ${(error as Error).message}`);
      return;
    }
    this.api
      .ask('post /api/music', { body: file })
      .pipe(finalize(() => this.taking.set(false)))
      .subscribe({
        next: ({ id }) => {
          this.mood.set(null);
          this.editor.reloadTracks();
          this.choose(id);
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  private change(track: MusicTrack, change: { title?: string; bpm?: number | null; firstBeat?: number }): void {
    const { title, beats } = track;
    this.api
      .ask('put /api/music/{id}', {
        id: track.id,
        body: { title, bpm: beats?.bpm ?? null, firstBeat: beats?.offset ?? null, ...change },
      })
      .subscribe({
        next: () => this.editor.reloadTracks(),
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  private remove(track: MusicTrack): void {
    this.api.ask('delete /api/music/{id}', { id: track.id }).subscribe({
      next: () => {
        this.choose('');
        this.editor.reloadTracks();
        this.notices.say(`“${track.title}” is off the list. Other clips that have it keep it.`);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }
}
