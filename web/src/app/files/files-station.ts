import { DOCUMENT } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import { RouterLink } from '@angular/router';
import type { PrintFile } from '@kettle/contract';
import { formatBytes } from '@kettle/core/units';
import { fileKind, fileTypeFor, tiffBytes } from '@kettle/core/requirement';
import { versionWord } from '@kettle/core/document';
import { isAllOutlines } from '@kettle/core/recipes';
import { CANNOT_MAKE } from '@kettle/core/checks';
import { filter, finalize, first, merge, switchMap, timer } from 'rxjs';
import { Editor, type EditorTarget } from '../editor/editor';
import { TargetPicture } from '../editor/target-picture';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { FailureList } from '../jobs/failure-list';
import { JobFeed } from '../jobs/job-feed';
import { StateMark } from '../parts/state-mark';
import { momentText } from '../units/clock';

/** Print files: made, read back, certified and downloaded. */
@Component({
  selector: 'ks-files-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, RouterLink, FailureList, StateMark, TargetPicture],
  templateUrl: './files-station.html',
  styleUrl: './files-station.scss',
})
export class FilesStation {
  protected readonly editor = inject(Editor);
  protected readonly feed = inject(JobFeed);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly assets = inject(AssetShelf);
  private readonly window = inject(DOCUMENT).defaultView!;
  /** True from a press until the server has heard it. */
  protected readonly asking = signal(false);
  protected readonly isBusy = computed(() => this.asking() || this.jobs().length > 0);
  protected readonly sheetComing = signal(false);
  protected readonly formatBytes = formatBytes;
  protected readonly versionWord = versionWord;
  /** Row of the certificate whose reason is open. */
  protected readonly explained = signal<string | null>(null);
  protected readonly jobs = computed(() => this.feed.runningFor(this.editor.desk.id(), 'print-files'));
  protected readonly makeable = computed(() => this.editor.targets().filter((one) => !this.hindrance(one)));
  protected readonly missing = computed(() =>
    this.makeable().filter((one) => ['not-made', 'out-of-date'].includes(this.editor.stateOf(one))),
  );
  protected readonly momentText = momentText;
  protected readonly file = computed(() => {
    const current = this.editor.current();
    return current ? this.fileOf(current) : undefined;
  });

  /** What is so when there is nothing to make. */
  protected readonly standing = computed(() => {
    const targets = this.editor.targets();
    const ready = targets.filter((one) => this.editor.stateOf(one) === 'ready').length;
    if (!targets.length) return 'No target yet';
    return ready === targets.length
      ? ready === 1
        ? 'The print file is made'
        : 'All print files are made'
      : ready
        ? `${ready} of ${targets.length} made; the others need work first`
        : 'Nothing can be made yet';
  });
  protected readonly hindered = computed(() =>
    this.editor.targets().some((one) => this.editor.stateOf(one) !== 'ready'),
  );

  /** The newest file of a target, current or not. */
  protected fileOf(one: EditorTarget): PrintFile | undefined {
    const files = this.editor.printFiles().filter((file) => file.requirementId === one.requirement.id);
    return (
      files.find((file) => file.standsFor.includes(one.cloth)) ??
      files.find((file) => file.version === one.cloth) ??
      files[0]
    );
  }

  /** Why no file can be made, if so. */
  protected hindrance(one: EditorTarget): string | null {
    return one.findings.find((finding) => CANNOT_MAKE.includes(finding.code))?.sentence ?? null;
  }

  protected make(targets: readonly EditorTarget[]): void {
    const id = this.editor.desk.id();
    if (!id || !targets.length) return;
    this.asking.set(true);
    this.editor.desk
      .whenSaved()
      .pipe(
        switchMap((revision) =>
          this.api.ask('post /api/designs/{id}/print-files', {
            id,
            body: { requirementIds: [...new Set(targets.map((one) => one.requirement.id))], revision },
          }),
        ),
        finalize(() => this.asking.set(false)),
      )
      .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }

  /** What kind of file is made, and what is known of its size before. */
  protected kindOf(one: EditorTarget): { readonly words: string; readonly advice: string } | null {
    const { requirement, layout, design } = one;
    const type = fileTypeFor(requirement, isAllOutlines(design.layers, this.assets.facts()));
    if (!type) return null;
    const { words, advice, clear } = fileKind(type);
    if (type !== 'tiff') return { words, advice };
    const alpha = requirement.transparency !== 'forbidden' && clear.includes(requirement.mode);
    const most = formatBytes(tiffBytes(layout.canvas.widthPx, layout.canvas.heightPx, requirement.mode, alpha));
    return {
      words: `${words}, ${requirement.mode === 'rgb' ? 'RGB' : requirement.mode === 'cmyk' ? 'CMYK' : 'grey'}`,
      advice: requirement.packing === 'none' ? `It will have ${most}.` : `It will have at most ${most}.`,
    };
  }

  /** Makes a proof sheet of a target, and hands it over as soon as it is there. */
  protected proofSheet(one: EditorTarget): void {
    const id = this.editor.desk.id();
    if (!id || this.sheetComing()) return;
    this.sheetComing.set(true);
    this.editor.desk
      .whenSaved()
      .pipe(
        switchMap((revision) =>
          this.api.ask('post /api/designs/{id}/proof-sheets', {
            id,
            body: { revision, requirementId: one.requirement.id, version: one.cloth },
          }),
        ),
        switchMap(({ jobId }) =>
          merge(
            this.feed.changes.pipe(filter((job) => job.id === jobId)),
            timer(1500, 1500).pipe(switchMap(() => this.api.ask('get /api/jobs/{id}', { id: jobId }))),
          ).pipe(
            first((job) => ['done', 'failed', 'cancelled'].includes(job.state)),
            switchMap(() => this.api.ask('get /api/jobs/{id}', { id: jobId })),
          ),
        ),
        finalize(() => this.sheetComing.set(false)),
      )
      .subscribe({
        next: ({ results }) => {
          if (results[0]) this.window.location.assign(`/api/outputs/${results[0].id}/content`);
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }

  protected isStale(file: PrintFile): boolean {
    const current = this.editor.current();
    return !current || !file.standsFor.includes(current.cloth) || this.editor.desk.state() !== 'saved';
  }
}
