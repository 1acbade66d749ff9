import { open, rm, stat, statfs } from 'node:fs/promises';
import { join } from 'node:path';
import { ProblemError } from '../basics/problem-error.js';

/** Below this much free room, nothing large is taken in or made: designs can still be saved for a long time. */
const LOW_BYTES = 400 * 1024 * 1024;
/** Below this much, nothing is written at all, so that the database can end what it has begun. */
const FULL_BYTES = 100 * 1024 * 1024;
/** Room that is held back, and given to a database that cannot start for lack of it. */
const RESERVE_BYTES = 64 * 1024 * 1024;
const LOOK_MS = 3000;

export type DiskState = 'fine' | 'low' | 'full';

const megabytes = (bytes: number): string => `${Math.round(bytes / 1024 / 1024)} MB`;

/**
 * Watches the room on the disk that holds data and copies, so that a full disk is told before it comes and ends by
 * itself when there is room again.
 */
export class DiskGuard {
  private free = Infinity;
  private timer: NodeJS.Timeout | null = null;

  /**
   * @param folder on the disk that is watched
   * @param keepsReserve whether some room is held back here, which only helps who starts the database itself
   * @param freeBytes measures the room; tests give their own
   */
  constructor(
    private readonly folder: string,
    private readonly keepsReserve = false,
    private readonly freeBytes = async () => {
      const { bavail, bsize } = await statfs(folder);
      return bavail * bsize;
    },
  ) {}

  /** Looks now and every few seconds. */
  async start(): Promise<void> {
    await this.look();
    this.timer = setInterval(() => void this.look(), LOOK_MS);
    this.timer.unref();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  get state(): DiskState {
    return this.free < FULL_BYTES ? 'full' : this.free < LOW_BYTES ? 'low' : 'fine';
  }

  /** A sentence for the seller while there is little room, or null. */
  get notice(): string | null {
    switch (this.state) {
      case 'fine':
        return null;
      case 'low':
        return `Only ${megabytes(this.free)} are left on the disk. Designs are saved, but no artwork is taken in and no file is made until ${megabytes(LOW_BYTES)} are free.`;
      case 'full':
        return `The disk is full: ${megabytes(this.free)} are left. Nothing is saved until there is room; what is on this page stays on it and is saved by itself then.`;
    }
  }

  /**
   * @param large true for uploads and made files, which need more room than a change of a design @throws ProblemError
   * 507 with the notice
   */
  demandRoom(large: boolean): void {
    const { state } = this;
    if (state === 'full' || (large && state === 'low')) throw new ProblemError(507, 'disk-full', this.notice!);
  }

  async look(): Promise<void> {
    this.free = await this.freeBytes().catch(() => Infinity);
    if (this.keepsReserve && this.state === 'fine') await this.keepReserve();
  }

  /** Gives the reserve up, so that a database which ended for lack of room can start and end what it had begun. */
  async giveReserve(): Promise<void> {
    await this.look();
    if (this.state !== 'fine') await rm(this.reserve, { force: true });
  }

  private get reserve(): string {
    return join(this.folder, 'reserve');
  }

  private async keepReserve(): Promise<void> {
    if (
      await stat(this.reserve).then(
        ({ size }) => size === RESERVE_BYTES,
        () => false,
      )
    )
      return;
    try {
      const file = await open(this.reserve, 'w', 0o600);
      try {
        for (let at = 0; at < RESERVE_BYTES; at += 1 << 20) await file.write(Buffer.alloc(1 << 20));
      } finally {
        await file.close();
      }
    } catch {
      // No room for a reserve just now: the next look tries again.
    }
  }
}
