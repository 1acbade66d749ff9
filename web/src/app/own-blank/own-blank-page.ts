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
import { Router } from '@angular/router';
import { MOST_GRID, type AreaShape } from '@kettle/core/own-blank';
import { PictureView, type Ground } from '../cutout/picture-view';
import { TreatPainter } from '../cutout/treat-painter';
import { Api } from '../data/api';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { DropZone } from '../shell/drop-zone';
import { FilePicker } from '../units/file-picker';
import { Settings, amount, check, chips, oneOf, pick, row, slide, text, words, type Setting } from '../units/settings';
import { UndoPair } from '../parts/undo-pair';
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
  imports: [FilePicker, UndoPair, MatButtonModule, MatIconModule, AreaOverlay, DropZone, PictureView, Settings],
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
  /** Everything but the product in a colour that no product has. */
  protected readonly ground: Ground = { kind: 'checker' };

  protected readonly shown = computed(() => this.draft.treated());
  protected readonly source = computed(() => new Uint8ClampedArray(this.draft.ready()?.pixels ?? new ArrayBuffer(0)));
  private readonly round = computed(() => {
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

  protected readonly rubbing = computed<readonly Setting[]>(() => [
    chips(
      [
        { words: 'Product', on: this.keeping(), press: () => this.keeping.set(true) },
        { words: 'Not the product', on: !this.keeping(), press: () => this.keeping.set(false) },
      ],
      'What a stroke says',
    ),
    slide('Brush', this.brush() * 100, {
      least: 0.5,
      most: 12,
      step: 0.5,
      digits: 1,
      unit: '%',
      set: (percent) => this.brush.set(percent / 100),
    }),
    chips([
      { words: 'Start over', press: () => this.draft.startOver() },
      { words: 'All of it is product', press: () => this.draft.takeAll() },
    ]),
  ]);

  protected readonly area = computed<readonly Setting[]>(() => {
    const { draft } = this;
    const [source, known] = [draft.source(), draft.known()];
    const centimetres = (label: string, key: 'widthMm' | 'heightMm'): Setting =>
      amount(label, source[key] / 10, { unit: 'cm', set: (cm) => draft.change({ [key]: cm * 10 }, key) });
    return [
      oneOf('How the area lies', KINDS, source.shape.kind, (kind) => draft.setKind(kind)),
      ...this.shapeOf(source.shape),
      row(centimetres('True width', 'widthMm'), centimetres('True height', 'heightMm')),
      chips([{ words: 'Take it from something I know', on: known !== null, press: () => draft.measure() }]),
      ...(known
        ? [
            words(
              'Draw the green line along a sheet of paper, a ruler, anything of known length beside the product, seen as straight as the product is.',
            ),
            amount('Its length', known.lengthMm / 10, {
              unit: 'cm',
              set: (cm) => draft.setKnown({ lengthMm: cm * 10 }),
            }),
          ]
        : []),
      slide('Follows folds', source.folds * 100, {
        step: 5,
        unit: '%',
        set: (percent) => draft.change({ folds: percent / 100 }, 'folds'),
      }),
    ];
  });

  private shapeOf(shape: AreaShape): readonly Setting[] {
    if (shape.kind === 'grid') {
      const counts = Array.from({ length: MOST_GRID - 1 }, (_, i) => ({ id: String(i + 2), words: String(i + 2) }));
      return [
        words('Drag the points until the lines run as the cloth does.'),
        row(
          pick('Points across', String(shape.columns), {
            of: counts,
            set: (columns) => this.draft.setGrid(Number(columns), shape.rows),
          }),
          pick('down', String(shape.rows), {
            of: counts,
            set: (rows) => this.draft.setGrid(shape.columns, Number(rows)),
          }),
        ),
      ];
    }
    if (shape.kind === 'corners')
      return [words('Drag the four corners of what can be printed. The thick edge is its top.')];
    return [
      slide('Edges bulge', shape.sag * 100, {
        least: -30,
        most: 30,
        unit: '%',
        set: (percent) => this.setRound({ sag: percent / 100 }, 'sag'),
      }),
      slide('Goes around', shape.arc, {
        least: 20,
        most: 175,
        step: 5,
        unit: '°',
        note: 'between its edges',
        set: (arc) => this.setRound({ arc }, 'arc'),
      }),
      slide('Seen of it', (shape.shows[1] - shape.shows[0]) * 100, {
        least: 10,
        step: 2,
        unit: '%',
        note: 'share of the wrap that is seen',
        set: (percent) => this.setShown(percent / 100),
      }),
    ];
  }

  protected readonly kept = computed<readonly Setting[]>(() => {
    const { draft } = this;
    const { name, product, inRoom, anyColour } = draft.source();
    return [
      text('Name', name, { most: 120, live: true, set: (typed) => draft.change({ name: typed }, 'name') }),
      pick('Product', product, {
        of: draft.products.map((one) => ({ id: one, words: one })),
        set: (one) => draft.change({ product: one }),
      }),
      check('Show it where it was photographed', inRoom, (on) => draft.change({ inRoom: on })),
      check('It comes in any colour', anyColour, (on) => draft.change({ anyColour: on })),
    ];
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

  private setRound(change: Partial<Extract<AreaShape, { kind: 'cylinder' }>>, key: string): void {
    const shape = this.round();
    if (shape) this.draft.change({ shape: { ...shape, ...change } }, key);
  }

  /** The seen part of a wrap is in its middle. */
  private setShown(share: number): void {
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
