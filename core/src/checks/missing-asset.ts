import type { Check } from './check.js';

/** A layer whose file is gone. */
export const missingAsset: Check = {
  hinders: ['missing-asset'],
  find: ({ seen }) =>
    seen
      .filter(({ facts }) => !facts)
      .map(({ layer, where }) => ({
        code: 'missing-asset',
        severity: 'blocks',
        title: 'The picture file is missing',
        layerId: layer.id,
        where,
        fix: null,
        sentence: `The file behind “${layer.name}” could not be found. Put it in again.`,
      })),
};
