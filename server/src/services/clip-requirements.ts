import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { clipRequirementSchema, refuse } from '@kettle/contract';
import type { ClipRequirement, ClipRequirementFields } from '@kettle/core';
import type { Caller } from '../caller.js';
import type { Log } from '../log.js';
import { ProblemError } from '../safety/problem-error.js';
import type { OwnFieldsStore } from '../stores/own-fields.js';

/** What channels demand of clips: what is shipped, and the seller's own. */
export class ClipRequirementService {
  private constructor(
    private readonly shipped: readonly ClipRequirement[],
    private readonly store: OwnFieldsStore<ClipRequirementFields>,
  ) {}

  /** Reads the shipped ones. One that is not as it should be is left out and said so. */
  static async open(
    folder: string,
    store: OwnFieldsStore<ClipRequirementFields>,
    log: Log,
  ): Promise<ClipRequirementService> {
    const shipped: ClipRequirement[] = [];
    for (const name of (await readdir(folder)).filter((one) => one.endsWith('.json')).sort()) {
      const fields = JSON.parse(await readFile(join(folder, name), 'utf8')) as ClipRequirementFields;
      const wrong = refuse(clipRequirementSchema, fields);
      if (wrong) log.error({ requirement: name, wrong }, 'a requirement for clips was left out');
      else shipped.push({ ...fields, id: name.replace('.json', ''), revision: 1, shipped: true });
    }
    return new ClipRequirementService(shipped, store);
  }

  async list(who: Caller): Promise<readonly ClipRequirement[]> {
    return [...this.shipped, ...(await this.store.list(who.owner))];
  }

  add(who: Caller, fields: ClipRequirementFields): Promise<ClipRequirement> {
    return this.store.add(who.owner, fields);
  }

  async change(who: Caller, id: string, revision: number, fields: ClipRequirementFields): Promise<ClipRequirement> {
    await this.own(who, id);
    const changed = await this.store.change(who.owner, id, revision, fields);
    if (!changed)
      throw new ProblemError(
        412,
        'stale-revision',
        'This requirement was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
      );
    return changed;
  }

  async remove(who: Caller, id: string): Promise<void> {
    await this.own(who, id);
    await this.store.remove(who.owner, id);
  }

  private async own(who: Caller, id: string): Promise<void> {
    const found = (await this.list(who)).find((one) => one.id === id);
    if (!found) throw new ProblemError(404, 'no-such-requirement', 'There is no requirement for clips with this id.');
    if (found.shipped)
      throw new ProblemError(
        404,
        'shipped-requirement',
        'This requirement came with Kettle Sheet. Add one of your own beside it.',
      );
  }
}
