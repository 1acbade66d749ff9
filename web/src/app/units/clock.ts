/** The seller's own clock: every time on the page is said in it, and no other. */
const TIME = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' });
const EXACT = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit', second: '2-digit' });
const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
const DATE = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** A moment with its seconds, `08:24:07`. */
export const exactTime = (at: string): string => EXACT.format(new Date(at));

/** A day, `1 Dec 2026`. */
export const dateText = (at: string): string => DATE.format(new Date(at));

/** A moment, `1 Dec 2026, 08:24`. */
export const momentText = (at: string): string => `${dateText(at)}, ${TIME.format(new Date(at))}`;

/** A moment of the last days, `today 08:24` or `1 Dec`. */
export const latelyText = (at: string, now = new Date()): string => {
  const date = new Date(at);
  return date.toDateString() === now.toDateString() ? `today ${TIME.format(date)}` : DAY.format(date);
};

/** A moment to the second, as steps of one sitting are told apart: `1 Dec, 08:24:07`. */
export const stepText = (at: string): string => `${DAY.format(new Date(at))}, ${exactTime(at)}`;

/** Today's date, as names of things carry it: `2026-12-01`. */
export const todayKey = (now = new Date()): string =>
  [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((part) => String(part).padStart(2, '0')).join('-');

/** Beginning of the day some days ago. @param now ms @returns ms */
export function dayBefore(now: number, days: number): number {
  const date = new Date(now);
  return new Date(date.getFullYear(), date.getMonth(), date.getDate() - days).getTime();
}
