import { guestWordSchema, type ClientWord, type GuestWord } from '@kettle/contract';
import { randomUUID } from 'node:crypto';
import { Router, urlencoded, type Request, type Response } from 'express';
import { ValidationError } from 'yup';
import { sendFile } from '../floor/http/handler.js';
import { holds } from '../floor/safety/secrets.js';
import type { Floor } from '../floor/floor.js';
import type { ClientRoom } from './room.js';
import { approvalOf, isOpenPage } from './client-approval.js';
import type { StoredClientPage } from './client-page-store.js';
import { isLetIn, letIn, type guestGuards } from '../floor/http/guest-guards.js';
import { dayText, guestPage, momentText } from '../floor/http/guest-page.js';

const WHAT: Readonly<Record<ClientWord['kind'], string>> = {
  comment: 'said',
  change: 'asked for a change',
  approval: 'said yes',
  answer: 'answered',
};
/** Longest form, bytes: a comment of its longest in any script, many times over. */
const MOST_FORM = '64kb';
const TOLD = {
  sent: 'Thank you, that was sent.',
  yes: 'Thank you. Your yes is written down.',
} as const;

const NOTHING = guestPage('message', {
  title: 'There is nothing here',
  sentence: 'Perhaps the link was not copied whole. Ask whoever sent it to you.',
});

/** The client's page, in front of the gate: whoever has the link sees what it was given out for, and nothing else. */
export function clientRoutes(
  { clientPages, blobs }: Pick<Floor, 'blobs'> & ClientRoom,
  { say }: ReturnType<typeof guestGuards>,
): Router {
  const router = Router();
  const form = urlencoded({ extended: false, limit: MOST_FORM, parameterLimit: 20 });

  /** The open page under the link, or null when something else was answered. */
  async function opened(request: Request, response: Response): Promise<StoredClientPage | null> {
    const token = String(request.params['token']);
    const page = await clientPages.byLink(token);
    const answer = (status: number, html: string): null => {
      response.status(status).type('html').send(html);
      return null;
    };
    if (!page) return answer(404, NOTHING);
    if (!isOpenPage(page))
      return answer(
        410,
        guestPage('message', {
          title: 'This page is closed',
          sentence: `${page.seller} has closed it. Ask them if you would like to see it again; what you said is kept.`,
        }),
      );
    if (page.pass && !isLetIn(request, token, page.pass))
      return answer(
        401,
        guestPage('pass', { title: 'A page for you', seller: page.seller, action: `/c/${token}/open` }),
      );
    return page;
  }

  router.get('/:token', async (request, response) => {
    const page = await opened(request, response);
    const told = TOLD[request.query['told'] as keyof typeof TOLD];
    if (page) response.type('html').send(html(page, await clientPages.changedSince(page), { told }));
  });

  router.post('/:token/open', form, async (request, response) => {
    const token = String(request.params['token']);
    const page = await clientPages.byLink(token);
    const words = String((request.body as Record<string, unknown> | undefined)?.['words'] ?? '');
    if (!page) {
      response.status(404).type('html').send(NOTHING);
      return;
    }
    if (page.pass && !(await holds(words.slice(0, 200), page.pass))) {
      const wrong = 'That was not the pass phrase.';
      response
        .status(403)
        .type('html')
        .send(guestPage('pass', { title: 'A page for you', seller: page.seller, action: `/c/${token}/open`, wrong }));
      return;
    }
    if (page.pass) letIn(request, response, `/c/${token}`, token, page.pass);
    response.redirect(303, `/c/${token}`);
  });

  router.get('/:token/files/:sha', async (request, response) => {
    const page = await opened(request, response);
    if (!page) return;
    const { sha } = request.params;
    const file = page.rounds
      .flatMap(({ alternatives }) =>
        alternatives.flatMap(({ pictures, clip }) => [...pictures, ...(clip ? [clip] : [])]),
      )
      .find(({ sha256 }) => sha256 === sha);
    if (!file) {
      response.status(404).end();
      return;
    }
    sendFile(response, await blobs.localPath(file.sha256), { type: file.mediaType, tag: file.sha256 });
  });

  router.post('/:token/words', say, form, async (request, response) => {
    const page = await opened(request, response);
    if (!page) return;
    let word: GuestWord;
    try {
      word = await guestWordSchema.validate(request.body ?? {}, { stripUnknown: true });
    } catch (error) {
      if (!(error instanceof ValidationError)) throw error;
      response
        .status(422)
        .type('html')
        .send(
          html(page, await clientPages.changedSince(page), { wrong: error.message, written: request.body as Written }),
        );
      return;
    }
    await clientPages.guestSays(page, word);
    response.redirect(303, `/c/${page.token}?told=${word.kind === 'approval' ? 'yes' : 'sent'}#said`);
  });
  return router;
}

/** What was in the form when it was refused. */
type Written = Readonly<Partial<Record<'name' | 'text', unknown>>>;

function html(
  page: StoredClientPage,
  changedSince: boolean,
  { told, wrong, written = {} }: { told?: string; wrong?: string; written?: Written },
): string {
  const { token, seller, client, rounds, words } = page;
  const { round, alternatives, note } = rounds.at(-1)!;
  const approval = approvalOf(page);
  const src = (sha256: string): string => `/c/${token}/files/${sha256}`;
  const textOf = (value: unknown): string => (typeof value === 'string' ? value : '');
  return guestPage('client', {
    title: alternatives.length === 1 ? alternatives[0].name : 'Which one shall it be?',
    seller,
    client,
    note,
    told,
    wrong,
    round,
    until: page.expiresAt && dayText(page.expiresAt),
    changedSince,
    approved: approval && { name: approval.approved!.name, at: dayText(approval.saidAt) },
    several: alternatives.length > 1,
    action: `/c/${token}/words`,
    form: randomUUID(),
    saidBy: textOf(written.name) || (words.findLast((word) => !word.bySeller)?.name ?? ''),
    written: textOf(written.text),
    alternatives: alternatives.map(({ name, pictures, clip, sizes }, i) => ({
      name,
      sizes,
      clip: clip && { src: src(clip.sha256) },
      picked: approval?.alternative === i,
      pictures: pictures.map(({ sha256, alt }, at) => ({
        src: src(sha256),
        alt,
        number: at + 1,
        pins: words
          .filter((word) => word.round === round && word.alternative === i && word.pin?.picture === at)
          .map(({ pin }) => ({ x: pin!.x * 100, y: pin!.y * 100 })),
      })),
    })),
    words: words.map((word) => ({
      name: word.name,
      bySeller: word.bySeller,
      text: word.text,
      what: `${WHAT[word.kind]}${word.pin ? ` of a place on picture ${word.pin.picture + 1}` : ''}`,
      at: momentText(word.saidAt),
    })),
  });
}
