import { publishStepSchema, type PublishStep } from '@kettle/contract';
import type { ChannelRulesFields } from '@kettle/core/listing';
import { readFile } from 'node:fs/promises';
import { MARKETS } from './markets/markets.js';
import { OutsideLine, type OutsidePlaces } from '../floor/outside/line.js';
import { StoppedError } from '../floor/processes/process-pool.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { hashOfWanted, PUBLISH, PUBLISH_ENGINE } from './listings.js';
import type { OwnThings } from '../floor/database/own-things.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { CallStore } from '../floor/outside/call-store.js';
import { referenceOf, type PublicationStore } from './publication-store.js';
import type { JobKind } from '../floor/queue/job-kind.js';

/** What publishing is done with. */
export interface PublishDeps {
  readonly publications: PublicationStore;
  readonly calls: CallStore;
  readonly blobs: BlobStore;
  readonly markets: OutsidePlaces;
  readonly channelRules: OwnThings<ChannelRulesFields>;
}

/** Sends a listing to its market, or takes it down there. May be killed anywhere and done again: the market has one listing. */
export const publishKind = ({
  publications,
  calls,
  blobs,
  markets,
  channelRules,
}: PublishDeps): JobKind<PublishStep> => ({
  kind: PUBLISH,
  engine: PUBLISH_ENGINE,
  lane: 'calls',
  payload: publishStepSchema,
  async run({ publicationId, what }, { who, signal, progress }) {
    const found = await publications.get(who.owner, publicationId);
    if (!found) throw new ProblemError(404, 'no-such-publication', 'What was to be sent is gone, with its design.');
    // A channel without rules any more takes nothing.
    const way = (await channelRules.find(who, found.rulesId))?.by;
    const place = way && markets.get(way);
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
