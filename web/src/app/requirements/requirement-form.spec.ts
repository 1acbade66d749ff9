import type { Requirement } from '@kettle/core/model';
import { copyOf, fieldsOf, fill, requirementForm } from './requirement-form';

describe('the requirement form', () => {
  const stored: Requirement = {
    id: 'r1',
    revision: 3,
    channel: 'Quillmere Shops',
    name: 'Sticker',
    product: 'Sticker',
    width: 80,
    height: 80,
    unit: 'mm',
    dpi: 600,
    mode: 'rgb',
    transparency: 'required',
    fileTypes: ['png', 'tiff'],
    maxBytes: 10_500_000,
    sizeRule: 'at-least',
    safeInsetMm: 3,
    placement: { rule: 'fit', anchor: 'centre', scale: 1, offsetX: 0, offsetY: 0 },
    colourways: [
      { name: 'White', hex: '#FFFFFF' },
      { name: 'Sky', hex: '#9CC3DB' },
    ],
    note: 'Round.',
  };

  it('gives back what it was filled with', () => {
    const form = requirementForm();
    fill(form, stored);
    const { id: _id, revision: _revision, ...fields } = stored;
    expect(fieldsOf(form)).toEqual(fields);
    expect(form.valid).toBeTrue();
    expect(form.pristine).toBeTrue();
    expect(copyOf(stored)).toEqual({ ...fields, name: 'Sticker copy' });
  });

  it('takes an empty byte limit as none', () => {
    const form = requirementForm();
    fill(form, { ...copyOf(stored), maxBytes: null });
    expect(fieldsOf(form).maxBytes).toBeNull();
  });

  it('refuses nonsense with the contract’s own sentences', () => {
    const form = requirementForm();
    fill(form, stored);
    const wrong = () => Object.keys((form.errors?.['fields'] ?? {}) as object);
    form.controls.dpi.setValue(null);
    expect(wrong()).toContain('dpi');
    form.controls.dpi.setValue(600);
    form.controls.width.setValue(-1);
    expect(wrong()).toContain('width');
    form.controls.width.setValue(9_000_000);
    expect(wrong()).toContain('width');
    form.controls.width.setValue(80);
    form.controls.fileTypes.setValue([]);
    expect(wrong()).toEqual(['fileTypes']);
  });
});
