import { ofEachLayer } from './check.js';

/** What was done to a file on its way in, so that nobody wonders later. */
export const converted = ofEachLayer([], ({ layer, facts, where }) =>
  facts.conversions.length === 0
    ? null
    : {
        code: 'converted',
        severity: 'tells',
        title: 'Converted on the way in',
        layerId: layer.id,
        where,
        sentence: facts.conversions.join(' '),
        fix: null,
      },
);
