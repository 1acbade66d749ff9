const graphemes = new Intl.Segmenter('en', { granularity: 'grapheme' });

/** Text without halves of letters: a lone surrogate, which no file or database can hold, becomes U+FFFD. */
export const wholeLetters = (text: string): string =>
  text.replace(/[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g, '\uFFFD');

/** The beginning of a text, cut between letters as people see them (UAX 29), at most `most` UTF-16 units long. */
export function cutText(text: string, most: number): string {
  if (text.length <= most) return text;
  let end = 0;
  // A little more than can be kept is enough to find the last boundary.
  for (const { index, segment } of graphemes.segment(text.slice(0, most + 64))) {
    if (index + segment.length > most) break;
    end = index + segment.length;
  }
  return text.slice(0, end);
}

/**
 * A name made of any text: one line, no blanks at its ends, whole letters, at most `most` UTF-16 units; `otherwise`
 * when nothing is left.
 */
export const shortName = (text: string, most: number, otherwise: string): string =>
  cutText(wholeLetters(text).replace(/\s+/g, ' ').trim(), most).trim() || otherwise;
