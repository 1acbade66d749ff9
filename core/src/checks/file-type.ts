import type { Check } from './check.js';

/** A demand for a kind of file that is not made here. */
export const fileType: Check = {
  hinders: ['file-type'],
  find: ({ requirement: { channel, fileTypes, mode } }) =>
    fileTypes.includes('png') && mode !== 'cmyk'
      ? []
      : [
          {
            code: 'file-type',
            severity: 'blocks',
            title: 'This file type is not made here yet',
            layerId: null,
            where: null,
            fix: null,
            sentence:
              `${channel} wants ${mode === 'cmyk' ? 'CMYK ' : ''}${fileTypes.map((type) => type.toUpperCase()).join(' or ')}. ` +
              'Kettle Sheet writes RGB and grey PNG print files today, so no file is made for this target.',
          },
        ],
};
