import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { ListedBlank, SavedDesign } from '@kettle/contract';
import { CLIP_SHAPES, CLIP_SHAPE_WORDS, MOST_CLIPS, type Clip, type ClipShape } from '@kettle/core/model';
import {
  addClip,
  ARRANGEMENTS,
  ARRANGEMENTS_OF_MANY,
  arranged,
  arrangedOfMany,
  CLIP_FILES,
  clipsOf,
  shotsOf,
} from '@kettle/core/clip';
import { firstValueFrom } from 'rxjs';
import { Api } from '../data/api';
import { Loaded } from '../data/loaded';
import { sentenceOf } from '../data/problems';
import { BlankShelf } from '../data/blank-shelf';
import { newId } from '../data/new-id';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { NO_MAKERS } from './encoders';
import { ChipRow, chip } from '../units/chips';

/** Shorter side of what the server makes, px. */
const SIDE = 1080;

export interface ClipsDialogData {
  readonly designs: readonly { readonly designId: string; readonly name: string }[];
}

/** Where to go on: a design whose clips station is to be opened, or null for the sheet. */
export type ClipsDialogResult = { readonly open: string | null };

/** Clips of several designs at once: one clip each, or one that shows them all. */
@Component({
  selector: 'ks-clips-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, MatButtonModule, MatDialogModule],
  template: `
    <h2 mat-dialog-title>{{ title }}</h2>
    <mat-dialog-content>
      <ks-chips label="How many clips" [of]="many()" />
      <ul aria-label="Arrangements">
        @for (one of arrangements(); track one.id) {
          <li>
            <button
              type="button"
              class="choice"
              [attr.aria-pressed]="one.id === chosen().id"
              (click)="wished.set(one.id)"
            >
              <b>{{ one.name }}</b><small>{{ one.about }}</small>
            </button>
          </li>
        }
      </ul>
      <ks-chips label="Shape" [of]="shapes()" />
      @if (makers().files.includes(file)) {
        <label class="now"
          ><input type="checkbox" [checked]="now()" (change)="now.set(!now())" /> Have the server make
          {{ together() || count === 1 ? 'it' : 'them' }} at once, as {{ kinds[file].name }}, 1080 px</label
        >
      } @else if (makers().sentence) {
        <small class="now">{{ makers().sentence }}</small>
      }
      @if (done(); as n) {
        <p role="status">{{ n }} of {{ together() ? 1 : count }} begun.</p>
      }
      @for (sentence of wrong(); track $index) {
        <p class="wrong" role="alert">{{ sentence }}</p>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button mat-button type="button" [disabled]="busy()" (click)="close(null)">
        {{ done() ? 'Close' : 'Cancel' }}
      </button>
      <button mat-flat-button type="button" [disabled]="busy() || !ready() || done() > 0" (click)="begin()">
        {{ together() || count === 1 ? 'Begin the clip' : 'Begin ' + count + ' clips' }}
      </button>
    </mat-dialog-actions>
  `,
  styleUrl: './clips-dialog.scss',
})
export class ClipsDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly requirements = inject(RequirementShelf);
  private readonly dialog = inject<MatDialogRef<ClipsDialog, ClipsDialogResult>>(MatDialogRef);
  private readonly data = inject<ClipsDialogData>(MAT_DIALOG_DATA);
  private readonly blanks = toSignal(inject(BlankShelf).all, { initialValue: [] as readonly ListedBlank[] });
  private readonly music = new Loaded(() => this.api.ask('get /api/music'), { of: 'The music' });
  private readonly tracks = this.music.value;
  protected readonly count = this.data.designs.length;
  protected readonly title =
    this.count === 1 ? `A clip of “${this.data.designs[0].name}”` : `Clips of ${this.count} designs`;
  protected readonly kinds = CLIP_FILES;
  /** What the server makes of them, where that is wished. */
  protected readonly file = 'webm' as const;
  private readonly known = new Loaded(() => this.api.ask('get /api/clip-makers'), {
    of: 'What the server makes by itself',
  });
  protected readonly makers = computed(() => this.known.value() ?? NO_MAKERS);
  protected readonly now = signal(false);
  protected readonly together = signal(false);
  protected readonly wished = signal<string | null>(null);
  protected readonly ownShape = signal<ClipShape | null>(null);
  protected readonly busy = signal(false);
  protected readonly done = signal(0);
  protected readonly wrong = signal<readonly string[]>([]);
  private readonly begun: { designId: string; clipId: string }[] = [];
  protected readonly ready = computed(() => this.blanks().length > 0 && this.tracks() !== null);
  protected readonly arrangements = computed(() => (this.together() ? ARRANGEMENTS_OF_MANY : ARRANGEMENTS));
  protected readonly chosen = computed(
    () => this.arrangements().find(({ id }) => id === this.wished()) ?? this.arrangements()[0],
  );
  protected readonly shape = computed(() => this.ownShape() ?? this.chosen().shape);

  protected readonly shapes = computed(() =>
    CLIP_SHAPES.map((one) =>
      chip(`${CLIP_SHAPE_WORDS[one]} ${one}`, () => this.ownShape.set(one), { on: one === this.shape() }),
    ),
  );
  protected readonly many = computed(() => [
    chip('One clip each', () => this.together.set(false), { on: !this.together() }),
    chip('One clip that shows them all', () => this.together.set(true), {
      on: this.together(),
      disabled: this.count < 2,
    }),
  ]);

  protected close(open: string | null): void {
    this.dialog.close({ open });
  }

  protected async begin(): Promise<void> {
    this.busy.set(true);
    this.wrong.set([]);
    const [first] = this.data.designs;
    if (this.together()) await this.try(first.name, () => this.beginTogether());
    else for (const { designId, name } of this.data.designs) await this.try(name, () => this.beginOne(designId));
    if (this.now() && this.begun.length)
      await this.try('', async () => {
        await firstValueFrom(
          this.api.ask('post /api/clip-runs', { body: { clips: this.begun, side: SIDE, file: this.file } }),
        );
        this.notices.say(`The server makes ${this.begun.length === 1 ? 'the clip' : `${this.begun.length} clips`}.`);
      });
    this.busy.set(false);
    // One clip can be looked at now; with several, or when something went wrong, the seller chooses.
    if (!this.wrong().length && (this.together() || this.count === 1)) this.close(first.designId);
  }

  /** What fails for one design harms no other. */
  private async try(name: string, work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      const sentence = error instanceof Error && !('status' in error) ? error.message : sentenceOf(error);
      this.wrong.update((all) => [...all, name ? `${name}: ${sentence}` : sentence]);
    }
  }

  private async beginOne(designId: string): Promise<void> {
    const saved = await firstValueFrom(this.api.ask('get /api/designs/{id}', { id: designId }));
    const { shots, turns } = this.shotsOf(saved);
    const first = this.chosen().steps[0].turns && turns.length ? turns[0] : shots[0];
    const colours = this.blanks().find(({ id }) => id === first.blankId)?.colourways ?? [];
    await this.keep(
      saved,
      arranged(
        this.chosen(),
        shots,
        turns,
        colours.map(({ hex }) => hex),
        this.tracks() ?? [],
        saved.document.name,
        () => newId('c'),
      ),
    );
  }

  private async beginTogether(): Promise<void> {
    const designs = await Promise.all(
      this.data.designs.map(({ designId }) => firstValueFrom(this.api.ask('get /api/designs/{id}', { id: designId }))),
    );
    const shots = designs.map((one) => ({ designId: one.id, scene: this.shotsOf(one).shots[0] }));
    await this.keep(
      designs[0],
      arrangedOfMany(this.chosen(), shots, this.tracks() ?? [], () => newId('c')),
    );
  }

  /** @throws Error with a sentence when there is nothing to show */
  private shotsOf({ document }: SavedDesign) {
    if (!document.layers.length) throw new Error('It has no art yet, so a clip would show bare products.');
    return shotsOf(document, this.blanks(), this.requirements.all(), document.targets[0]?.garment);
  }

  private async keep({ id, revision, document }: SavedDesign, clip: Clip): Promise<void> {
    if (clipsOf(document).length >= MOST_CLIPS)
      throw new Error(`It has ${MOST_CLIPS} clips already. Take one away first.`);
    await firstValueFrom(
      this.api.ask('put /api/designs/{id}', {
        id,
        ifMatch: revision,
        body: addClip({ ...clip, shape: this.shape() })(document),
      }),
    );
    this.begun.push({ designId: id, clipId: clip.id });
    this.done.update((n) => n + 1);
  }
}
