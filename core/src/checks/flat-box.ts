import { deltaE2000, labOf } from '../colour/lab.js';
import { rgbOf } from '../colour/srgb.js';
import { ofEachLayer } from './check.js';
import { SLACK_MM } from './check-input.js';

const isWhite = (hex: string): boolean => /^#[f][0-9a-f][f][0-9a-f][f][0-9a-f]$/i.test(hex);

/** Difference (CIEDE2000) of field and cloth below which the box cannot be seen on it. */
const UNSEEN_BELOW = 2.5;

/** Art that brings its own ground along: a white box on cloth, or a picture without any transparency. */
export const flatBox = ofEachLayer([], ({ layer, facts, where }, { page, requirement, garment }) => {
  const width = page.width + 2 * SLACK_MM;
  const height = page.height + 2 * SLACK_MM;
  const fillsPage =
    where.x <= 0.5 && where.y <= 0.5 && where.x + where.width >= width - 1 && where.y + where.height >= height - 1;
  if ((!facts.opaque && !facts.flatBorder) || requirement.transparency === 'forbidden' || fillsPage) return null;
  const base = { layerId: layer.id, where };
  if (!facts.flatBorder)
    return {
      ...base,
      code: 'opaque-picture',
      severity: 'tells',
      title: 'Opaque picture',
      sentence: `“${layer.name}” has no transparency: it prints as a full rectangle.`,
      fix: { kind: 'cut-out', layerId: layer.id, label: 'Take its ground out' },
    };
  const seen = deltaE2000(labOf(rgbOf(facts.flatBorder)), labOf(rgbOf(garment))) >= UNSEEN_BELOW;
  const stands = `“${layer.name}” stands on a field of one flat colour (${facts.flatBorder}) that reaches its edges.`;
  return {
    ...base,
    code: 'white-box',
    severity: seen ? 'blocks' : 'tells',
    title: isWhite(facts.flatBorder) ? 'White box' : 'A box of flat colour',
    sentence: seen
      ? `${stands} It would be printed as a box around the art.`
      : `${stands} It is the colour of this cloth and would show on any other.`,
    fix: { kind: 'cut-out', layerId: layer.id, label: 'Take the ground out' },
  };
});
