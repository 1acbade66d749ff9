import type { DesignDocument, Layer } from '../model/design.js';
import { withoutEmptyGroups, type Edit } from './edits.js';

/** Ids of layers with all members of their groups, in the order of the strip. */
export function wholeGroups(design: Pick<DesignDocument, 'layers'>, ids: readonly string[]): string[] {
  const groups = new Set(
    design.layers.flatMap((layer) => (layer.group && ids.includes(layer.id) ? [layer.group] : [])),
  );
  return design.layers
    .filter((layer) => ids.includes(layer.id) || (layer.group && groups.has(layer.group)))
    .map((layer) => layer.id);
}

/** Puts layers into one group, next to each other where the frontmost of them lies. */
export function groupLayers(ids: readonly string[], key: string, name: string): Edit {
  return (design) => {
    const members = design.layers.filter((layer) => ids.includes(layer.id));
    if (members.length < 2) return design;
    const front = design.layers.findLastIndex((layer) => ids.includes(layer.id));
    const before = design.layers.slice(0, front).filter((layer) => !ids.includes(layer.id));
    const grouped = members.map((layer) => ({ ...layer, group: key }));
    return withoutEmptyGroups({
      ...design,
      groups: { ...design.groups, [key]: name },
      layers: [...before, ...grouped, ...design.layers.slice(front + 1)],
    });
  };
}

/** Lets the members of groups go; they stay where they are. */
export const ungroup =
  (keys: readonly string[]): Edit =>
  (design) =>
    withoutEmptyGroups({
      ...design,
      layers: design.layers.map((layer) => {
        if (!layer.group || !keys.includes(layer.group)) return layer;
        const { group: _group, ...free } = layer;
        return free as Layer;
      }),
    });

export const renameGroup =
  (key: string, name: string): Edit =>
  (design) => ({ ...design, groups: { ...design.groups, [key]: name } });

/**
 * Moves a layer to an index of the strip, 0 at the back. Dropped between two members it joins their group; taken away
 * from its own, it leaves it.
 */
export function reorderLayer(id: string, index: number): Edit {
  return (design) => {
    const from = design.layers.findIndex((layer) => layer.id === id);
    const to = Math.min(design.layers.length - 1, Math.max(0, index));
    if (from < 0 || from === to) return design;
    const layers = [...design.layers];
    const [{ group, ...layer }] = layers.splice(from, 1);
    const [before, after] = [layers[to - 1]?.group, layers[to]?.group];
    const joined =
      before && before === after ? before : group && (before === group || after === group) ? group : undefined;
    layers.splice(to, 0, { ...layer, ...(joined ? { group: joined } : {}) } as Layer);
    return withoutEmptyGroups({ ...design, layers });
  };
}

/** Moves layers one step or all the way to the back or front, keeping their own order. */
export function reorderLayers(ids: readonly string[], to: 'back' | 'backwards' | 'forwards' | 'front'): Edit {
  return (design) => {
    const chosen = (layer: Layer) => ids.includes(layer.id);
    const rest = design.layers.filter((layer) => !chosen(layer));
    const moved = design.layers.filter(chosen);
    if (!moved.length || !rest.length) return design;
    const behind = design.layers.slice(0, design.layers.findIndex(chosen)).length;
    const last = design.layers.findLastIndex(chosen);
    const passed = design.layers.slice(0, last).filter((layer) => !chosen(layer)).length;
    let at = {
      back: 0,
      backwards: Math.max(0, behind - 1),
      forwards: Math.min(rest.length, passed + 1),
      front: rest.length,
    }[to];
    // A group is passed as a whole.
    while (rest[at - 1]?.group && rest[at - 1].group === rest[at]?.group) at += to === 'backwards' ? -1 : 1;
    const layers = [...rest.slice(0, at), ...moved, ...rest.slice(at)];
    return layers.every((layer, i) => layer === design.layers[i]) ? design : { ...design, layers };
  };
}
