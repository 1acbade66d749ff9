import { ofEachLayer } from './check.js';
import { SLACK_MM } from './sight.js';

const isWhite = (hex: string): boolean => /^#[f][0-9a-f][f][0-9a-f][f][0-9a-f]$/i.test(hex);

/** Art that brings its own ground along: a white box on cloth, or a picture without any transparency. */
export const flatBox = ofEachLayer([], ({ layer, facts, where }, { page, requirement }) => {
  const width = page.width + 2 * SLACK_MM;
  const height = page.height + 2 * SLACK_MM;
  const fillsPage =
    where.x <= 0.5 && where.y <= 0.5 && where.x + where.width >= width - 1 && where.y + where.height >= height - 1;
  if ((!facts.opaque && !facts.flatBorder) || requirement.transparency === 'forbidden' || fillsPage) return null;
  const base = { layerId: layer.id, where, fix: null } as const;
  return facts.flatBorder
    ? {
        ...base,
        code: 'white-box',
        severity: 'blocks',
        title: isWhite(facts.flatBorder) ? 'White box' : 'A box of flat colour',
        sentence: `“${layer.name}” stands on a field of one flat colour (${facts.flatBorder}) that reaches its edges. It would be printed as a box around the art.`,
      }
    : {
        ...base,
        code: 'opaque-picture',
        severity: 'tells',
        title: 'Opaque picture',
        sentence: `“${layer.name}” has no transparency: it prints as a full rectangle.`,
      };
});
