import { readFile, readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { refuse } from '@kettle/contract';
import type { AnySchema } from 'yup';
import type { Caller } from '../basics/caller.js';
import type { Log } from '../basics/log.js';
import { ProblemError } from '../basics/problem-error.js';
import type { OwnFields, OwnFieldsStore } from './own-fields.js';

/** How things of a kind are spoken of. */
export interface ThingWords {
  /** `requirement`: codes of problems end in it. */
  readonly code: string;
  /** `requirement for clips` */
  readonly name: string;
  /** Where the shipped ones lie: each a JSON file, named by its id. */
  readonly folder: string;
  readonly schema: AnySchema;
}

/** Things of a few fields each: those that ship, which stay as they are, and the seller's own. */
export class OwnThings<T extends object> {
  private constructor(
    private readonly words: ThingWords,
    private readonly shipped: readonly OwnFields<T>[],
    private readonly store: OwnFieldsStore<T>,
  ) {}

  /** Reads the shipped ones. One that is not as it should be is left out and said so. */
  static async open<T extends object>(words: ThingWords, store: OwnFieldsStore<T>, log: Log): Promise<OwnThings<T>> {
    const shipped: OwnFields<T>[] = [];
    for (const name of (await readdir(words.folder)).filter((one) => one.endsWith('.json')).sort()) {
      const fields = JSON.parse(await readFile(join(words.folder, name), 'utf8')) as T;
      const wrong = refuse(words.schema, fields);
      if (wrong) log.error({ file: name, wrong }, `a shipped ${words.name} was left out`);
      else shipped.push({ ...fields, id: name.replace('.json', ''), revision: 1, shipped: true });
    }
    return new OwnThings(words, shipped, store);
  }

  async list(who: Caller): Promise<readonly OwnFields<T>[]> {
    return [...this.shipped, ...(await this.store.list(who.owner))];
  }

  async find(who: Caller, id: string): Promise<OwnFields<T> | undefined> {
    return (await this.list(who)).find((one) => one.id === id);
  }

  /** @throws ProblemError 404 */
  async get(who: Caller, id: string): Promise<OwnFields<T>> {
    const found = await this.find(who, id);
    if (!found)
      throw new ProblemError(404, `no-such-${this.words.code}`, `There is no ${this.words.name} with this id.`);
    return found;
  }

  add(who: Caller, fields: T): Promise<OwnFields<T>> {
    return this.store.add(who.owner, fields);
  }

  /** @throws ProblemError 412 when it was changed since `revision` */
  async change(who: Caller, id: string, revision: number, fields: T): Promise<OwnFields<T>> {
    await this.own(who, id);
    const changed = await this.store.change(who.owner, id, revision, fields);
    if (!changed)
      throw new ProblemError(
        412,
        'stale-revision',
        `This ${this.words.name} was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.`,
      );
    return changed;
  }

  async remove(who: Caller, id: string): Promise<void> {
    await this.own(who, id);
    await this.store.remove(who.owner, id);
  }

  private async own(who: Caller, id: string): Promise<void> {
    if ((await this.get(who, id)).shipped)
      throw new ProblemError(
        404,
        `shipped-${this.words.code}`,
        `This ${this.words.name} came with Kettle Sheet. Add one of your own beside it.`,
      );
  }
}
