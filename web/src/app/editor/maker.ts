import { Injectable, inject, signal } from '@angular/core';
import type { Asset } from '@kettle/contract';
import type { Graphic } from '@kettle/core/drawing';
import { apply, invert, type Point } from '@kettle/core/geometry';
import type { FreehandLayer, Layer, ShapeKind, Stroke, InkedLayer } from '@kettle/core/model';
import {
  addStroke,
  freehandLayer,
  MAX_STROKES,
  reaches,
  rubOut,
  shapeLayer,
  strokePieces,
  graphicLayer,
} from '@kettle/core/drawing';
import {
  addLayer,
  changeException,
  mapLayers,
  pictureLayer,
  textLayer,
  together,
  unsetLettering,
} from '@kettle/core/document';
import { newLayerId, nameOf } from '../data/intake';
import { Notices } from '../data/notices';
import { Editor } from './editor';
import { Tools } from './tools';
import { Typesetter } from './typesetter';

/** Face that a design's first lettering begins with. */
const FIRST_FACE = 'fraunces-latin-900';

/** Puts new layers into the design, in front of the others. Provided by the bench. */
@Injectable()
export class Maker {
  private readonly editor = inject(Editor);
  private readonly tools = inject(Tools);
  private readonly typesetter = inject(Typesetter);
  private readonly notices = inject(Notices);
  /** The freehand layer that strokes go to while the brush is out. */
  private readonly canvasOfBrush = signal<string | null>(null);

  picture(asset: Asset): void {
    this.add((field) => pictureLayer(newLayerId(), nameOf(asset.filename), asset, field));
  }

  /** A shape in a colour that is seen on what lies under it. */
  shape(kind: ShapeKind): void {
    this.add(
      (field) => shapeLayer(newLayerId(), kind, field, '#000000'),
      (layer) => this.inReadableColour(layer),
    );
  }

  graphic(graphic: Graphic): void {
    this.add((field) => graphicLayer(newLayerId(), graphic, field));
  }

  /** Lettering, set in the face used last, ready to be written over. */
  text(text = 'Your words', edit = true): void {
    const design = this.editor.desk.document();
    if (!design) return;
    const last = design.layers.findLast((layer) => layer.kind === 'text');
    const set = { text, fontId: last?.kind === 'text' ? last.fontId : FIRST_FACE };
    const id = newLayerId();
    // It is there at once, and written over at once; the typesetter sets it as soon as the server answers.
    this.add(
      (field) => textLayer(id, set, unsetLettering(text), field, '#000000'),
      (layer) => this.inReadableColour(layer),
      this.typesetter.stepOf(id),
    );
    if (edit) this.editor.editing.set(id);
  }

  /**
   * A line drawn on the chosen canvas. It joins the selected freehand layer, or begins one where that is full or there
   * is none.
   */
  stroke(points: readonly (Point & { pressure: number })[]): void {
    const current = this.editor.current();
    if (!current || !points.length) return;
    const back = invert(current.layout.toCanvas);
    const { size, hardness, opacity, hex, erase } = this.tools.brush();
    const drawn: Stroke = {
      points: points.flatMap((point) => {
        const { x, y } = apply(back, point);
        return [x, y, point.pressure];
      }),
      size: size / current.layout.factor,
      hardness,
      opacity,
      hex,
      erase,
    };
    const pieces = strokePieces(drawn);
    if (erase) {
      this.rubOut(pieces);
      return;
    }
    const target = this.freehandLayer();
    const room = target && target.strokes.length + pieces.length <= MAX_STROKES;
    const joined = (layer: FreehandLayer, strokes: readonly Stroke[]): FreehandLayer =>
      strokes.reduce(addStroke, layer);
    if (target && room) {
      this.editor.edit(mapLayers([target.id], (layer) => (layer.kind === 'freehand' ? joined(layer, pieces) : layer)));
      this.editor.desk.settle();
      return;
    }
    const id = newLayerId();
    this.put(joined(freehandLayer(id, pieces[0]), pieces.slice(1)));
    this.canvasOfBrush.set(id);
  }

  /** Rubs out of what is selected, and out of nothing else. @param strokes on the field, mm */
  private rubOut(strokes: readonly Stroke[]): void {
    const held = this.editor.held();
    const free = held.filter((layer) => !layer.locked && !layer.hidden);
    if (!free.length) {
      this.notices.say(
        held.length
          ? 'What is selected is locked or hidden, so nothing was rubbed out of it.'
          : 'Select what the eraser shall rub out of: a picture, lettering, a shape, a group.',
      );
      return;
    }
    const reached = free.filter((layer) => strokes.some((stroke) => reaches(stroke, layer)));
    if (!reached.length) {
      this.notices.say('Nothing of what is selected lies there, so nothing was rubbed out.');
      return;
    }
    const seen = new Map(reached.map(({ id, place }) => [id, place]));
    this.editor.editEverywhere(
      mapLayers([...seen.keys()], (layer) =>
        strokes.reduce((rubbed, stroke) => rubOut(rubbed, stroke, seen.get(layer.id)), layer),
      ),
      `rub ${++this.rubs}`,
    );
    this.editor.desk.settle();
  }
  private rubs = 0;

  /** The layer a stroke goes to. */
  private freehandLayer(): FreehandLayer | null {
    const selected = this.editor.selected();
    const layer =
      selected?.kind === 'freehand' ? selected : this.editor.layers().find((one) => one.id === this.canvasOfBrush());
    return layer?.kind === 'freehand' && !layer.locked && !layer.hidden ? layer : null;
  }

  private inReadableColour<T extends InkedLayer>(layer: T): T {
    return { ...layer, fill: this.editor.freshColour(layer.place) };
  }

  /**
   * Puts a new layer on the chosen canvas at its own printed size, as far as there is room for it.
   * @param make the layer on a field as large as the canvas
   * @param dress what is done to it once it lies there
   * @param step what it is one step back with, when more comes of it by itself
   */
  private add<T extends Layer>(
    make: (field: { width: number; height: number }) => T,
    dress: (layer: T) => T = (layer) => layer,
    step: string | null = null,
  ): void {
    const design = this.editor.desk.document();
    if (!design) return;
    const layout = this.editor.current()?.layout;
    if (!layout) {
      this.put(dress(make(design.field)), step);
      return;
    }
    const { canvas, factor, toCanvas } = layout;
    const layer = make({ width: canvas.widthMm, height: canvas.heightMm });
    const place = {
      ...layer.place,
      ...apply(invert(toCanvas), layer.place),
      width: layer.place.width / factor,
      height: layer.place.height / factor,
    };
    this.put(dress({ ...layer, place }), step);
  }

  /** On one of several pieces of cloth it lies on that one alone. */
  private put(layer: Layer, step: string | null = null): void {
    const here = this.editor.current()?.requirement;
    // The first art of all is what covers the cloth.
    const others =
      here?.panel && this.editor.layers().length
        ? this.editor.targets().filter(({ requirement }) => requirement.panel && requirement.id !== here.id)
        : [];
    this.editor.edit(
      together(
        addLayer(layer),
        ...[...new Set(others.map(({ requirement }) => requirement.id))].map((id) =>
          changeException(id, layer.id, { hidden: true }),
        ),
      ),
      step,
    );
    if (others.length)
      this.notices.say(
        `It lies on ${here!.name} alone. To have it on another too, choose it there and press As everywhere.`,
      );
    if (step === null) this.editor.desk.settle();
    this.editor.selection.set([layer.id]);
  }
}
