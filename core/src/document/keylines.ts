import type { Cloth, DesignDocument, Keyline } from '../model/design.js';
import { changeTarget, mapLayers, type Edit } from './edits.js';

/** What a keyline goes around. */
export type KeylineOwner =
  | { readonly kind: 'design' }
  | { readonly kind: 'group'; readonly key: string }
  | { readonly kind: 'layer'; readonly id: string };

/** The line around something, or null. */
export function keylineOf(design: DesignDocument, owner: KeylineOwner): Keyline | null {
  switch (owner.kind) {
    case 'design':
      return design.keyline ?? null;
    case 'group':
      return (design.keylines && Object.hasOwn(design.keylines, owner.key) && design.keylines[owner.key]) || null;
    case 'layer':
      return design.layers.find((layer) => layer.id === owner.id)?.keyline ?? null;
  }
}

/**
 * Puts a line around something, or takes it away.
 * @param on the line around the whole design may differ on one target, or in one of its versions
 */
export function setKeyline(
  owner: KeylineOwner,
  keyline: Keyline | null,
  on: { readonly requirementId: string; readonly cloth: Cloth | null } | null = null,
): Edit {
  return (design) => {
    if (owner.kind === 'layer')
      return mapLayers([owner.id], (layer) => {
        const { keyline: _before, ...rest } = layer;
        return keyline ? { ...rest, keyline } : rest;
      })(design);
    if (owner.kind === 'group') {
      const { [owner.key]: _before, ...rest } = design.keylines ?? {};
      return { ...design, keylines: keyline ? { ...rest, [owner.key]: keyline } : rest };
    }
    if (!on) return withKeyline(design, keyline);
    const target = design.targets.find((one) => one.requirementId === on.requirementId);
    if (!target || on.cloth === null) return changeTarget(on.requirementId, { keyline })(design);
    const version = target.versions?.[on.cloth] ?? { layers: {} };
    return changeTarget(on.requirementId, {
      versions: { ...target.versions, [on.cloth]: { ...version, keyline } },
    })(design);
  };
}

function withKeyline(design: DesignDocument, keyline: Keyline | null): DesignDocument {
  const { keyline: _before, ...rest } = design;
  return keyline ? { ...rest, keyline } : rest;
}
