import { isAllOutlines } from '../recipes/recipe.js';
import { fileKind, fileTypeFor, fileTypeWords } from '../requirement/file-kinds.js';
import type { Check } from './check.js';

/** None of the kinds of file that a channel takes can hold what it demands. */
export const fileType: Check = {
  hinders: ['file-type'],
  find: ({ requirement, seen, facts }) => {
    const { channel, fileTypes, mode, transparency } = requirement;
    const layers = seen.map(({ layer }) => layer);
    if (fileTypeFor(requirement, isAllOutlines(layers, facts)) !== null) return [];
    const outlines = fileTypes.some((type) => fileKind(type).holds === 'outlines');
    const wants = `${mode === 'rgb' ? 'RGB' : mode === 'cmyk' ? 'CMYK' : 'grey'}${transparency === 'required' ? ' with transparency' : ''}`;
    return [
      {
        code: 'file-type',
        severity: 'blocks',
        title: 'No file type can hold this',
        layerId: null,
        where: null,
        fix: null,
        sentence: `${channel} takes ${fileTypeWords(fileTypes)} and wants ${wants}. ${
          outlines && fileTypeFor(requirement, true) !== null
            ? 'An SVG holds outlines alone, and a layer here is a picture, is rubbed out in places, or is printed as dots. Redraw it as outlines, or leave it out.'
            : 'No such file can hold that. Look at the requirement: one of them must be otherwise.'
        }`,
      },
    ];
  },
};
