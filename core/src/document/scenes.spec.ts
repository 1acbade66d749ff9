import type { Scene } from '../model/scene.js';
import { design } from '../testing/samples.js';
import type { DesignDocument } from '../model/design.js';
import {
  changeScene,
  copyScene,
  dropScene,
  keepScene,
  MOST_SCENES,
  moveScene,
  renameScene,
  showScene,
} from './scenes.js';

const shirt: Scene = {
  blankId: 'tee-front',
  areaId: 'full-front',
  requirementId: 'tee',
  garment: '#1F2B4D',
  backdrop: '#E4E1D9',
  inkOpacity: 1,
  shadow: 0.6,
};
const mug: Scene = { ...shirt, blankId: 'mug-front', areaId: 'wrap' };
const names = ({ scenes }: DesignDocument) => (scenes ?? []).map(({ name }) => name);
const two = () => keepScene(mug, 'm', 'Mug')(keepScene(shirt, 't', 'Tee')(design()));

describe('kept scenes', () => {
  it('change along when what is shown is changed, and only then', () => {
    const kept = two();
    expect(names(kept)).toEqual(['Tee', 'Mug']);
    expect(kept.scene).toEqual({ ...mug, keptAs: 'm' });
    const red = changeScene({ ...kept.scene!, garment: '#A5442F' })(kept);
    expect(red.scenes!.map(({ garment }) => garment)).toEqual(['#1F2B4D', '#A5442F']);
    expect(red.scenes![1]).toEqual({ ...mug, id: 'm', name: 'Mug', garment: '#A5442F' });
    // Another blank that is only looked at leaves them all as they are.
    const looked = changeScene({ ...shirt, blankId: 'tote' })(red);
    expect(looked.scenes).toEqual(red.scenes);
    expect(looked.scene!.keptAs).toBeUndefined();
    expect(showScene('t')(looked).scene).toEqual({ ...shirt, keptAs: 't' });
    expect(showScene('none')(looked)).toBe(looked);
  });

  it('are named, copied behind their original, moved and taken away', () => {
    expect(names(renameScene('t', 'Front')(two()))).toEqual(['Front', 'Mug']);
    const copied = copyScene('t', { id: 'c', name: 'Tee 2' })(two());
    expect(names(copied)).toEqual(['Tee', 'Tee 2', 'Mug']);
    expect(copied.scene).toEqual({ ...shirt, keptAs: 'c' });
    expect(names(moveScene('m', 0)(copied))).toEqual(['Mug', 'Tee', 'Tee 2']);
    expect(names(moveScene('t', 2)(copied))).toEqual(['Tee 2', 'Mug', 'Tee']);
    expect(names(moveScene('none', 0)(copied))).toEqual(names(copied));
    // What is shown stays on the stage; the last one takes the list along.
    const dropped = dropScene('m')(two());
    expect([names(dropped), dropped.scene]).toEqual([['Tee'], mug]);
    expect(dropScene('t')(two()).scene!.keptAs).toBe('m');
    expect('scenes' in dropScene('t')(dropped)).toBeFalse();
  });

  it('are not kept without end', () => {
    let full = design();
    for (let i = 0; i < MOST_SCENES; i++) full = keepScene(shirt, `s${i}`, `Scene ${i}`)(full);
    expect(keepScene(mug, 'more', 'More')(full)).toBe(full);
    expect(copyScene('s0', { id: 'more', name: 'More' })(full)).toBe(full);
  });
});
