import { Injectable, computed, inject } from '@angular/core';
import { layerSchema, refuse } from '@kettle/contract';
import { invert, mapBox, unite, type Box } from '@kettle/core/geometry';
import type { BlendMode } from '@kettle/core/raster';
import type { Layer } from '@kettle/core/model';
import {
  alignShifts,
  blendLayers,
  changeException,
  copiesOf,
  duplicateLayers,
  fadeLayers,
  groupLayers,
  hideLayers,
  lockLayers,
  matchFactors,
  placesOf,
  pastedLayers,
  removeLayers,
  reorderLayers,
  scaledAbout,
  shifted,
  spreadShifts,
  together,
  ungroup,
  unitsOf,
  type Edge,
  type Unit,
} from '@kettle/core/document';
import { newLayerId } from '../data/intake';
import { Notices } from '../data/notices';
import { Editor, type Places } from './editor';

/** Type of layers on the clipboard. */
const CLIP_TYPE = 'application/x-kettle-sheet-layers+json';

/** What is done to several layers at once. Provided by the bench. */
@Injectable()
export class Arranging {
  private readonly editor = inject(Editor);
  private readonly notices = inject(Notices);

  /** Selected layers and groups that may be moved. */
  readonly units = computed<readonly Unit[]>(() => unitsOf(this.editor.held().filter((layer) => !layer.locked)));
  readonly groups = computed(() => [
    ...new Set(this.editor.held().flatMap((layer) => (layer.group ? [layer.group] : []))),
  ]);
  /** True when the selection is one group and nothing else. */
  readonly isGroup = computed(
    () =>
      this.groups().length === 1 && this.editor.held().length > 1 && this.editor.held().every((layer) => layer.group),
  );

  /** Lines units up with each other; one alone goes to the canvas's safe area. */
  align(edge: Edge): void {
    const [units, current] = [this.units(), this.editor.current()];
    if (!units.length || !current) return;
    const boxes = units.map((unit) => unit.box);
    const frame: Box = units.length > 1 ? unite(boxes)! : mapBox(invert(current.layout.toCanvas), current.layout.safe);
    const by = alignShifts(boxes, edge, frame);
    this.place(placesOf(units, (place, _, i) => shifted(place, by[i])));
  }

  spread(axis: 'x' | 'y', by: 'gaps' | 'centres'): void {
    const units = this.units();
    const shifts = spreadShifts(
      units.map((unit) => unit.box),
      axis,
      by,
    );
    this.place(placesOf(units, (place, _, i) => shifted(place, shifts[i])));
  }

  /** Gives all units the first one's width or height, in proportion, about their own middles. */
  match(size: 'width' | 'height'): void {
    const units = this.units();
    const factors = matchFactors(
      units.map((unit) => unit.box),
      size,
    );
    this.place(
      placesOf(units, (place, { box }, i) =>
        scaledAbout(place, { x: box.x + box.width / 2, y: box.y + box.height / 2 }, factors[i]),
      ),
    );
  }

  flip(way: 'flipX' | 'flipY'): void {
    const units = this.units();
    const box = unite(units.map((unit) => unit.box));
    if (!box) return;
    const about = { x: box.x + box.width / 2, y: box.y + box.height / 2 };
    this.place(
      placesOf(units, (place) => ({
        ...place,
        [way]: !place[way],
        turn: units.length > 1 || units[0].layers.length > 1 ? -place.turn : place.turn,
        ...(way === 'flipX' ? { x: 2 * about.x - place.x } : { y: 2 * about.y - place.y }),
      })),
    );
  }

  group(): void {
    const ids = this.editor.selection();
    if (ids.length < 2) return;
    this.change(groupLayers(ids, newLayerId(), 'Group'));
    this.editor.select(ids);
  }

  ungroup(): void {
    this.change(ungroup(this.groups()));
  }

  lock(ids: readonly string[], locked: boolean): void {
    this.change(lockLayers(ids, locked));
  }

  /** Hides or shows layers: everywhere, or on the chosen target alone. */
  hide(ids: readonly string[], hidden: boolean): void {
    const current = this.editor.current();
    this.change(
      this.editor.alone() && current
        ? together(...ids.map((id) => changeException(current.requirement.id, id, { hidden }, current.cloth)))
        : hideLayers(ids, hidden),
    );
  }

  fade(opacity: number): void {
    this.editor.editEverywhere(
      fadeLayers(this.editor.selection(), opacity),
      `opacity ${this.editor.selection().join()}`,
    );
  }
  blend(mode: BlendMode): void {
    this.change(blendLayers(this.editor.selection(), mode));
  }

  duplicate(): void {
    const held = this.layersOf(this.editor.selection());
    if (!held.length) return;
    const copies = copiesOf(held, newLayerId);
    this.change(
      duplicateLayers(
        held.map((layer) => layer.id),
        copies,
      ),
    );
    this.editor.selection.set(copies.map((layer) => layer.id));
  }

  remove(ids: readonly string[] = this.editor.selection()): void {
    const locked = this.editor
      .layers()
      .filter((layer) => ids.includes(layer.id) && layer.locked)
      .map((layer) => layer.id);
    this.change(removeLayers(ids));
    this.editor.selection.set(locked);
    if (locked.length)
      this.notices.say(
        locked.length === 1
          ? 'A locked layer stays. Unlock it to delete it.'
          : 'Locked layers stay. Unlock them to delete them.',
      );
  }

  /** Moves the selected layers one step towards front or back, or all the way. */
  order(to: 'back' | 'backwards' | 'forwards' | 'front'): void {
    this.change(reorderLayers(this.editor.selection(), to));
  }

  selectAll(): void {
    this.editor.selection.set(
      this.editor
        .layers()
        .filter((layer) => !layer.hidden && !layer.locked)
        .map((layer) => layer.id),
    );
  }

  /** Drops what the chosen target does differently with the selected layers. */
  dropExceptions(): void {
    const current = this.editor.current();
    if (current)
      this.change(
        together(
          ...this.editor
            .selection()
            .flatMap((id) => [
              changeException(current.requirement.id, id, null),
              ...(current.cloth ? [changeException(current.requirement.id, id, null, current.cloth)] : []),
            ]),
        ),
      );
  }

  copy(clipboard: DataTransfer): boolean {
    const layers = this.layersOf(this.editor.selection());
    if (!layers.length) return false;
    clipboard.setData(CLIP_TYPE, JSON.stringify(layers));
    // Another program gets the words, if there are any.
    clipboard.setData('text/plain', layers.flatMap((layer) => (layer.kind === 'text' ? [layer.text] : [])).join('\n'));
    return true;
  }

  /** Puts copied layers in front. False when the clipboard holds none. */
  paste(clipboard: DataTransfer): boolean {
    const text = clipboard.getData(CLIP_TYPE);
    if (!text) return false;
    const copied = readLayers(text);
    if (!copied) {
      this.notices.complain('What is on the clipboard are no layers that can be used. Copy them again.');
      return true;
    }
    const layers = pastedLayers(copied, this.editor.layers(), newLayerId);
    this.change((design) =>
      duplicateLayers(
        design.layers.map((layer) => layer.id),
        layers,
      )(design),
    );
    this.editor.selection.set(layers.map((layer) => layer.id));
    return true;
  }

  /** Layers as the design itself has them. */
  private layersOf(ids: readonly string[]): Layer[] {
    return this.editor.desk.document()?.layers.filter((layer) => ids.includes(layer.id)) ?? [];
  }
  private place(places: Places): void {
    this.editor.placeAll(places);
    this.editor.desk.settle();
  }
  private change(edit: Parameters<Editor['edit']>[0]): void {
    this.editor.edit(edit);
    this.editor.desk.settle();
  }
}

/** Layers from a clipboard, which any page may have written to; null when they are none. */
function readLayers(text: string): Layer[] | null {
  try {
    const value: unknown = JSON.parse(text);
    return Array.isArray(value) && value.length > 0 && value.every((one) => refuse(layerSchema, one) === null)
      ? (value as Layer[])
      : null;
  } catch {
    return null;
  }
}
