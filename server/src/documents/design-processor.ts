import type { Asset } from '@kettle/contract';
import { ownValue } from '@kettle/core/units';
import type { Digest } from '../render/documents/digest.js';
import {
  DERIVATIONS,
  drawnFile,
  type Derivation,
  type DerivationInput,
  type DerivationOutput,
} from '../render/documents/derive.js';
import type { RenderPool } from '../render/render-pool.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { StoredDesign } from './stored-design.js';

export { drawnFile, recipeHash, shaOrMissing } from '../render/documents/derive.js';

/** Looks up content hashes for recipes. @throws ProblemError when a picture is not there */
export const shaOf =
  (assets: Readonly<Record<string, Asset>>) =>
  (assetId: string): string => {
    const asset = ownValue(assets, assetId);
    if (!asset)
      throw new ProblemError(409, 'missing-asset', 'A picture of this design could not be found. Put it in again.');
    return drawnFile(asset);
  };

/** Works things out of designs: small ones at once, large ones in a process of their own, so that nobody else waits. */
export class DesignProcessor {
  constructor(private readonly pool: RenderPool) {}

  async of<D extends Derivation>(
    design: StoredDesign,
    name: D,
    input: DerivationInput<D>,
  ): Promise<DerivationOutput<D>> {
    if (!design.isLarge)
      return (DERIVATIONS[name] as (document: unknown, input: unknown) => unknown)(
        design.document,
        input,
      ) as DerivationOutput<D>;
    return (await this.pool.run('derive', { text: design.text, name, input })) as DerivationOutput<D>;
  }

  /** How a design that came as text is to be stored. @throws ProblemError 422 when it is no design */
  async digest(text: string): Promise<Digest> {
    const checked = await this.pool.run('checkDesign', { text });
    if ('fields' in checked)
      throw new ProblemError(422, 'not-as-demanded', Object.values(checked.fields)[0], checked.fields);
    return checked.digest;
  }
}
