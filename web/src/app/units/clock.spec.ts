import { dateText, dayBefore, exactTime, latelyText, momentText, stepText, todayKey } from './clock';

describe('times on the page', () => {
  // A moment as the clock on this wall shows it, whatever zone that hangs in.
  const at = (...parts: [number, number, number, number, number, number]) => new Date(...parts).toISOString();

  it('are said by one clock', () => {
    const moment = at(2026, 11, 1, 0, 5, 9);
    expect([exactTime(moment), dateText(moment), momentText(moment), stepText(moment)]).toEqual([
      '00:05:09',
      '1 Dec 2026',
      '1 Dec 2026, 00:05',
      '1 Dec, 00:05:09',
    ]);
  });

  it('know that today becomes yesterday at midnight', () => {
    const saved = at(2026, 11, 1, 23, 58, 0);
    expect(latelyText(saved, new Date(2026, 11, 1, 23, 59))).toBe('today 23:58');
    expect(latelyText(saved, new Date(2026, 11, 2, 0, 1))).toBe('1 Dec');
    expect(todayKey(new Date(2026, 11, 2, 0, 1))).toBe('2026-12-02');
    expect(todayKey(new Date(2026, 11, 2, 23, 59))).toBe('2026-12-02');
    // Since yesterday is since its beginning, not since this time of day.
    expect(dayBefore(new Date(2026, 11, 2, 23, 0).getTime(), 1)).toBe(new Date(2026, 11, 1).getTime());
  });
});
