import { ofEachLayer } from './check.js';

/** A drawing that asks for fonts which are not in it. */
export const liveText = ofEachLayer([], ({ layer, facts, where }) => {
  const families = facts.liveText;
  if (!families) return null;
  const asked = families.length
    ? `asks for ${families.map((family) => `“${family}”`).join(', ')}, which ${families.length === 1 ? 'is' : 'are'} not in the file`
    : 'names no font';
  return {
    code: 'live-text',
    severity: 'warns',
    title: 'Text in another font',
    layerId: layer.id,
    where,
    sentence:
      `“${layer.name}” holds text that is not outlines and ${asked}. It is drawn in a shipped face that stands in for it. ` +
      'Choose the face, upload the font first, or turn the text into outlines in the program that made it.',
    fix: { kind: 'face', layerId: layer.id, label: 'Choose its face' },
  };
});
