import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { MatButtonModule } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { MatIconModule } from '@angular/material/icon';
import type { ChosenTargets, PackageDetail, PackageRequest } from '@kettle/contract';
import { formatBytes } from '@kettle/core/units';
import type { Requirement } from '@kettle/core/model';
import { nameBy, NAME_TOKENS, refusePattern, USUAL_PATTERN } from '@kettle/core/naming';
import { firstValueFrom, of, switchMap, type Observable } from 'rxjs';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import { ChipRow, chip } from '../units/chips';
import { Settings, check, pick, text, type Setting } from '../units/settings';
import { canWriteFolders, writeToFolder } from './write-to-folder';
import { dateText, todayKey } from '../units/clock';

export interface PackageDialogData {
  readonly targets: readonly ChosenTargets[];
  /** What the pattern of names is shown with. */
  readonly example: { readonly design: string; readonly requirement: Requirement } | null;
}

const FOLDERS: readonly { readonly id: PackageRequest['folders']; readonly words: string }[] = [
  { id: 'channel', words: 'A folder for each channel' },
  { id: 'design', words: 'A folder for each design' },
  { id: 'none', words: 'No folders' },
];

/** Packs files: how they are named and sorted, what is in it and what is not, and where it goes. */
@Component({
  selector: 'ks-package-dialog',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [ChipRow, Settings, MatButtonModule, MatDialogModule, MatIconModule],
  templateUrl: './package-dialog.html',
  styleUrl: './package-dialog.scss',
})
export class PackageDialog {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly data = inject<PackageDialogData>(MAT_DIALOG_DATA);
  protected readonly formatBytes = formatBytes;
  protected readonly canWriteFolders = canWriteFolders();
  protected readonly dateText = dateText;
  private readonly name = signal(`Print files ${todayKey()}`);
  private readonly folders = signal<PackageRequest['folders']>('channel');
  private readonly changedOnly = signal(false);
  private readonly pictures = signal(false);
  protected readonly pattern = signal(USUAL_PATTERN);
  private readonly kept = signal(USUAL_PATTERN);
  protected readonly busy = signal(false);
  protected readonly packed = signal<PackageDetail | null>(null);
  protected readonly written = signal<number | null>(null);
  protected readonly before = toSignal(this.api.ask('get /api/packages'), { initialValue: [] });

  protected readonly wrong = computed(() => refusePattern(this.pattern()));
  protected readonly examples = computed(() => {
    const { example } = this.data;
    if (!example || this.wrong()) return [];
    // A pattern that does not tell versions names both alike.
    return [
      ...new Set(([null, 'dark'] as const).map((version) => nameBy(this.pattern(), { ...example, version }, 'png'))),
    ];
  });

  constructor() {
    this.api.ask('get /api/naming').subscribe({
      next: ({ pattern }) => {
        this.pattern.set(pattern);
        this.kept.set(pattern);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  protected readonly fields = computed<readonly Setting[]>(() => [
    text('Name', this.name(), { most: 120, live: true, set: (name) => this.name.set(name) }),
    pick('Sorted into', this.folders(), { of: FOLDERS, set: (id) => this.setFolders(id) }),
    check('Only what no earlier package held', this.changedOnly(), (only) => this.changedOnly.set(only)),
    check('Listing pictures too', this.pictures(), (too) => this.pictures.set(too)),
    text('Files are named', this.pattern(), {
      most: 200,
      live: true,
      wrong: this.wrong() !== null,
      set: (pattern) => this.pattern.set(pattern),
    }),
  ]);
  /** What stands for something in names of files. */
  protected readonly tokens = computed(() => [
    ...NAME_TOKENS.map(({ token, means }) => chip(token, () => this.addToken(token), { title: means })),
    this.pattern() !== USUAL_PATTERN && chip('as usual', () => this.pattern.set(USUAL_PATTERN)),
  ]);

  private addToken(token: string): void {
    this.pattern.update((pattern) => `${pattern}${/[-_. ]$/.test(pattern) || !pattern ? '' : '-'}{${token}}`);
  }

  private setFolders(value: string): void {
    this.folders.set(FOLDERS.find((one) => one.id === value)?.id ?? 'channel');
  }

  protected pack(): void {
    if (this.wrong() || this.busy()) return;
    this.busy.set(true);
    const naming: Observable<unknown> =
      this.pattern() === this.kept()
        ? of(null)
        : this.api.ask('put /api/naming', { body: { pattern: this.pattern() } });
    naming
      .pipe(
        switchMap(() =>
          this.api.ask('post /api/packages', {
            body: {
              name: this.name().trim() || 'Print files',
              folders: this.folders(),
              changedOnly: this.changedOnly(),
              ...(this.pictures() ? { pictures: true } : {}),
              targets: this.data.targets,
            },
          }),
        ),
      )
      .subscribe({
        next: (packed) => {
          this.busy.set(false);
          this.kept.set(this.pattern());
          this.packed.set(packed);
        },
        error: (error: unknown) => {
          this.busy.set(false);
          this.notices.complain(error);
        },
      });
  }

  /** Looks at a package that was made before. */
  protected lookAt(id: string): void {
    this.api.ask('get /api/packages/{id}', { id }).subscribe({
      next: (packed) => this.packed.set(packed),
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** Writes the files straight into a folder of the seller's. */
  protected async intoFolder(packed: PackageDetail): Promise<void> {
    this.written.set(0);
    try {
      const count = await writeToFolder(
        () => firstValueFrom(this.api.bytes('get /api/packages/{id}/content', { id: packed.id })),
        (done) => this.written.set(done),
      );
      if (count !== null) this.notices.say(`${count} files are in the folder, each compared with its hash.`);
    } catch (error) {
      this.notices.complain(error instanceof Error ? error.message : error);
    } finally {
      this.written.set(null);
    }
  }
}
