import type { Check } from './check.js';

/** A design without a single layer. */
export const noArt: Check = {
  hinders: ['no-art'],
  find: ({ begun }) =>
    begun
      ? []
      : [
          {
            code: 'no-art',
            severity: 'blocks',
            title: 'No artwork yet',
            sentence: 'Drop a picture on the sheet or on this canvas to begin.',
            layerId: null,
            where: null,
            fix: null,
          },
        ],
};
