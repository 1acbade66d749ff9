import type { WantedFile } from './market.js';
import { strange, textOr, type Reply } from '../../floor/outside/line.js';
import { reasonsOf, type Market, type MarketAnswer, type Sending } from './market.js';

/** A market that takes a listing with all of its files in one call, and answers at once. */
export const ONE_CALL: Market = {
  async publish(sending, line) {
    const body = await bodyOf(sending);
    const { key, hash, remoteId } = sending;
    if (remoteId) {
      const reply = await line.call({
        method: 'PUT',
        path: `/listings/${encodeURIComponent(remoteId)}`,
        about: 'changes the listing',
        json: body,
        key: `${key}-${hash.slice(0, 16)}`,
      });
      // One that the market has lost is made again.
      if (reply.status !== 404) return answerOf(reply, remoteId);
    }
    const reply = await line.call({ method: 'POST', path: '/listings', about: 'creates the listing', json: body, key });
    // An earlier try was taken, and its answer lost; since then the listing was changed here.
    if (reply.status === 409 && typeof reply.body['id'] === 'string')
      return this.publish({ ...sending, remoteId: reply.body['id'] }, line);
    return answerOf(reply, null);
  },

  async takeDown(remoteId, key, line) {
    const { status } = await line.call({
      method: 'DELETE',
      path: `/listings/${encodeURIComponent(remoteId)}`,
      about: 'takes the listing down',
      key: `${key}-down`,
    });
    if (status >= 300 && status !== 404 && status !== 410) throw strange(status);
  },

  async soldAfter(number, line) {
    const { status, body } = await line.call({
      method: 'GET',
      path: `/sales?after=${encodeURIComponent(number)}`,
      about: 'asks what was sold',
    });
    if (status >= 300) throw strange(status);
    return ((Array.isArray(body['sales']) ? body['sales'] : []) as (Record<string, unknown> | null)[]).map((sale) => {
      const { number: own, listing, name: product, colour, copies, price, currency, at } = sale ?? {};
      return { number: own, listing, product, colour, copies, price, currency, at };
    });
  },
};

async function bodyOf({ listing, bytesOf, progress }: Sending) {
  const { title, description, tags, currency, products, pictures, clip } = listing;
  const files = [...pictures, ...(clip ? [clip] : []), ...products.flatMap((one) => one.files)];
  const packed = new Map<WantedFile, { name: string; type: string; sha256: string; base64: string }>();
  for (const [i, file] of files.entries()) {
    const { filename: name, mediaType: type, sha256 } = file;
    packed.set(file, { name, type, sha256, base64: (await bytesOf(file)).toString('base64') });
    progress(((i + 1) / files.length) * 0.6);
  }
  return {
    title,
    description,
    tags,
    currency,
    items: products.map(({ name, product, price, colours, files: own }) => ({
      name,
      product,
      price,
      colours: colours.map((one) => one.name),
      printFiles: own.map((file) => packed.get(file)),
    })),
    pictures: pictures.map((file) => packed.get(file)),
    clip: clip ? packed.get(clip) : null,
    hidden: listing.draft ?? false,
  };
}

function answerOf({ status, body }: Reply, remoteId: string | null): MarketAnswer {
  const reasons = reasonsOf(body['reasons']);
  if (status === 422) return { state: 'refused', remoteId, url: null, reasons };
  if (status !== 200 && status !== 201) throw strange(status);
  return {
    state: body['hidden'] === true ? 'draft' : 'live',
    remoteId: textOr(body['id'], remoteId),
    url: textOr(body['url'], null),
    reasons,
  };
}
