import { publishStepSchema, type PublishStep } from '@kettle/contract';
import type { MarketInterface } from '@kettle/core';
import { readFile } from 'node:fs/promises';
import { MARKETS } from '../markets/markets.js';
import { OutsideLine, type OutsidePlaces } from '../outside/line.js';
import { StoppedError } from '../render/render-pool.js';
import { ProblemError } from '../safety/problem-error.js';
import { hashOfWanted, PUBLISH, PUBLISH_ENGINE } from '../services/listings.js';
import type { BlobStore } from '../stores/blobs.js';
import type { CallStore } from '../stores/calls.js';
import { referenceOf, type PublicationStore } from '../stores/publications.js';
import type { JobKind } from './job-kind.js';

/** What publishing is done with. */
export interface PublishHouse {
  readonly publications: PublicationStore;
  readonly calls: CallStore;
  readonly blobs: BlobStore;
  readonly places: OutsidePlaces;
  /** How a channel takes listings; null when its rules are gone. */
  readonly by: (owner: string, rulesId: string) => Promise<MarketInterface | null>;
}

/** Sends a listing to its market, or takes it down there. May be killed anywhere and done again: the market has one listing. */
export const publishKind = ({ publications, calls, blobs, places, by }: PublishHouse): JobKind<PublishStep> => ({
  kind: PUBLISH,
  engine: PUBLISH_ENGINE,
  lane: 'calls',
  payload: publishStepSchema,
  async run({ publicationId, what }, { who, signal, progress }) {
    const found = await publications.get(who.owner, publicationId);
    if (!found) throw new ProblemError(404, 'no-such-publication', 'What was to be sent is gone, with its design.');
    const way = await by(who.owner, found.rulesId);
    const place = way && places.get(way);
    if (!way || !place)
      throw new ProblemError(409, 'not-connected', `${found.channel} is not connected. Nothing was sent.`);
    const line = new OutsideLine(found.channel, place, calls.recordOf({ publicationId: found.id }), signal);
    const key = referenceOf(found);
    try {
      if (what === 'take-down') {
        if (found.remoteId) await MARKETS[way].takeDown(found.remoteId, key, line);
        await publications.goneDown(found.id);
        return found.id;
      }
      // It was taken down since this was asked for: the worker that did this before is gone, and this is done again.
      if (found.state === 'down') return found.id;
      await publications.become(found.id, { state: 'sending' });
      const hash = hashOfWanted(found.wanted);
      const answer = await MARKETS[way].publish(
        {
          listing: found.wanted,
          key,
          hash,
          remoteId: found.remoteId,
          bytesOf: async ({ sha256 }) => readFile(await blobs.localPath(sha256)),
          progress,
        },
        line,
      );
      const { state, remoteId, url, reasons } = answer;
      // A market that checks may have answered by itself before this is written: then its word stands.
      if (state === 'checking') await publications.checking(found.id, remoteId, found.wanted);
      else
        await publications.become(found.id, {
          state,
          reasons,
          remoteId,
          ...(url ? { url } : {}),
          ...(state === 'refused' ? {} : { sent: found.wanted }),
        });
      return found.id;
    } catch (error) {
      if (signal.aborted) throw new StoppedError('stopped');
      if (error instanceof ProblemError)
        await publications.become(found.id, { state: 'failed', reasons: [{ field: '', text: error.message }] });
      throw error;
    }
  },
});
