import type { PictureCrop } from '@kettle/core/model';

const WHAT: Readonly<Record<PictureCrop['of'], string>> = {
  whole: 'whole',
  print: 'the print',
  detail: 'a detail',
  box: 'a box of its own',
};

/** What a picture shows of its blank, in a few words. */
export const cropWords = (crop: PictureCrop | undefined): string =>
  crop ? `${WHAT[crop.of]}${crop.of === 'box' ? '' : `, ${crop.shape}`}` : 'whole';
