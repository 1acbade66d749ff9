/** How ink comes onto the product. */
export type PrintProcess = 'direct' | 'transfer' | 'sublimation' | 'screen' | 'paper';

export const PRINT_PROCESSES: readonly PrintProcess[] = ['direct', 'transfer', 'sublimation', 'screen', 'paper'];

export const PROCESS_WORDS: Readonly<Record<PrintProcess, string>> = {
  direct: 'direct to garment',
  transfer: 'transfer',
  sublimation: 'sublimation',
  screen: 'screen film',
  paper: 'paper',
};

/** What a process can hold. Null stands for no limit. */
export interface PressLimits {
  /** Thinnest line, mm. */
  readonly lineMm: number | null;
  /** Least height of letters, mm. */
  readonly letterMm: number | null;
  /** Least width of a dot of ink or a hole in it, mm. */
  readonly speckMm: number | null;
  /** Widest stretch of semi-transparent ink, mm: glow, smoke, long fades. */
  readonly fadeMm: number | null;
  /** Most ink on one spot, percent of one full ink: 400 is all four. */
  readonly coverage: number | null;
}

export const NO_LIMITS: PressLimits = { lineMm: null, letterMm: null, speckMm: null, fadeMm: null, coverage: null };

/**
 * Usual limits of each process. They are sensible starts, between what careful shops ask for and what machines can do;
 * a shop that says otherwise is right, and its requirement carries its own.
 */
export const PROCESS_LIMITS: Readonly<Record<PrintProcess, PressLimits>> = {
  direct: { lineMm: 0.35, letterMm: 2, speckMm: 0.5, fadeMm: 6, coverage: null },
  transfer: { lineMm: 0.5, letterMm: 2.5, speckMm: 0.8, fadeMm: 4, coverage: null },
  sublimation: { lineMm: 0.25, letterMm: 1.5, speckMm: 0.3, fadeMm: null, coverage: 320 },
  screen: { lineMm: 0.4, letterMm: 2.5, speckMm: 0.6, fadeMm: 2, coverage: null },
  paper: { lineMm: 0.1, letterMm: 1.2, speckMm: 0.15, fadeMm: null, coverage: 300 },
};
