import type { Panel } from '../model/requirement.js';
import { unite, type Box } from '../geometry/affine.js';
import { coversCloth } from '../requirement/panel.js';
import type { Check } from './check.js';
import { overhang, type CheckInput } from './check-input.js';

/** Art that is this large a share of the cloth along both ways is meant to cover it. */
const MEANT = 0.6;

const boundsOf = ({ cut }: Pick<Panel, 'cut'>): Box => {
  const [xs, ys] = [0, 1].map((k) => cut.map((point) => point[k]));
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
};

/** True for art that is so large beside a piece of cloth that it is meant to cover it. */
export function meansToCover(panel: Panel | undefined, art: Box | null): boolean {
  if (!panel?.cut.length || !art) return false;
  const cloth = boundsOf(panel);
  return art.width >= MEANT * cloth.width && art.height >= MEANT * cloth.height;
}

/** Everything that is printed on a canvas, with the lines around it. */
export const printed = ({ seen }: Pick<CheckInput, 'seen'>): Box | null =>
  unite(seen.flatMap(({ reach }) => (reach ? [reach] : [])));

/** Art that should cover a piece of cloth and does not: where it ends, bare cloth is seen. */
export const bareCloth: Check = {
  hinders: [],
  find: ({ requirement: { panel }, seen, repeated }) => {
    const art = printed({ seen });
    if (!panel || !art || repeated || !meansToCover(panel, art) || coversCloth(panel, art)) return [];
    const bare = overhang(boundsOf(panel), art);
    return [
      {
        code: 'bare-cloth',
        severity: 'warns',
        title: 'Cloth left bare',
        layerId: null,
        where: art,
        sentence: `The art ends up to ${Math.round(bare)} mm before the cut line: bare cloth is seen there once it is sewn.`,
        fix: { kind: 'cover-cloth', label: 'Cover the cloth' },
      },
    ];
  },
};
