import { SAME_SIZE_TOP, type RequirementFields } from '@kettle/core/model';

/** A target of the bench: an exact transparent PNG of so many pixels. */
export const benchTarget = (i: number, width: number, height: number): RequirementFields => ({
  channel: 'Bench',
  name: `Target ${i}`,
  product: '',
  width,
  height,
  unit: 'px',
  dpi: 300,
  mode: 'rgb',
  transparency: 'required',
  fileTypes: ['png'],
  maxBytes: null,
  sizeRule: 'exact',
  safeInsetMm: 0,
  placement: { ...SAME_SIZE_TOP, rule: 'fit' },
  colourways: [{ name: 'White', hex: '#FFFFFF' }],
  note: '',
});
