import type { Interest, PrintRun } from '@kettle/contract';

/** Somebody who wants so many, noted on a day of November. */
export const interest = (copies: number, day: number): Interest => ({
  id: String(day),
  name: 'Ada',
  contact: '',
  size: 'M',
  colour: 'Chalk',
  copies,
  deposit: 0,
  source: 'typed',
  notedAt: `2026-11-0${day}T10:00:00.000Z`,
  deliveredAt: null,
  erased: false,
});
/** Orders in hand, open. */
export const openRun: PrintRun = {
  id: 'r',
  designId: 'd',
  designName: 'Fog',
  savedRevision: 1,
  state: 'open',
  path: null,
  madeAt: '2026-11-01T10:00:00.000Z',
  orderedAt: null,
  ordered: null,
  name: 'Fog',
  requirementId: 'tee',
  shopId: 's',
  position: 'Chest',
  currency: 'GBP',
  price: 1800,
  worthFrom: 12,
  sizes: ['M'],
  colours: [{ name: 'Chalk', hex: '#F5F3EE' }],
  note: '',
  interests: [interest(3, 1), interest(4, 2)],
};
