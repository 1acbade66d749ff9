import type { WantedFile } from './market.js';
import { strange, textOr, type Reply } from '../../floor/outside/line.js';
import { reasonsOf, type Market } from './market.js';

/**
 * A market that first gives a ticket, takes files one by one, then a commit, and answers later by a call of its own
 * (`answers.ts`).
 */
export const TICKET: Market = {
  async publish({ listing, key, hash, remoteId, bytesOf, progress }, line) {
    const { title, description, tags, currency, products, pictures, clip } = listing;
    const files = new Map<string, WantedFile>();
    for (const file of [...pictures, ...(clip ? [clip] : []), ...products.flatMap((one) => one.files)])
      files.set(file.sha256, file);
    const reference = `${key}-${hash.slice(0, 16)}`;
    const asked = await line.call({
      method: 'POST',
      path: '/tickets',
      about: remoteId ? 'asks for a ticket to change the listing' : 'asks for a ticket',
      key: reference,
      json: {
        reference: key,
        replaces: remoteId,
        hold: listing.draft ?? false,
        text: { title, description, tags },
        currency,
        offers: products.map(({ name, product, price, colours, files: own }) => ({
          name,
          product,
          price,
          colours: colours.map((one) => one.name),
          files: own.map((file) => file.sha256),
        })),
        pictures: pictures.map((file) => file.sha256),
        clip: clip?.sha256 ?? null,
        pieces: [...files.values()].map(({ filename: name, mediaType: type, sha256, bytes }) => ({
          name,
          type,
          sha256,
          bytes,
        })),
      },
    });
    if (asked.status === 422) return refused(asked, remoteId);
    const ticket = textOr(asked.body['ticket'], null);
    if (asked.status >= 300 || !ticket) throw strange(asked.status);
    // What an earlier try has handed in already is not asked for again.
    const missing = ((asked.body['missing'] as unknown[]) ?? []).filter((one) => typeof one === 'string');
    for (const [i, sha256] of missing.entries()) {
      const file = files.get(sha256);
      if (!file) throw strange(asked.status);
      const { status } = await line.call({
        method: 'PUT',
        path: `/tickets/${encodeURIComponent(ticket)}/pieces/${sha256}`,
        about: `hands in ${file.filename}`,
        bytes: await bytesOf(file),
      });
      if (status >= 300) throw strange(status);
      progress(((i + 1) / (missing.length + 1)) * 0.9);
    }
    const done = await line.call({
      method: 'POST',
      path: `/tickets/${encodeURIComponent(ticket)}/commit`,
      about: 'says that all is handed in',
      key: `${reference}-commit`,
      json: {},
    });
    if (done.status === 422) return refused(done, remoteId);
    if (done.status >= 300) throw strange(done.status);
    // One that was handed in before may be looked at already: then this is all that is heard of it.
    const { state } = done.body;
    return {
      state: state === 'live' || state === 'refused' ? state : state === 'held' ? 'draft' : 'checking',
      remoteId: textOr(done.body['listing'], remoteId),
      url: textOr(done.body['url'], null),
      reasons: reasonsOf(done.body['reasons']),
    };
  },

  async takeDown(remoteId, key, line) {
    const { status } = await line.call({
      method: 'POST',
      path: `/listings/${encodeURIComponent(remoteId)}/withdraw`,
      about: 'takes the listing down',
      key: `${key}-down`,
      json: {},
    });
    if (status >= 300 && status !== 404 && status !== 410) throw strange(status);
  },
};

const refused = ({ body }: Reply, remoteId: string | null) => ({
  state: 'refused' as const,
  remoteId,
  url: null,
  reasons: reasonsOf(body['reasons']),
});
