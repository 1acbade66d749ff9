import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { MatIconModule } from '@angular/material/icon';
import type { PrintFile } from '@kettle/contract';
import { CANNOT_MAKE, formatBytes, versionWord } from '@kettle/core';
import { switchMap } from 'rxjs';
import { Bench, type BenchTarget } from '../bench/bench';
import { TargetPicture } from '../bench/target-picture';
import { Api } from '../data/api';
import { Notices } from '../data/notices';
import { JobFeed } from '../jobs/job-feed';
import { StateMark } from '../sheet/state-mark';

/** Print files: made, read back, certified and downloaded. */
@Component({
  selector: 'ks-files-station',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [MatButtonModule, MatIconModule, StateMark, TargetPicture],
  templateUrl: './files-station.html',
  styleUrl: './files-station.scss',
})
export class FilesStation {
  protected readonly bench = inject(Bench);
  protected readonly feed = inject(JobFeed);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  protected readonly formatBytes = formatBytes;
  protected readonly versionWord = versionWord;
  /** Row of the certificate whose reason is open. */
  protected readonly explained = signal<string | null>(null);
  protected readonly jobs = computed(() => this.feed.runningFor(this.bench.desk.id(), 'print-files'));
  protected readonly makeable = computed(() => this.bench.targets().filter((one) => !this.hindrance(one)));
  protected readonly missing = computed(() =>
    this.makeable().filter((one) => ['not-made', 'out-of-date'].includes(this.bench.stateOf(one))),
  );
  protected readonly file = computed(() => {
    const current = this.bench.current();
    return current ? this.fileOf(current) : undefined;
  });

  /** What is so when there is nothing to make. */
  protected readonly standing = computed(() => {
    const targets = this.bench.targets();
    const ready = targets.filter((one) => this.bench.stateOf(one) === 'ready').length;
    if (!targets.length) return 'No target yet';
    return ready === targets.length
      ? ready === 1
        ? 'The print file is made'
        : 'All print files are made'
      : ready
        ? `${ready} of ${targets.length} made; the others need work first`
        : 'Nothing can be made yet: see what stands in the way';
  });

  /** The newest file of a target, current or not. */
  protected fileOf(one: BenchTarget): PrintFile | undefined {
    const files = this.bench.printFiles().filter((file) => file.requirementId === one.requirement.id);
    return (
      files.find((file) => file.standsFor.includes(one.cloth)) ??
      files.find((file) => file.version === one.cloth) ??
      files[0]
    );
  }

  /** Why no file can be made, if so. */
  protected hindrance(one: BenchTarget): string | null {
    return one.findings.find((finding) => CANNOT_MAKE.includes(finding.code))?.sentence ?? null;
  }

  protected make(targets: readonly BenchTarget[]): void {
    const id = this.bench.desk.id();
    if (!id || !targets.length) return;
    this.bench.desk
      .whenSaved()
      .pipe(
        switchMap((revision) =>
          this.api.makePrintFiles(id, revision, [...new Set(targets.map((one) => one.requirement.id))]),
        ),
      )
      .subscribe({ error: (error: unknown) => this.notices.complain(error) });
  }

  protected isStale(file: PrintFile): boolean {
    const current = this.bench.current();
    return !current || !file.standsFor.includes(current.cloth) || this.bench.desk.state() !== 'saved';
  }
}
