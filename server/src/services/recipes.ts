import { createHash } from 'node:crypto';
import type { Asset } from '@kettle/contract';
import { canonicalJson, ownValue } from '@kettle/core';
import { ProblemError } from '../safety/problem-error.js';

/** The name of a recipe: the same result is never made twice. */
export const recipeHash = (recipe: object): string => createHash('sha256').update(canonicalJson(recipe)).digest('hex');

/** Looks up content hashes for recipes. @throws ProblemError when a picture is not there */
export const shaOf = (assets: Readonly<Record<string, Asset>>) => (assetId: string): string => {
  const asset = ownValue(assets, assetId);
  if (!asset) throw new ProblemError(409, 'missing-asset', 'A picture of this design could not be found. Put it in again.');
  return asset.sha256;
};

/** Like {@link shaOf}, but names missing pictures so that a recipe can still be compared. */
export const shaOrMissing = (assets: Readonly<Record<string, Asset>>) => (assetId: string): string => ownValue(assets, assetId)?.sha256 ?? `missing ${assetId}`;
