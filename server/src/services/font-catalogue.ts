import type { FontEntry } from '@kettle/contract';

type Row = readonly [file: string, name: string, category: FontEntry['category'], script?: FontEntry['script']];

/** Shipped fonts, all under the SIL Open Font License or Apache License, from their npm packages. The file is `package/name` without its ending. */
const ROWS: readonly Row[] = [
  ['fraunces/fraunces-latin-900-normal', 'Fraunces Black', 'display'], ['bowlby-one/bowlby-one-latin-400-normal', 'Bowlby One', 'display'], ['anton/anton-latin-400-normal', 'Anton', 'condensed'],
  ['bebas-neue/bebas-neue-latin-400-normal', 'Bebas Neue', 'condensed'], ['oswald/oswald-latin-600-normal', 'Oswald', 'condensed'], ['barlow-condensed/barlow-condensed-latin-700-normal', 'Barlow Condensed', 'condensed'],
  ['staatliches/staatliches-latin-400-normal', 'Staatliches', 'condensed'], ['alfa-slab-one/alfa-slab-one-latin-400-normal', 'Alfa Slab One', 'slab'], ['zilla-slab/zilla-slab-latin-700-normal', 'Zilla Slab', 'slab'],
  ['rye/rye-latin-400-normal', 'Rye', 'slab'], ['abril-fatface/abril-fatface-latin-400-normal', 'Abril Fatface', 'display'], ['yeseva-one/yeseva-one-latin-400-normal', 'Yeseva One', 'display'],
  ['playfair-display/playfair-display-latin-900-normal', 'Playfair Display Black', 'display'], ['archivo-black/archivo-black-latin-400-normal', 'Archivo Black', 'display'], ['bricolage-grotesque/bricolage-grotesque-latin-800-normal', 'Bricolage Grotesque', 'display'],
  ['righteous/righteous-latin-400-normal', 'Righteous', 'display'], ['bungee/bungee-latin-400-normal', 'Bungee', 'display'], ['shrikhand/shrikhand-latin-400-normal', 'Shrikhand', 'display'], ['monoton/monoton-latin-400-normal', 'Monoton', 'display'],
  ['rubik-mono-one/rubik-mono-one-latin-400-normal', 'Rubik Mono One', 'display'], ['press-start-2p/press-start-2p-latin-400-normal', 'Press Start 2P', 'display'], ['titan-one/titan-one-latin-400-normal', 'Titan One', 'display'],
  ['luckiest-guy/luckiest-guy-latin-400-normal', 'Luckiest Guy', 'display'], ['fredoka/fredoka-latin-600-normal', 'Fredoka', 'display'], ['pacifico/pacifico-latin-400-normal', 'Pacifico', 'script'], ['lobster/lobster-latin-400-normal', 'Lobster', 'script'],
  ['satisfy/satisfy-latin-400-normal', 'Satisfy', 'script'], ['dancing-script/dancing-script-latin-700-normal', 'Dancing Script', 'script'], ['caveat/caveat-latin-700-normal', 'Caveat', 'hand-drawn'],
  ['permanent-marker/permanent-marker-latin-400-normal', 'Permanent Marker', 'hand-drawn'], ['chewy/chewy-latin-400-normal', 'Chewy', 'hand-drawn'], ['gloria-hallelujah/gloria-hallelujah-latin-400-normal', 'Gloria Hallelujah', 'hand-drawn'],
  ['special-elite/special-elite-latin-400-normal', 'Special Elite', 'hand-drawn'], ['josefin-sans/josefin-sans-latin-600-normal', 'Josefin Sans', 'text'], ['work-sans/work-sans-latin-700-normal', 'Work Sans', 'text'],
  ['merriweather/merriweather-latin-700-normal', 'Merriweather', 'text'], ['cormorant-garamond/cormorant-garamond-latin-700-normal', 'Cormorant Garamond', 'text'], ['amiri/amiri-latin-700-normal', 'Amiri', 'text'],
  ['cairo/cairo-arabic-800-normal', 'Cairo', 'display', 'Arabic'], ['amiri/amiri-arabic-700-normal', 'Amiri Arabic', 'text', 'Arabic'], ['hind/hind-devanagari-700-normal', 'Hind', 'text', 'Devanagari'], ['kalam/kalam-devanagari-700-normal', 'Kalam', 'hand-drawn', 'Devanagari'],
];

export const FONTS: readonly (FontEntry & { readonly file: string })[] = ROWS.map(([file, name, category, script = 'Latin']) => ({ id: file.split('/')[1].replace(/-normal$/, ''), name, category, script, file: `@fontsource/${file.split('/')[0]}/files/${file.split('/')[1]}.woff2` }));
