import type { ClientWord } from '@kettle/contract';
import type { StoredClientPage } from './client-page-store.js';

/** True while a page can be looked at. */
export const isOpenPage = ({ withdrawnAt, expiresAt }: Pick<StoredClientPage, 'withdrawnAt' | 'expiresAt'>): boolean =>
  withdrawnAt === null && (expiresAt === null || expiresAt.getTime() > Date.now());

/** The yes that stands: the last one of the newest round, unless a change was asked for after it. */
export function approvalOf({ rounds, words }: Pick<StoredClientPage, 'rounds' | 'words'>): ClientWord | null {
  const { round } = rounds.at(-1)!;
  const last = words.findLast((word) => word.round === round && ['approval', 'change'].includes(word.kind));
  return last?.kind === 'approval' ? last : null;
}
