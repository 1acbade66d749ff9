import pino, { type Logger } from 'pino';

export type Log = Logger;

/**
 * Structured lines, one JSON object each: time, level, what happened, and for a request its number, caller, duration
 * and cause.
 * @param target path of a file, or null for standard output
 */
export function openLog(target: string | null, level = 'info'): Log {
  return pino(
    {
      level,
      base: undefined,
      timestamp: pino.stdTimeFunctions.isoTime,
      formatters: { level: (label) => ({ level: label }) },
    },
    target === null ? pino.destination(1) : pino.destination({ dest: target, mkdir: true, sync: false, mode: 0o600 }),
  );
}

/** A log that keeps nothing, for tests and tools. */
export const silentLog: Log = pino({ level: 'silent' });
