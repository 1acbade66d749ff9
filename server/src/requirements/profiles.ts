import { createHash } from 'node:crypto';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { shortName } from '@kettle/core/text';
import type { ColourConversion, Requirement } from '@kettle/core/model';
import type { Caller } from '../floor/basics/caller.js';
import { MOST_PROFILE_BYTES } from '../render/colour/limits.js';
import type { RenderPools } from '../render/render-pools.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { ProfileStore, StoredProfile } from './profile-store.js';
import type { RequirementStore } from './requirement-store.js';
import { withIncoming } from '../floor/files/incoming.js';
import { FileCache } from '../floor/files/file-cache.js';

/** What it works with. */
export interface ProfileDeps {
  readonly profileStore: ProfileStore;
  readonly requirements: RequirementStore;
  readonly blobs: BlobStore;
  readonly pools: RenderPools;
  readonly cache: string;
}

/** Profiles of presses, and the tables by which a print is shown before it is made. */
export class ProfileService {
  private readonly kept = new FileCache();

  constructor(private readonly deps: ProfileDeps) {}

  list(who: Caller): Promise<StoredProfile[]> {
    return this.deps.profileStore.list(who.owner);
  }

  /** @throws ProblemError with a sentence when it is no profile of a CMYK press */
  takeIn(who: Caller, stream: Readable, filename: string): Promise<StoredProfile> {
    return withIncoming(this.deps.cache, stream, MOST_PROFILE_BYTES, async (path) => {
      const { name } = await this.deps.pools.intake.run('checkProfile', { path });
      const { sha256, bytes } = await this.deps.blobs.put(path);
      const profile: StoredProfile = {
        id: sha256,
        name: shortName(name, 200, 'A profile without a name'),
        filename: shortName(filename, 255, 'profile.icc'),
        bytes,
      };
      await this.deps.profileStore.add(who.owner, profile);
      return profile;
    });
  }

  /** @throws ProblemError 409 while a requirement prints by it */
  async remove(who: Caller, id: string): Promise<void> {
    await this.get(who, id);
    const users = (await this.deps.requirements.list(who.owner)).filter((one) => one.conversion?.profile === id);
    if (users.length)
      throw new ProblemError(
        409,
        'in-use',
        `${users[0].channel}, ${users[0].name}${users.length > 1 ? ` and ${users.length - 1} more` : ''} print by this profile. Choose another there first.`,
      );
    await this.deps.profileStore.remove(who.owner, id);
  }

  private async get(who: Caller, id: string): Promise<StoredProfile> {
    const profile = await this.deps.profileStore.get(who.owner, id);
    if (!profile) throw new ProblemError(404, 'no-such-profile', 'This colour profile is not here any more.');
    return profile;
  }

  /** @throws ProblemError 422 when a requirement names a profile that is not there */
  async demand(who: Caller, requirement: Pick<Requirement, 'conversion'>): Promise<void> {
    const id = requirement.conversion?.profile;
    if (id && !(await this.deps.profileStore.get(who.owner, id)))
      throw new ProblemError(
        422,
        'no-such-profile',
        'The colour profile of this requirement is not here. Bring it in, or choose another.',
        {
          conversion: 'The colour profile is not here.',
        },
      );
  }

  /** Local files that a conversion reads, by name. */
  async filesOf(who: Caller, conversion: ColourConversion | undefined): Promise<Record<string, string>> {
    if (!conversion?.profile) return {};
    await this.get(who, conversion.profile);
    return { [conversion.profile]: await this.deps.blobs.localPath(conversion.profile) };
  }

  /** Path of the tables of a conversion, compressed: 33³ points of inks, then of looks. */
  async proof(who: Caller, conversion: ColourConversion, paper: boolean): Promise<{ path: string; tag: string }> {
    const files = await this.filesOf(who, conversion);
    const tag = createHash('sha256')
      .update(JSON.stringify([conversion.profile, conversion.intent, conversion.blackPoint, paper, 1]))
      .digest('hex')
      .slice(0, 32);
    const out = join(this.deps.cache, 'proofs', `${tag}.gz`);
    const path = await this.kept.path(out, (unless) =>
      this.deps.pools.view.run('proofTables', { conversion, paper, files, out }, { unless }),
    );
    return { path, tag };
  }
}
