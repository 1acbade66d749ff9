import type { Box } from '../geometry/affine.js';
import { kindOf } from '../layers/layer-kinds.js';
import { PROCESS_WORDS } from '../model/press.js';
import { limitsOf, processOf } from '../model/requirement.js';
import type { Check } from './check.js';
import type { Finding, Fix } from './finding.js';
import type { SeenLayer, CheckInput } from './check-input.js';

/** Share of the ink in colours a press does not have that is worth a word. */
const GAMUT_FROM = 0.02;
const COVERAGE_FROM = 0.002;
/** A speck or two are an accident of an outline; more are dirt. */
const SPECKS_FROM = 3;

const mm = (value: number): string => `${value.toFixed(value < 1 ? 2 : 1)} mm`;
const many = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;

/** The frontmost layer with ink at a place. */
const layerAt = ({ seen }: CheckInput, { x, y, width, height }: Box): SeenLayer | undefined =>
  seen.findLast(
    ({ ink }) =>
      ink !== null &&
      x + width / 2 >= ink.x &&
      x + width / 2 <= ink.x + ink.width &&
      y + height / 2 >= ink.y &&
      y + height / 2 <= ink.y + ink.height,
  );

/** A finding at the places that were measured, with the layer that the first of them lies on. */
const at = (
  input: CheckInput,
  where: readonly Box[],
  rest: Pick<Finding, 'code' | 'severity' | 'title' | 'sentence'>,
  fix: (layer: SeenLayer) => Fix | null = () => null,
): Finding => {
  const layer = where[0] && layerAt(input, where[0]);
  return {
    ...rest,
    layerId: layer?.layer.id ?? null,
    where: where[0] ?? null,
    places: where,
    fix: layer ? fix(layer) : null,
  };
};

const processWords = ({ requirement }: CheckInput): string => PROCESS_WORDS[processOf(requirement)];

/** Lines thinner than the process holds. */
export const thinLines: Check = {
  hinders: [],
  find: (input) => {
    const { thin } = input.measured ?? {};
    const limit = limitsOf(input.requirement).lineMm;
    if (!thin?.count || limit === null) return [];
    return [
      at(
        input,
        thin.where,
        {
          code: 'thin-lines',
          severity: 'warns',
          title: 'Lines too thin to hold',
          sentence: `${many(thin.count, 'line')}, the thinnest ${mm(thin.thinnestMm)}; ${processWords(input)} holds ${mm(limit)}. Thinner ink breaks up or is left out.`,
        },
        ({ layer, facts }) => ({
          kind: 'thicken',
          layerId: layer.id,
          hex: facts?.inks[0]?.hex ?? '#1f2623',
          mm: Math.ceil(Math.max(0.05, (limit - thin.thinnestMm) / 2) * 100 - 1e-6) / 100,
          label: 'Make them thicker',
        }),
      ),
    ];
  },
};

/** Gaps in the ink that close up on the press. */
export const thinGaps: Check = {
  hinders: [],
  find: (input) => {
    const { gaps } = input.measured ?? {};
    const limit = limitsOf(input.requirement).lineMm;
    if (!gaps?.count || limit === null) return [];
    return [
      at(input, gaps.where, {
        code: 'thin-gaps',
        severity: 'warns',
        title: 'Gaps too narrow to stay open',
        sentence: `${many(gaps.count, 'gap')} in the ink, the narrowest ${mm(gaps.thinnestMm)}; ${processWords(input)} holds ${mm(limit)}. Ink runs together in narrower ones: widen them, or close them.`,
      }),
    ];
  },
};

/** Letters in pictures and outlines, lower than the process holds; those of lettering are told by its own outlines. */
export const lettersInPictures: Check = {
  hinders: [],
  find: (input) => {
    const limit = limitsOf(input.requirement).letterMm;
    const { letters } = input.measured ?? {};
    if (!letters?.count || limit === null) return [];
    const where = letters.where.filter((box) => {
      const under = layerAt(input, box);
      return !under || kindOf(under.layer).fontOf(under.layer) === null;
    });
    if (!where.length) return [];
    const times = Math.min(20, (limit / letters.lowestMm) * 1.02);
    return [
      at(
        input,
        where,
        {
          code: 'small-letters',
          severity: 'warns',
          title: 'Letters too small to read',
          sentence: `${many(where.length, 'row')} of letters in a picture, the lowest ${mm(letters.lowestMm)} high; ${processWords(input)} holds ${mm(limit)}. Smaller ones close up.`,
        },
        ({ layer }) => ({
          kind: 'own-pixels',
          layerId: layer.id,
          width: layer.place.width * times,
          height: layer.place.height * times,
          label: `Enlarge it to ${Math.round(times * 100)} %`,
        }),
      ),
    ];
  },
};

/** Dots of ink and holes in it that no press can hold. */
export const specks: Check = {
  hinders: [],
  find: (input) => {
    const limit = limitsOf(input.requirement).speckMm;
    const { specks: dirt, holes } = input.measured ?? {};
    if (!dirt || !holes || limit === null) return [];
    const clean = ({ layer, facts, where }: SeenLayer): Fix | null =>
      kindOf(layer).assetOf(layer) !== null && facts && !facts.vector
        ? {
            kind: 'clean',
            layerId: layer.id,
            px: Math.ceil(Math.PI * ((limit / 2) * (facts.width / where.width)) ** 2),
            label: 'Clear them away',
          }
        : null;
    return [
      ...(dirt.count >= SPECKS_FROM
        ? [
            at(
              input,
              dirt.where,
              {
                code: 'specks',
                severity: 'warns',
                title: 'Specks',
                sentence: `${many(dirt.count, 'speck')} of ink smaller than ${mm(limit)}. They print as dirt, or not at all.`,
              },
              clean,
            ),
          ]
        : []),
      ...(holes.count >= SPECKS_FROM
        ? [
            at(
              input,
              holes.where,
              {
                code: 'pinholes',
                severity: 'warns',
                title: 'Pinholes',
                sentence: `${many(holes.count, 'hole')} in the ink smaller than ${mm(limit)}. They fill up, or show as bare spots.`,
              },
              clean,
            ),
          ]
        : []),
    ];
  },
};

/** Glow, smoke and long fades. */
export const longFade: Check = {
  hinders: [],
  find: (input) => {
    const { fade } = input.measured ?? {};
    const limit = limitsOf(input.requirement).fadeMm;
    if (!fade?.count || limit === null || input.requirement.transparency === 'forbidden') return [];
    return [
      at(
        input,
        fade.where,
        {
          code: 'long-fade',
          severity: 'warns',
          title: 'Glow or long fade',
          sentence: `Ink fades out over ${mm(fade.widestMm)}; ${processWords(input)} holds ${mm(limit)} before it shows as a pale patch with an edge.`,
        },
        ({ layer }) => (layer.screen ? null : { kind: 'dots', layerId: layer.id, label: 'Print it as dots' }),
      ),
    ];
  },
};

/** More ink on one spot than dries. */
export const inkCoverage: Check = {
  hinders: [],
  find: (input) => {
    const { coverage } = input.measured ?? {};
    const limit = limitsOf(input.requirement).coverage;
    if (!coverage || limit === null || coverage.share < COVERAGE_FROM) return [];
    return [
      at(input, coverage.where, {
        code: 'ink-coverage',
        severity: 'warns',
        title: 'Too much ink',
        sentence: `Up to ${Math.round(coverage.most)} % of ink lie on one spot of ${Math.max(1, Math.round(coverage.share * 100))} % of the design; ${limit} % is the most that dries. Lighten the darkest parts, or ask for a profile that holds less.`,
      }),
    ];
  },
};

/** Colours that come out otherwise. */
export const outOfGamut: Check = {
  hinders: [],
  find: (input) => {
    const { gamut } = input.measured ?? {};
    if (!gamut || gamut.share < GAMUT_FROM) return [];
    const [first] = gamut.colours;
    return [
      {
        ...at(input, gamut.where, {
          code: 'out-of-gamut',
          severity: 'warns',
          title: 'Colours that cannot be printed',
          sentence: `${Math.round(gamut.share * 100)} % of the ink is in colours this press does not have${first ? `: ${first.hex} will look like ${first.printed}` : ''}. See the proof before you send it.`,
        }),
        swatches: gamut.colours.map(({ hex, printed }) => [hex, printed] as const),
        fix: { kind: 'proof', label: 'See how it will print' },
      },
    ];
  },
};
