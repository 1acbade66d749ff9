import type { Scene } from '../model/scene.js';
import { kindOf } from '../layers/layer-kinds.js';
import { ownValue } from '../units/own-value.js';
import type { DesignDocument, Layer } from '../model/design.js';
import { backdropIdsOf } from './scenes.js';

type Names = Readonly<Record<string, string>>;

/** A design with its pictures under other ids. Layers whose picture is not among them are left out. */
export const withAssets = (design: DesignDocument, ids: Names): DesignDocument =>
  carried(withBackdrops(design, ids), (layer) => {
    const from = kindOf(layer).assetOf(layer);
    if (from === null) return layer;
    const assetId = ownValue(ids, from);
    return assetId === undefined ? null : kindOf(layer).carried(layer, { assetId });
  });

/** Scenes before a picture that was not carried along stand before their plain colour. */
function withBackdrops(design: DesignDocument, ids: Names): DesignDocument {
  if (!backdropIdsOf(design).some((id) => ownValue(ids, id) !== id)) return design;
  const moved = <S extends Pick<Scene, 'behind'>>(scene: S): S => {
    if (scene.behind?.kind !== 'picture') return scene;
    const assetId = ownValue(ids, scene.behind.assetId);
    const { behind, ...plain } = scene;
    return assetId === undefined ? (plain as S) : { ...scene, behind: { ...behind, assetId } };
  };
  return {
    ...design,
    ...(design.scene ? { scene: moved(design.scene) } : {}),
    ...(design.scenes ? { scenes: design.scenes.map(moved) } : {}),
  };
}

/** A design with its lettering's fonts under other ids; those not named stay. */
export const withFonts = (design: DesignDocument, ids: Names): DesignDocument =>
  carried(design, (layer) => {
    const from = kindOf(layer).fontOf(layer);
    return from === null ? layer : kindOf(layer).carried(layer, { fontId: ownValue(ids, from) });
  });

/** The same object when nothing changes. */
function carried(design: DesignDocument, change: (layer: Layer) => Layer | null): DesignDocument {
  const layers = design.layers.map(change);
  return layers.every((layer, i) => layer === design.layers[i])
    ? design
    : { ...design, layers: layers.filter((layer) => layer !== null) };
}
