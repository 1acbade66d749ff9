import { deltaE2000, labOf } from '../colour/lab.js';
import { rgbOf } from '../colour/srgb.js';
import type { Layer } from '../model/design.js';
import { mapBox, scale, unite } from '../geometry/affine.js';
import { kindOf } from '../layers/layer-kinds.js';
import { ofEachLayer, type Check } from './check.js';
import type { Finding } from './finding.js';
import { overhang, SLACK_MM, type CheckInput } from './check-input.js';

/** Two inks this near each other are told apart by nobody (CIEDE2000), and below this they are the same one. */
const [CLOSE, SAME] = [6, 0.8];
/** Share of a layer's ink that makes a colour one of its inks. */
const INK_FROM = 0.08;
/** A canvas counts as half empty when its art ends this share before the middle. */
const EMPTY_FROM = 0.02;

/** Share of lettering from which it counts as lost in the ink that it lies on. */
const LETTERS_LOST = 0.2;

/** Inks of different layers that lie on each other and can hardly be told apart: of lettering as it was measured. */
export const closeInks: Check = {
  hinders: [],
  find: ({ seen, measured, page }) => {
    const letters = seen.flatMap(({ layer }, number): Finding[] => {
      const lost = measured?.onInk?.[number];
      if (!isLettering(layer) || !lost || lost.lost < LETTERS_LOST) return [];
      return [
        {
          code: 'close-inks',
          severity: 'warns',
          title: 'Letters cannot be told from what they lie on',
          layerId: layer.id,
          where: mapBox(scale(page.width, page.height), lost.where),
          sentence: `${Math.round(lost.lost * 100)} % of “${layer.name}” (${lost.hex}) lies on ink of nearly the same colour (${lost.under}).`,
          fix: null,
          swatches: [[lost.under, lost.hex]],
        },
      ];
    });
    if (letters.length) return letters;
    const inks = seen.flatMap(({ layer, facts, ink }) =>
      ink && facts && !isLettering(layer)
        ? facts.inks.filter(({ share }) => share >= INK_FROM).map(({ hex }) => ({ layer, ink, hex }))
        : [],
    );
    for (let i = 0; i < inks.length; i++)
      for (let j = i + 1; j < inks.length; j++) {
        const [one, other] = [inks[i], inks[j]];
        if (one.layer.id === other.layer.id) continue;
        const delta = deltaE2000(labOf(rgbOf(one.hex)), labOf(rgbOf(other.hex)));
        if (delta >= CLOSE || delta < SAME) continue;
        // Only the one in front of the other, within its reach, can be lost in it.
        if (overhang(other.ink, one.ink) > SLACK_MM) continue;
        return [
          {
            code: 'close-inks',
            severity: 'warns',
            title: 'Two inks too close to tell',
            layerId: other.layer.id,
            where: other.ink,
            sentence: `“${other.layer.name}” (${other.hex}) lies on “${one.layer.name}” (${one.hex}), and in print the two look the same.`,
            fix: null,
            swatches: [[one.hex, other.hex]],
          },
        ];
      }
    return [];
  },
};

const isLettering = (layer: Layer): boolean => kindOf(layer).fontOf(layer) !== null;

/** Art on one half of the canvas alone: meant for the other size, or forgotten. */
export const emptyHalf: Check = {
  hinders: [],
  find: ({ seen, page, requirement, printsSomething }) => {
    const inks = seen.flatMap(({ ink }) => (ink ? [ink] : []));
    // A print at its true size may sit on a breast or a sleeve; what is made to fill its canvas may not.
    if (!printsSomething || !inks.length || requirement.placement.rule === 'same-size') return [];
    const art = unite(inks)!;
    const sides = [
      { word: 'right', empty: art.x + art.width < page.width * (0.5 - EMPTY_FROM) },
      { word: 'left', empty: art.x > page.width * (0.5 + EMPTY_FROM) },
      { word: 'lower', empty: art.y + art.height < page.height * (0.5 - EMPTY_FROM) },
      { word: 'upper', empty: art.y > page.height * (0.5 + EMPTY_FROM) },
    ];
    const bare = sides.find((side) => side.empty);
    return bare
      ? [
          {
            code: 'empty-half',
            severity: 'tells',
            title: `The ${bare.word} half is empty`,
            layerId: null,
            where: null,
            sentence: `All of the design lies on one half of the canvas. If that is not meant, centre it.`,
            fix: { kind: 'centre', label: 'Centre it' },
          },
        ]
      : [];
  },
};

/** Ink that begins in the strip that is cut away, and does not fill it. */
export const inTheBleed: Check = {
  hinders: [],
  find: ({ seen, page, requirement, printsSomething }) => {
    const bleed = requirement.bleedMm ?? 0;
    if (!bleed || !printsSomething) return [];
    const trim = { x: bleed, y: bleed, width: page.width - bleed * 2, height: page.height - bleed * 2 };
    const found = seen.find(({ reach: ink }) => {
      if (!ink || overhang(ink, trim) <= SLACK_MM) return false;
      const short = (over: number, edge: number): boolean => over > SLACK_MM && edge > SLACK_MM;
      return (
        short(trim.x - ink.x, ink.x) ||
        short(trim.y - ink.y, ink.y) ||
        short(ink.x + ink.width - trim.x - trim.width, page.width - ink.x - ink.width) ||
        short(ink.y + ink.height - trim.y - trim.height, page.height - ink.y - ink.height)
      );
    });
    return found
      ? [
          {
            code: 'in-the-bleed',
            severity: 'warns',
            title: 'Ends within the bleed',
            layerId: found.layer.id,
            where: found.reach,
            sentence: `“${found.layer.name}” reaches into the ${bleed} mm that are cut away, and stops before their edge: a cut that is off leaves a bare rim. Let it run over the edge, or keep it inside.`,
            fix: { kind: 'move-inside', label: 'Move it inside' },
          },
        ]
      : [];
  },
};

const mirrorWords = ({ requirement: { mirrored, process } }: CheckInput): string | null =>
  mirrored
    ? 'The file is made mirrored, as this transfer needs it; on the cloth it reads as you see it here.'
    : process === 'transfer'
      ? 'Transfers are printed mirrored. This file is not: the shop must mirror it, or the requirement must say that we do.'
      : null;

/** Whether a transfer is mirrored, and by whom. */
export const mirroredFile: Check = {
  hinders: [],
  find: (input) => {
    const sentence = input.begun ? mirrorWords(input) : null;
    return sentence
      ? [
          {
            code: 'mirrored',
            severity: input.requirement.mirrored ? 'tells' : 'warns',
            title: input.requirement.mirrored ? 'Made mirrored' : 'Not mirrored',
            layerId: null,
            where: null,
            sentence,
            fix: null,
          },
        ]
      : [];
  },
};

/** Lettering that reads backwards. */
export const backwardLetters = ofEachLayer([], ({ layer, where }) =>
  kindOf(layer).fontOf(layer) !== null && layer.place.flipX !== layer.place.flipY
    ? {
        code: 'mirrored',
        severity: 'warns',
        title: 'Lettering reads backwards',
        layerId: layer.id,
        where,
        sentence: `“${layer.name}” is mirrored. If a transfer needs that, the requirement says so for the whole file.`,
        fix: { kind: 'unflip', layerId: layer.id, label: 'Turn it the right way' },
      }
    : null,
);
