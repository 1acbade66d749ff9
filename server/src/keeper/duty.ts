import type { Database } from '../floor/database/database.js';

/**
 * Something the keeper ends in the database. It takes a bounded number at a time, and never what something still
 * names.
 */
export interface Duty {
  readonly name: string;
  /** Ends some and answers how many; it is called again while there may be more. */
  run(database: Database): Promise<number>;
  /** Most that one call ends: fewer mean that all is done. */
  readonly atOnce: number;
  /** What was done, for who runs the server. */
  said(ended: number): string;
}

/** Something the keeper ends on a process's own disk. */
export interface DiskDuty {
  readonly name: string;
  run(now: number): Promise<{ readonly ended: number; readonly bytes: number }>;
}
