import type { ListingCheck, Publication, PublicationState } from '@kettle/contract';
import type { StandsAs } from '../parts/standing';

/** States of a listing on a market, in words and icons. */
const PUBLICATION_WORDS: Readonly<Record<PublicationState, Omit<StandsAs, 'mark'>>> = {
  waiting: { words: 'waits to be sent', icon: 'clock' },
  sending: { words: 'is being sent', icon: 'upload' },
  checking: { words: 'sent, they look at it', icon: 'clock' },
  draft: { words: 'a draft there', icon: 'file-check' },
  live: { words: 'live', icon: 'check' },
  'sold-out': { words: 'sold out', icon: 'minus' },
  refused: { words: 'refused', icon: 'x' },
  failed: { words: 'not sent', icon: 'alert-triangle' },
  'taking-down': { words: 'is being taken down', icon: 'clock' },
  down: { words: 'taken down', icon: 'minus' },
};

/** How a listing stands on a market. */
export const standingOf = (state: PublicationState): StandsAs => ({ ...PUBLICATION_WORDS[state], mark: state });

/** How often a market's own answer is looked for, ms. */
export const LOOK_MS = 2000;

/** True while a step speaks to its market. */
export const isUnderWay = (publication: Publication | null): boolean =>
  ['waiting', 'sending', 'taking-down'].includes(publication?.state ?? '');

/** True while a market has still to be heard of. */
export const isAwaited = (publication: Publication | null): boolean =>
  isUnderWay(publication) || publication?.state === 'checking';

/** Things to mend before a channel would take a listing. */
export const toMend = ({ broken, missing }: ListingCheck): number => broken.length + missing.length;

/** True where a listing would be taken, and is not there as it stands already. */
export const mayBeSent = (check: ListingCheck): boolean =>
  check.connected &&
  toMend(check) === 0 &&
  !isUnderWay(check.publication) &&
  !(check.publication?.state === 'live' && !check.changed.length);
