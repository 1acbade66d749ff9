import { isDatabaseAway } from '../floor/database/database.js';
import type { Log } from '../floor/basics/log.js';
import type { KeeperNote, KeeperStore } from './keeper-store.js';
import type { DiskDuty, Duty } from './duty.js';

/** How long after a start, and how often then, the keeper looks. */
const FIRST_MS = 60_000;
const LOOK_MS = 10 * 60_000;
/** Most calls of one duty in one round: what is left waits for the next, so that nobody else waits for the keeper. */
const MOST_CALLS = 200;

/**
 * Ends what nothing names any more, and says what it did. In the database one keeper is at work, however many
 * processes there are.
 */
export class Keeper {
  private timer: NodeJS.Timeout | null = null;
  private round: Promise<void> = Promise.resolve();
  private stopping = false;

  constructor(
    private readonly store: KeeperStore,
    private readonly duties: readonly Duty[],
    private readonly diskDuties: readonly DiskDuty[],
    private readonly log: Log,
  ) {}

  start(): void {
    const again = (after: number): void => {
      this.timer = setTimeout(() => {
        this.round = this.run()
          .catch(() => undefined)
          .finally(() => {
            if (!this.stopping) again(LOOK_MS);
          });
      }, after);
      this.timer.unref();
    };
    again(FIRST_MS);
  }

  async stop(): Promise<void> {
    this.stopping = true;
    if (this.timer) clearTimeout(this.timer);
    await this.round;
  }

  /** What was done lately, newest first. */
  notes(): Promise<KeeperNote[]> {
    return this.store.notes();
  }

  /** One round: the disk of this process, and the database if it is this process's turn. */
  async run(): Promise<void> {
    for (const duty of this.diskDuties) await this.onDisk(duty);
    if (!(await this.store.takeTurn(LOOK_MS / 2))) return;
    for (const duty of this.duties) {
      if (this.stopping) return;
      await this.inDatabase(duty);
    }
  }

  private async inDatabase(duty: Duty): Promise<void> {
    let ended = 0;
    try {
      for (let calls = 0; calls < MOST_CALLS && !this.stopping; calls++) {
        const some = await duty.run(this.store.database);
        ended += some;
        if (some < duty.atOnce) break;
      }
    } catch (error) {
      if (!isDatabaseAway(error)) this.log.error({ err: error, duty: duty.name }, 'the keeper could not do something');
    }
    if (!ended || duty.said(ended) === '') return;
    this.log.info({ event: 'kept', duty: duty.name, ended }, duty.said(ended));
    await this.store.note({ duty: duty.name, ended, sentence: duty.said(ended) });
  }

  private async onDisk(duty: DiskDuty): Promise<void> {
    const { ended, bytes } = await duty.run(Date.now());
    if (ended)
      this.log.info(
        { event: 'kept', duty: duty.name, ended, bytes },
        `${ended} files in ${duty.name} gave ${Math.round(bytes / 1e6)} MB back.`,
      );
  }
}
