import UTIF from 'utif2';
import { hazeOf, patchesOf, around, type Place, type Remark, type Shown } from './marks.js';
import type { Trade } from './print-shop.js';

/** Most ink that its film holds on one spot, percent of one full ink, and the share of the print that may have more. */
const MOST_INK = 320;
const MORE_INK = 0.005;
const LEAST_DPI = 240;
/** Half-clear ink over more of the print than this does not take the glue. */
const MOST_HAZE = 0.1;
/** Widest and longest sheet of film, mm. */
const FILM = { width: 310, height: 420 };
/** Smallest piece that stays on the film when it is peeled, mm. */
const PIECE_MM = 0.7;
/** Tags of TIFF 6.0 and, for profiles, of the ICC's own (ICC.1, annex B.4). */
const [WIDTH, HEIGHT, BITS, PHOTOMETRIC, SAMPLES, X_DPI, Y_DPI, UNIT, EXTRA, PROFILE] = [
  't256',
  't257',
  't258',
  't262',
  't277',
  't282',
  't283',
  't296',
  't338',
  't34675',
];
const SEPARATED = 5;

/** Seamwide Transfers: prints four inks on film that is pressed onto cloth. Prices in pence. */
export const SEAMWIDE: Trade = {
  letter: 'S',
  prices: [
    [100, 210],
    [25, 290],
    [1, 460],
  ],
  setUp: 900,
  currency: 'GBP',
  days: 4,
  inspect,
};

/** The whole numbers of a tag, or its fractions as pairs. */
type Tags = Readonly<Record<string, ArrayLike<number> | undefined>>;

/** Looks at a file as the person at the film does: with a reader of this shop's own. */
function inspect(bytes: Uint8Array): { readonly remarks: readonly Remark[]; readonly shown: Shown | null } {
  const remarks: Remark[] = [];
  const tell = (text: string, where: Place | null = null): void => void remarks.push({ text, where });
  const read = opened(bytes);
  if (!read) {
    tell('We cannot open this. We print from TIFF and from nothing else.');
    return { remarks, shown: null };
  }
  const { tags, data, width, height } = read;
  const samples = tags[SAMPLES]?.[0] ?? 0;
  if (tags[PHOTOMETRIC]?.[0] !== SEPARATED || tags[BITS]?.[0] !== 8 || (samples !== 4 && samples !== 5)) {
    tell('It is not in our four inks: we need CMYK of 8 bits.');
    return { remarks, shown: null };
  }
  const perInch = (tag: string): number => {
    const [above, below] = (tags[tag] as unknown as readonly [readonly [number, number]] | undefined)?.[0] ?? [0, 1];
    return below > 0 ? (above / below) * (tags[UNIT]?.[0] === 3 ? 2.54 : 1) : 0;
  };
  const [across, down] = [perInch(X_DPI), perInch(Y_DPI)];
  if (!across || !down || tags[UNIT]?.[0] === 1) tell('The file does not say how large it is: no resolution.');
  else if (Math.abs(across - down) > 0.5) tell('Its resolution is not the same both ways.');
  else if (across < LEAST_DPI) tell(`${Math.round(across)} DPI is too coarse for film; ${LEAST_DPI} is the least.`);
  const perMm = (across || 300) / 25.4;
  if (width / perMm > FILM.width || height / perMm > FILM.height)
    tell(
      `${Math.round(width / perMm)} × ${Math.round(height / perMm)} mm does not fit our film of ${FILM.width} × ${FILM.height} mm.`,
    );
  const profile = profileOf(tags[PROFILE]);
  if (!profile) tell('It has no colour profile, so nobody knows what its inks were mixed for.');
  else if (profile !== 'prtr CMYK') tell('Its profile is not that of a press with four inks.');
  const whole = { x: 0, y: 0, width, height };
  const shown = { data: asLight(data, samples), channels: 4, width, height };
  if (samples !== 5 || !tags[EXTRA]?.[0]) {
    tell('There is nothing clear in it: we would print the whole sheet, box and all.', whole);
    return { remarks, shown };
  }
  const alpha = new Uint8Array(width * height);
  const heavy = new Uint8Array(width * height);
  let over = 0;
  let most = 0;
  for (let at = 0; at < alpha.length; at++) {
    alpha[at] = data[at * samples + 4];
    if (alpha[at] < 128) continue;
    let sum = 0;
    for (let ink = 0; ink < 4; ink++) sum += data[at * samples + ink];
    const percent = (sum * 100) / 255;
    most = Math.max(most, percent);
    if (percent <= MOST_INK + 1) continue;
    heavy[at] = 1;
    over++;
  }
  const { ink, haze } = hazeOf(alpha, width);
  if (!ink) tell('The file is empty.');
  const corners = [0, width - 1, (height - 1) * width, height * width - 1];
  if (corners.every((at) => alpha[at] === 255)) tell('All four corners are inked: that is a box on the shirt.', whole);
  if (over > MORE_INK * ink) {
    const [worst] = patchesOf(heavy, width, height).sort((a, b) => b.area - a.area);
    tell(
      `Up to ${Math.round(most)} % of ink on one spot; our film holds ${MOST_INK} %. Here is the worst of it.`,
      around(worst, perMm, width, height),
    );
  }
  if (haze > MOST_HAZE * ink)
    tell(`${Math.round((haze / ink) * 100)} % of the ink is half clear, and the glue does not hold there. Use dots.`);
  const pieces = patchesOf(
    alpha.map((value) => (value > 24 ? 1 : 0)),
    width,
    height,
  ).filter(({ area }) => area < (PIECE_MM * perMm) ** 2);
  if (pieces.length > 2)
    tell(
      `${pieces.length} pieces smaller than ${PIECE_MM} mm: they come off with the film. Here is one.`,
      around(pieces[0], perMm, width, height),
    );
  return { remarks, shown };
}

/** The first picture of a TIFF; null for whatever is none, or is not whole. */
function opened(bytes: Uint8Array): { tags: Tags; data: Uint8Array; width: number; height: number } | null {
  try {
    const buffer = Uint8Array.from(bytes).buffer;
    const [page] = UTIF.decode(buffer);
    UTIF.decodeImage(buffer, page);
    const tags = page as unknown as Tags;
    const [width, height] = [tags[WIDTH]?.[0] ?? 0, tags[HEIGHT]?.[0] ?? 0];
    const data = page.data as Uint8Array | undefined;
    const isWhole = data && width > 0 && height > 0 && data.length >= width * height * (tags[SAMPLES]?.[0] ?? 1);
    return isWhole ? { tags, data, width, height } : null;
  } catch {
    return null;
  }
}

/** Class and colour space of a profile (ICC.1, 7.2.5 and 7.2.6), as `prtr CMYK`; null where there is none. */
function profileOf(bytes: ArrayLike<number> | undefined): string | null {
  if (!bytes || bytes.length < 128) return null;
  const word = (at: number): string => String.fromCharCode(...Array.from({ length: 4 }, (_, i) => bytes[at + i]));
  return word(36) === 'acsp' ? `${word(12)} ${word(16)}` : null;
}

/** Inks as they look on a screen, roughly: good enough to point at a place. */
function asLight(data: Uint8Array, samples: number): Uint8Array {
  const out = new Uint8Array((data.length / samples) * 4);
  for (let i = 0, at = 0; at < out.length; i += samples, at += 4) {
    for (let ink = 0; ink < 3; ink++) out[at + ink] = ((255 - data[i + ink]) * (255 - data[i + 3])) / 255;
    out[at + 3] = samples === 5 ? data[i + 4] : 255;
  }
  return out;
}
