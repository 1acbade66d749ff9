import {
  ChangeDetectionStrategy,
  Component,
  HostListener,
  computed,
  inject,
  input,
  signal,
  type OnInit,
} from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import { Router } from '@angular/router';
import { MOST_GRID, type AreaShape } from '@kettle/core/own-blank';
import { PictureView, type Ground } from '../cutout/picture-view';
import { TreatPainter } from '../cutout/treat-painter';
import { Api } from '../data/api';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { DropZone } from '../shell/drop-zone';
import { NumberField } from '../units/number-field';
import { TypedValue } from '../units/typed-value';
import { AreaOverlay } from './area-overlay';
import { OwnBlankDraft } from './own-blank-draft';

type Step = 'product' | 'area';

const KINDS: readonly { readonly id: AreaShape['kind']; readonly label: string }[] = [
  { id: 'corners', label: 'Flat' },
  { id: 'grid', label: 'Bends' },
  { id: 'cylinder', label: 'Round' },
];

/** A blank made of a photo: what the product is, where it is printed, how large that is in truth. */
@Component({
  selector: 'ks-own-blank-page',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [
    MatButtonModule,
    MatIconModule,
    MatSliderModule,
    AreaOverlay,
    DropZone,
    NumberField,
    PictureView,
    TypedValue,
  ],
  providers: [OwnBlankDraft, TreatPainter],
  templateUrl: './own-blank-page.html',
  styleUrl: './own-blank-page.scss',
})
export class OwnBlankPage implements OnInit {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly shelf = inject(BlankShelf);
  protected readonly draft = inject(OwnBlankDraft);
  /** Id of the blank that is changed, from the address; `new` for another. */
  readonly blankId = input('new');
  /** Where the seller came from. */
  readonly back = input<string>();
  protected readonly step = signal<Step>('product');
  protected readonly keeping = signal(true);
  protected readonly brush = signal(0.03);
  protected readonly sending = signal<number | null>(null);
  protected readonly making = signal(false);
  protected readonly doubts = signal<readonly string[]>([]);
  protected readonly kinds = KINDS;
  protected readonly counts = Array.from({ length: MOST_GRID - 1 }, (_, i) => i + 2);
  /** Everything but the product in a colour that no product has. */
  protected readonly ground: Ground = { kind: 'checker' };

  protected readonly shown = computed(() => this.draft.treated());
  protected readonly source = computed(() => new Uint8ClampedArray(this.draft.ready()?.pixels ?? new ArrayBuffer(0)));
  protected readonly grid = computed(() => {
    const { shape } = this.draft.source();
    return shape.kind === 'grid' ? shape : null;
  });
  protected readonly round = computed(() => {
    const { shape } = this.draft.source();
    return shape.kind === 'cylinder' ? shape : null;
  });
  protected readonly wrong = computed(() => {
    const { name, widthMm, heightMm } = this.draft.source();
    if (!this.draft.ready()) return 'Choose a photo.';
    if (this.draft.wrongArea()) return this.draft.wrongArea();
    if (!(widthMm >= 5) || !(heightMm >= 5)) return 'The print area is at least 5 mm wide and high.';
    return name.trim() ? null : 'Name the blank.';
  });

  ngOnInit(): void {
    if (this.blankId() === 'new') this.draft.restore();
    else
      this.api.ask('get /api/blanks/{id}/source', { id: this.blankId() }).subscribe({
        next: (source) => {
          if (source) this.draft.open(source, this.blankId());
          else this.notices.say('This blank came as a pack. It cannot be changed here.');
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  protected take(files: readonly File[]): void {
    const [file] = files;
    if (!file) return;
    this.sending.set(0);
    this.api.ask('post /api/assets', { body: file }).subscribe({
      next: (asset) => {
        this.sending.set(null);
        this.doubts.set([]);
        this.step.set('product');
        if (asset.vector) this.notices.say('A blank is made of a photo. This file is a drawing.');
        else {
          this.made.set(0);
          this.draft.begin(asset.id, asset.filename.replace(/\.[^.]+$/, '').slice(0, 120));
        }
      },
      error: (error: unknown) => {
        this.sending.set(null);
        this.notices.complain(error);
      },
    });
  }

  protected setBrush(size: number): void {
    this.brush.set(size);
  }

  protected setRound(change: Partial<Extract<AreaShape, { kind: 'cylinder' }>>, key: string): void {
    const shape = this.round();
    if (shape) this.draft.change({ shape: { ...shape, ...change } }, key);
  }

  /** The seen part of a wrap is in its middle. */
  protected setShown(share: number): void {
    this.setRound({ shows: [0.5 - share / 2, 0.5 + share / 2] }, 'shows');
  }

  protected keep(): void {
    if (this.wrong() || this.making()) return;
    this.making.set(true);
    const { name, ...rest } = this.draft.source();
    const id = this.draft.id();
    const source = { ...rest, name: name.trim() };
    (id === null
      ? this.api.ask('post /api/blanks', { body: source })
      : this.api.ask('put /api/blanks/{id}', { id, body: source })
    ).subscribe({
      next: ({ blank, doubts }) => {
        this.making.set(false);
        this.draft.done();
        this.draft.id.set(blank.id);
        // A reload goes on with this blank.
        void this.router.navigate(['/blanks', blank.id], { queryParamsHandling: 'preserve', replaceUrl: true });
        this.doubts.set(doubts);
        this.made.update((n) => n + 1);
        this.shelf.reload();
        this.shelf.use(blank.id);
      },
      error: (error: unknown) => {
        this.making.set(false);
        this.notices.complain(error);
      },
    });
  }

  /** How often it was made by now: a new picture each time. */
  protected readonly made = signal(0);

  protected leave(): void {
    const to = this.back();
    const path = to?.startsWith('/') && !to.startsWith('//') ? to : '/';
    const id = this.draft.id();
    void this.router.navigateByUrl(this.made() && id ? `${path}?blank=${id}` : path);
  }

  @HostListener('document:keydown', ['$event'])
  protected shortcuts(event: KeyboardEvent): void {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z') return;
    // In a box of text undo is the box's own.
    if (event.target instanceof HTMLInputElement && event.target.type !== 'range') return;
    event.preventDefault();
    if (event.shiftKey) this.draft.redo();
    else this.draft.undo();
  }
}
