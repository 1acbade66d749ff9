import { unite } from '../geometry/affine.js';
import type { Check } from './check.js';

/** Art that leaves the canvas bare: it lies outside, has no ink, or is hidden. */
export const nothingVisible: Check = {
  hinders: ['nothing-visible'],
  find: ({ begun, seen, printsSomething }) => {
    if (!begun || printsSomething) return [];
    const all = unite(seen.flatMap(({ ink }) => ink ?? []));
    return [
      {
        code: 'nothing-visible',
        severity: 'blocks',
        title: 'Nothing would be printed',
        layerId: null,
        where: null,
        sentence: all
          ? 'All artwork lies outside this canvas.'
          : seen.length
            ? 'The artwork has no visible ink at all.'
            : 'Every layer is hidden.',
        fix: all ? { kind: 'centre', label: 'Centre it' } : null,
      },
    ];
  },
};
