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
import { Bench, type Places } from './bench';

/** Type of layers on the clipboard. */
const CLIP_TYPE = 'application/x-kettle-sheet-layers+json';

/** What is done to several layers at once. Provided by the bench. */
@Injectable()
export class Arranging {
  private readonly bench = inject(Bench);
  private readonly notices = inject(Notices);

  /** Selected layers and groups that may be moved. */
  readonly units = computed<readonly Unit[]>(() => unitsOf(this.bench.held().filter((layer) => !layer.locked)));
  readonly groups = computed(() => [
    ...new Set(this.bench.held().flatMap((layer) => (layer.group ? [layer.group] : []))),
  ]);
  /** True when the selection is one group and nothing else. */
  readonly isGroup = computed(
    () => this.groups().length === 1 && this.bench.held().length > 1 && this.bench.held().every((layer) => layer.group),
  );

  /** Lines units up with each other; one alone goes to the canvas's safe area. */
  align(edge: Edge): void {
    const [units, current] = [this.units(), this.bench.current()];
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
    const ids = this.bench.selection();
    if (ids.length < 2) return;
    this.change(groupLayers(ids, newLayerId(), 'Group'));
    this.bench.select(ids);
  }

  ungroup(): void {
    this.change(ungroup(this.groups()));
  }

  lock(ids: readonly string[], locked: boolean): void {
    this.change(lockLayers(ids, locked));
  }

  /** Hides or shows layers: everywhere, or on the chosen target alone. */
  hide(ids: readonly string[], hidden: boolean): void {
    const current = this.bench.current();
    this.change(
      this.bench.alone() && current
        ? together(...ids.map((id) => changeException(current.requirement.id, id, { hidden }, current.cloth)))
        : hideLayers(ids, hidden),
    );
  }

  fade(opacity: number): void {
    this.bench.editEverywhere(fadeLayers(this.bench.selection(), opacity), `opacity ${this.bench.selection().join()}`);
  }
  blend(mode: BlendMode): void {
    this.change(blendLayers(this.bench.selection(), mode));
  }

  duplicate(): void {
    const held = this.layersOf(this.bench.selection());
    if (!held.length) return;
    const copies = copiesOf(held, newLayerId);
    this.change(
      duplicateLayers(
        held.map((layer) => layer.id),
        copies,
      ),
    );
    this.bench.selection.set(copies.map((layer) => layer.id));
  }

  remove(ids: readonly string[] = this.bench.selection()): void {
    const locked = this.bench
      .layers()
      .filter((layer) => ids.includes(layer.id) && layer.locked)
      .map((layer) => layer.id);
    this.change(removeLayers(ids));
    this.bench.selection.set(locked);
    if (locked.length)
      this.notices.say(
        locked.length === 1
          ? 'A locked layer stays. Unlock it to delete it.'
          : 'Locked layers stay. Unlock them to delete them.',
      );
  }

  /** Moves the selected layers one step towards front or back, or all the way. */
  order(to: 'back' | 'backwards' | 'forwards' | 'front'): void {
    this.change(reorderLayers(this.bench.selection(), to));
  }

  selectAll(): void {
    this.bench.selection.set(
      this.bench
        .layers()
        .filter((layer) => !layer.hidden && !layer.locked)
        .map((layer) => layer.id),
    );
  }

  /** Drops what the chosen target does differently with the selected layers. */
  dropExceptions(): void {
    const current = this.bench.current();
    if (current)
      this.change(
        together(
          ...this.bench
            .selection()
            .flatMap((id) => [
              changeException(current.requirement.id, id, null),
              ...(current.cloth ? [changeException(current.requirement.id, id, null, current.cloth)] : []),
            ]),
        ),
      );
  }

  copy(clipboard: DataTransfer): boolean {
    const layers = this.layersOf(this.bench.selection());
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
    const layers = pastedLayers(copied, this.bench.layers(), newLayerId);
    this.change((design) =>
      duplicateLayers(
        design.layers.map((layer) => layer.id),
        layers,
      )(design),
    );
    this.bench.selection.set(layers.map((layer) => layer.id));
    return true;
  }

  /** Layers as the design itself has them. */
  private layersOf(ids: readonly string[]): Layer[] {
    return this.bench.desk.document()?.layers.filter((layer) => ids.includes(layer.id)) ?? [];
  }
  private place(places: Places): void {
    this.bench.placeAll(places);
    this.bench.desk.settle();
  }
  private change(edit: Parameters<Bench['edit']>[0]): void {
    this.bench.edit(edit);
    this.bench.desk.settle();
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
