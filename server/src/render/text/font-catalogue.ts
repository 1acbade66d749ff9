import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { FontFamily, FontCategory, FontScript } from '@kettle/contract';

type Row = readonly [
  package_: string,
  name: string,
  category: FontCategory,
  weight: number,
  subset?: 'latin' | 'arabic' | 'devanagari' | 'japanese',
];

/**
 * Shipped fonts, all under the SIL Open Font License or Apache License, which lies beside each, with the weight each
 * begins with. They are the upright cuts of the @fontsource packages of the same names, as they came.
 */
const ROWS: readonly Row[] = [
  ['fraunces', 'Fraunces', 'display', 900],
  ['bowlby-one', 'Bowlby One', 'display', 400],
  ['abril-fatface', 'Abril Fatface', 'display', 400],
  ['yeseva-one', 'Yeseva One', 'display', 400],
  ['playfair-display', 'Playfair Display', 'display', 900],
  ['archivo-black', 'Archivo Black', 'display', 400],
  ['bricolage-grotesque', 'Bricolage Grotesque', 'display', 800],
  ['righteous', 'Righteous', 'display', 400],
  ['bungee', 'Bungee', 'display', 400],
  ['shrikhand', 'Shrikhand', 'display', 400],
  ['monoton', 'Monoton', 'display', 400],
  ['rubik-mono-one', 'Rubik Mono One', 'display', 400],
  ['press-start-2p', 'Press Start 2P', 'display', 400],
  ['titan-one', 'Titan One', 'display', 400],
  ['luckiest-guy', 'Luckiest Guy', 'display', 400],
  ['fredoka', 'Fredoka', 'display', 600],
  ['cairo', 'Cairo', 'display', 800, 'arabic'],
  ['dela-gothic-one', 'Dela Gothic One', 'display', 400, 'japanese'],
  ['anton', 'Anton', 'condensed', 400],
  ['bebas-neue', 'Bebas Neue', 'condensed', 400],
  ['oswald', 'Oswald', 'condensed', 600],
  ['barlow-condensed', 'Barlow Condensed', 'condensed', 700],
  ['staatliches', 'Staatliches', 'condensed', 400],
  ['alfa-slab-one', 'Alfa Slab One', 'slab', 400],
  ['zilla-slab', 'Zilla Slab', 'slab', 700],
  ['rye', 'Rye', 'slab', 400],
  ['pacifico', 'Pacifico', 'script', 400],
  ['lobster', 'Lobster', 'script', 400],
  ['satisfy', 'Satisfy', 'script', 400],
  ['dancing-script', 'Dancing Script', 'script', 700],
  ['yuji-syuku', 'Yuji Syuku', 'script', 400, 'japanese'],
  ['caveat', 'Caveat', 'hand-drawn', 700],
  ['permanent-marker', 'Permanent Marker', 'hand-drawn', 400],
  ['chewy', 'Chewy', 'hand-drawn', 400],
  ['gloria-hallelujah', 'Gloria Hallelujah', 'hand-drawn', 400],
  ['special-elite', 'Special Elite', 'hand-drawn', 400],
  ['kalam', 'Kalam', 'hand-drawn', 700, 'devanagari'],
  ['josefin-sans', 'Josefin Sans', 'text', 600],
  ['work-sans', 'Work Sans', 'text', 700],
  ['merriweather', 'Merriweather', 'text', 700],
  ['cormorant-garamond', 'Cormorant Garamond', 'text', 700],
  ['amiri', 'Amiri', 'text', 700, 'arabic'],
  ['hind', 'Hind', 'text', 700, 'devanagari'],
  ['zen-maru-gothic', 'Zen Maru Gothic', 'text', 700, 'japanese'],
];

const FONTS = fileURLToPath(new URL('../../../fonts', import.meta.url));

const SCRIPTS: Readonly<Record<string, FontScript>> = {
  latin: 'Latin',
  arabic: 'Arabic',
  devanagari: 'Devanagari',
  japanese: 'Japanese',
};

interface Found extends FontFamily {
  readonly package_: string;
  readonly folder: string;
  readonly subsets: readonly string[];
  readonly there: ReadonlySet<string>;
}

const found: readonly Found[] = ROWS.map(([package_, name, category, weight, subset = 'latin']) => {
  const folder = join(FONTS, package_);
  const there = new Set(readdirSync(folder));
  const files = [...there].flatMap((file) => {
    const match = new RegExp(`^${package_}-([a-z-]+)-(\\d+)-normal\\.woff2$`).exec(file);
    return match ? [{ subset: match[1], weight: Number(match[2]) }] : [];
  });
  const subsets = [subset, 'latin', 'latin-ext', ...new Set(files.map((file) => file.subset))].filter(
    (one, i, all) => all.indexOf(one) === i && files.some((file) => file.subset === one),
  );
  const weights = files
    .filter((file) => file.subset === subset)
    .map((file) => file.weight)
    .sort((a, b) => a - b);
  return {
    package_,
    name,
    category,
    folder,
    subsets,
    there,
    scripts: subsets.flatMap((one) => (SCRIPTS[one] ? [SCRIPTS[one]] : [])),
    faces: weights.map((one) => ({ id: `${package_}-${subset}-${one}`, weight: one, files: subsets.length })),
    start: `${package_}-${subset}-${weight}`,
  };
});

/** All shipped families. */
export const FAMILIES: readonly FontFamily[] = found.map(({ name, category, scripts, faces, start }) => ({
  name,
  category,
  scripts,
  faces,
  start,
}));

/**
 * Files of a shipped face, in the order they are asked for letters: the subset it is named after first. Null for an
 * unknown id.
 */
export function shippedFiles(id: string): string[] | null {
  for (const { package_, folder, subsets, there } of found) {
    const own = subsets.find(
      (subset) =>
        id.startsWith(`${package_}-${subset}-`) && /^\d+$/.test(id.slice(package_.length + subset.length + 2)),
    );
    if (!own) continue;
    const weight = id.slice(package_.length + own.length + 2);
    const files = [own, ...subsets.filter((subset) => subset !== own)]
      .map((subset) => `${package_}-${subset}-${weight}-normal.woff2`)
      .filter((file) => there.has(file));
    return files.length ? files.map((file) => join(folder, file)) : null;
  }
  return null;
}
