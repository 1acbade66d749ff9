import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { ListedBlank } from '@kettle/contract';
import { PICTURE_SIZES, type PictureFormat } from '@kettle/core/model';
import { countOf, MOST_COLOURS, type PictureSet, type PictureSetFields, type Shot } from '@kettle/core/mockup';
import { EMPTY, Observable, catchError, of, switchMap, tap } from 'rxjs';
import { Api } from '../data/api';
import { BlankShelf } from '../data/blank-shelf';
import { Notices } from '../data/notices';
import { FORMAT_CHOICES } from '../data/picture-formats';
import { PickField } from '../units/pick-field';
import { NumberField } from '../units/number-field';
import { TypedValue } from '../units/typed-value';
import { cropWords } from './crop-words';

export interface PictureSetDialogData {
  readonly designs: readonly { readonly designId: string; readonly name: string; readonly revision?: number }[];
  /** The set they have by now. */
  readonly setId: string | null;
  /** A set that is not kept yet, as from the scenes of a design. */
  readonly begin?: PictureSetFields;
}

/** Id of a set that is not kept yet. */
const NEW = 'new';

/** The usual rows of pictures: which one some designs are to have, what is in it, and the press that makes it. */
@Component({
  selector: 'ks-picture-set-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [PickField, MatButtonModule, MatDialogModule, MatIconModule, NumberField, TypedValue],
  templateUrl: './picture-set-dialog.html',
  styleUrl: './picture-set-dialog.scss',
})
export class PictureSetDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly dialog = inject<MatDialogRef<PictureSetDialog, boolean>>(MatDialogRef);
  protected readonly data = inject<PictureSetDialogData>(MAT_DIALOG_DATA);
  private readonly blanks = toSignal(inject(BlankShelf).all, { initialValue: [] as readonly ListedBlank[] });
  private readonly kept = signal<readonly PictureSet[]>([]);
  /** Changes that are not kept yet, by id. */
  private readonly drafts = signal<ReadonlyMap<string, PictureSetFields>>(
    new Map(this.data.begin ? [[NEW, this.data.begin]] : []),
  );
  protected readonly chosen = signal<string | null>(this.data.begin ? NEW : this.data.setId);
  protected readonly busy = signal(false);
  protected readonly sizes = PICTURE_SIZES.map((px) => ({ id: `${px}`, words: `${px} px` }));
  protected readonly formats = FORMAT_CHOICES;
  protected readonly mostColours = MOST_COLOURS;
  protected readonly cropWords = cropWords;
  protected readonly count = this.data.designs.length;
  protected readonly title =
    this.count === 1
      ? `Listing pictures of “${this.data.designs[0].name}”`
      : `Listing pictures of ${this.count} designs`;

  protected readonly sets = computed<readonly PictureSet[]>(() => {
    const begun = this.drafts().get(NEW);
    const kept = this.kept().map((set) => ({ ...set, ...this.drafts().get(set.id) }));
    return begun ? [...kept, { ...begun, id: NEW, revision: 0, shipped: false }] : kept;
  });
  protected readonly set = computed(() => this.sets().find((one) => one.id === this.chosen()) ?? null);
  protected readonly isDraft = computed(() => this.drafts().has(this.chosen() ?? ''));
  protected readonly wrong = computed(() => {
    const set = this.set();
    if (!set || !this.isDraft()) return null;
    if (!set.name.trim()) return 'Name the set.';
    if (set.shots.some((shot) => !shot.name.trim())) return 'Name each picture of the set.';
    return set.shots.length ? null : 'A set has at least one picture.';
  });

  constructor() {
    this.api.ask('get /api/picture-sets').subscribe({
      next: (sets) => this.kept.set(sets),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected picturesIn(set: PictureSetFields): string {
    const count = countOf(set, (id) => this.blanks().find((one) => one.id === id));
    return count === 1 ? '1 picture' : `${count} pictures`;
  }

  protected blankName(id: string): string {
    return this.blanks().find((one) => one.id === id)?.name ?? 'its blank is gone';
  }

  protected colourWords({ garment, colours }: Shot): string {
    const own = garment === undefined ? 'colours on sale' : 'its own colour first';
    return colours === 1 ? (garment === undefined ? 'the colour on sale' : 'its own colour') : own;
  }

  protected change(change: Partial<PictureSetFields>): void {
    const set = this.set();
    if (!set || set.shipped) return;
    const { id, revision: _revision, shipped: _shipped, ...fields } = set;
    this.drafts.update((drafts) => new Map(drafts).set(id, { ...fields, ...change }));
  }

  protected changeShot(at: number, change: Partial<Shot>): void {
    const set = this.set();
    if (set) this.change({ shots: set.shots.map((shot, i) => (i === at ? { ...shot, ...change } : shot)) });
  }

  protected removeShot(at: number): void {
    const set = this.set();
    if (set && set.shots.length > 1) this.change({ shots: set.shots.toSpliced(at, 1) });
  }

  protected moveShot(at: number, to: number): void {
    const set = this.set();
    if (!set || to < 0 || to >= set.shots.length) return;
    this.change({ shots: set.shots.toSpliced(at, 1).toSpliced(to, 0, set.shots[at]) });
  }

  protected setSize(value: string): void {
    this.change({ size: Number(value) });
  }

  protected setFormat(value: string): void {
    this.change({ format: value as PictureFormat });
  }

  /** A copy of the chosen set, to be changed. */
  protected copy(): void {
    const set = this.set();
    if (!set) return;
    const { id: _id, revision: _revision, shipped: _shipped, ...fields } = set;
    this.drafts.update((drafts) => new Map(drafts).set(NEW, { ...fields, name: `${fields.name}, mine` }));
    this.chosen.set(NEW);
  }

  protected remove(): void {
    const set = this.set();
    if (!set || set.shipped) return;
    const drop = (): void => {
      this.drafts.update((drafts) => new Map([...drafts].filter(([id]) => id !== set.id)));
      this.kept.update((sets) => sets.filter((one) => one.id !== set.id));
      this.chosen.set(null);
    };
    if (set.id === NEW) drop();
    else
      this.api.ask('delete /api/picture-sets/{id}', { id: set.id }).subscribe({
        next: () => {
          drop();
          const { id: _id, revision: _revision, shipped: _shipped, ...fields } = set;
          this.notices.say(`The set “${set.name}” is gone.`, {
            label: 'Bring it back',
            run: () => this.drafts.update((drafts) => new Map(drafts).set(NEW, fields)),
          });
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  /** Keeps what was changed in the chosen set. */
  private keep(): Observable<PictureSet> {
    const set = this.set();
    if (!set) return EMPTY;
    const fields = this.drafts().get(set.id);
    if (!fields) return of(set);
    const saved =
      set.id === NEW
        ? this.api.ask('post /api/picture-sets', { body: fields })
        : this.api.ask('put /api/picture-sets/{id}', { id: set.id, ifMatch: set.revision, body: fields });
    return saved.pipe(
      tap((one) => {
        this.drafts.update((drafts) => new Map([...drafts].filter(([id]) => id !== set.id)));
        this.kept.update((sets) =>
          sets.some((other) => other.id === one.id)
            ? sets.map((other) => (other.id === one.id ? one : other))
            : [...sets, one],
        );
        this.chosen.set(one.id);
      }),
    );
  }

  protected save(): void {
    if (this.wrong() || this.busy()) return;
    this.during(this.keep());
  }

  /** Gives the designs this set, and makes what they are missing of it. */
  protected use(make: boolean): void {
    if (this.wrong() || this.busy()) return;
    const { designs } = this.data;
    const ids = designs.map((one) => one.designId);
    this.during(
      this.keep().pipe(
        switchMap((set) => this.api.ask('post /api/picture-sets/use', { body: { designIds: ids, setId: set.id } })),
        switchMap(() =>
          make
            ? this.api.ask('post /api/picture-runs', {
                body: {
                  of: 'set',
                  designs: designs.map(({ designId, revision }) => ({ designId, ...(revision ? { revision } : {}) })),
                },
              })
            : of(null),
        ),
        tap(() => this.dialog.close(true)),
      ),
    );
  }

  protected letGo(): void {
    const ids = this.data.designs.map((one) => one.designId);
    this.during(
      this.api
        .ask('post /api/picture-sets/use', { body: { designIds: ids, setId: null } })
        .pipe(tap(() => this.dialog.close(true))),
    );
  }

  private during(work: Observable<unknown>): void {
    this.busy.set(true);
    work
      .pipe(
        catchError((error: unknown) => {
          this.notices.complain(error);
          return EMPTY;
        }),
      )
      .subscribe({ complete: () => this.busy.set(false) });
  }
}
