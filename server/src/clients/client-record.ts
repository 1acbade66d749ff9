import type { ClientWord } from '@kettle/contract';
import type { Paper, PaperBlock } from '../render/press/paper.js';
import type { StoredClientPage } from './client-page-store.js';
import { approvalOf } from './client-approval.js';

const WHAT: Readonly<Record<ClientWord['kind'], string>> = {
  comment: 'commented',
  change: 'asked for a change',
  approval: 'said yes',
  answer: 'answered',
};
/** Most pictures of one alternative on paper. */
const MOST_PICTURES = 6;

const at = (time: string): string => `${time.slice(0, 10)} ${time.slice(11, 16)} UTC`;

/** Everything of a client's page on paper: what was shown in each round, what was said, and exactly what was approved. */
export function recordOf(page: StoredClientPage, changedSince: boolean): Paper {
  const approval = approvalOf(page);
  const blocks: PaperBlock[] = [];
  const say = (kind: 'heading' | 'text' | 'quiet', text: string): void => void blocks.push({ kind, text });
  if (approval?.approved) {
    const { name, revision, print, files } = approval.approved;
    say('heading', 'What was approved');
    say('text', `${approval.name} said yes to ${name}, revision ${revision}, on ${at(approval.saidAt)}.`);
    if (changedSince) say('text', 'The design has changed since: it is no longer what was approved.');
    say('quiet', `SHA-256 of all that would be printed: ${print}`);
    for (const file of files) say('quiet', `${file.name}: SHA-256 ${file.sha256}`);
  } else say('text', 'Nothing is approved as yet.');
  for (const { round, shownAt, note, alternatives } of page.rounds) {
    say('heading', `Round ${round}, shown on ${at(shownAt)}`);
    if (note) say('text', note);
    for (const { name, revision, sizes, pictures } of alternatives) {
      say('text', `${name}, revision ${revision}`);
      for (const { product, widthCm, heightCm } of sizes)
        blocks.push({ kind: 'row', cells: [product, `${widthCm} × ${heightCm} cm`] });
      blocks.push({ kind: 'pictures', of: pictures.slice(0, MOST_PICTURES).map(({ sha256 }) => sha256) });
    }
    for (const word of page.words.filter((one) => one.round === round)) {
      const pin = word.pin ? ` about a place on picture ${word.pin.picture + 1}` : '';
      say('quiet', `${word.name} ${WHAT[word.kind]}${pin}, ${at(word.saidAt)}`);
      if (word.text) say('text', word.text);
    }
  }
  return {
    title: `${page.seller}: record for ${page.client}`,
    under: `Page made on ${at(page.madeAt.toISOString())}${page.withdrawnAt ? `, closed on ${at(page.withdrawnAt.toISOString())}` : ''}`,
    blocks,
    at: page.words.at(-1)?.saidAt ?? page.rounds.at(-1)!.shownAt,
  };
}
