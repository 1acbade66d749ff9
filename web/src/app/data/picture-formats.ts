import { PICTURE_ADVICE, PICTURE_FORMATS } from '@kettle/core/model';

/** Kinds of files that pictures of a listing come in, each with what speaks for it. */
export const FORMAT_CHOICES = PICTURE_FORMATS.map((id) => ({
  id,
  words: id === 'webp' ? 'WebP' : id.toUpperCase(),
  title: PICTURE_ADVICE[id],
}));
