import Konva from '#libraries/konva';
import { MM_PER_INCH } from '@kettle/core/units';
import { apply, compose, invert, rotate, translate, unitToField, type Viewport } from '@kettle/core/geometry';
import type { Layer } from '@kettle/core/model';
import { inkPlace, keylinesUnder } from '@kettle/core/layers';
import { paintKeyline } from '../paint/paint-keyline';
import { compositeOf, drawCopies } from '../paint/paint-layers';
import { paintUnturned, Sprites } from './sprites';
import type { CanvasPlace, StageContent } from './stage-content';
import { StillSheets } from './still-sheets';

type Context = CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D;

/**
 * The layers of a design as nodes of the stage, each painted from a bitmap of its own. While some move, all others lie
 * on one or two sheets.
 */
export class LayerNodes {
  private readonly nodes = new Map<string, Konva.Shape>();
  private readonly sprites = new Sprites();
  private readonly still: StillSheets;
  private content: StageContent | null = null;
  private view: Viewport = { scale: 1, left: 0, top: 0 };
  /** What moves while the others are laid together. */
  private moving: readonly Konva.Node[] | null = null;

  /** @param quiet layers of the stage that hear nothing while something is in hand */
  constructor(
    private readonly group: Konva.Group,
    private readonly work: Konva.Layer,
    private readonly quiet: readonly Konva.Layer[],
  ) {
    // Copies of repeated art lie under it: they are seen, and not taken hold of.
    this.group.add(
      new Konva.Shape({
        listening: false,
        sceneFunc: (context) => this.paintCopies(context._context),
      }),
    );
    this.still = new StillSheets(group, (context, { layer, node }) => this.paint(context, layer, node));
  }

  get frozen(): readonly Konva.Node[] | null {
    return this.moving;
  }

  of(id: string): Konva.Shape | undefined {
    return this.nodes.get(id);
  }

  /** Id of the layer that a node stands for. */
  idOf(target: Konva.Node): string | null {
    return this.nodes.get(target.name()) === target ? target.name() : null;
  }

  /** Shows the layers. Those in a hand stay where it has them: the document does not know their places yet. */
  show(content: StageContent, view: Viewport, inHand: readonly Konva.Node[] = []): void {
    this.content = content;
    this.view = view;
    const { design, current, editing } = content;
    const { toCanvas, factor } = current.layout;
    const ids = new Set(design.layers.map((layer) => layer.id));
    for (const [id, node] of this.nodes)
      if (!ids.has(id)) {
        node.destroy();
        this.nodes.delete(id);
      }
    this.sprites.keepOnly(ids);
    design.layers.forEach((layer, index) => {
      const node = this.nodes.get(layer.id) ?? this.add(layer.id);
      const { width, height, turn } = layer.place;
      const centre = apply(toCanvas, layer.place);
      if (!inHand.includes(node))
        node.setAttrs({
          x: centre.x,
          y: centre.y,
          width: width * factor,
          height: height * factor,
          offsetX: (width * factor) / 2,
          offsetY: (height * factor) / 2,
          rotation: turn,
          scaleX: 1,
          scaleY: 1,
        });
      node.setAttrs({
        opacity: layer.opacity,
        visible: !layer.hidden && layer.id !== editing,
        listening: !layer.locked,
        globalCompositeOperation: compositeOf(layer),
      });
      if (node.zIndex() !== index + 1) node.zIndex(index + 1);
    });
  }

  private add(id: string): Konva.Shape {
    const node = new Konva.Shape({
      name: id,
      sceneFunc: (context, shape) => {
        const layer = this.content?.design.layers.find((one) => one.id === id);
        // Where the print is shown, the art itself is not; it can be taken hold of all the same.
        if (layer && !this.content!.proofed) this.paint(context._context, layer, shape);
      },
      hitFunc: (context, shape) => {
        context.beginPath();
        context.rect(0, 0, shape.width(), shape.height());
        context.fillStrokeShape(shape);
      },
    });
    this.nodes.set(id, node);
    this.group.add(node);
    return node;
  }

  /** Paints a layer's bitmap into its node's box. */
  private paint(context: Context, layer: Layer, node: Konva.Shape): void {
    this.paintKeylines(context, layer);
    context.globalAlpha = layer.opacity;
    const density = this.work.getCanvas().getPixelRatio();
    const { scale } = this.view;
    const [width, height] = [node.width(), node.height()];
    const reach = ((inkPlace(layer).width - layer.place.width) / 2 / layer.place.width) * width;
    const margin = Math.ceil(reach * scale * density) + 1;
    const bitmap = this.sprites.of(
      layer,
      width * scale * density,
      height * scale * density,
      margin,
      this.content!.imageOf,
      { dpi: scale * density * MM_PER_INCH, showSoft: this.content!.showSoft && layer.opacity > 0 },
    );
    if (!bitmap) {
      paintUnturned(context, layer, width, height, this.content!.imageOf);
      return;
    }
    const [rx, ry] = [(margin / (bitmap.width - 2 * margin)) * width, (margin / (bitmap.height - 2 * margin)) * height];
    context.drawImage(bitmap, -rx, -ry, width + 2 * rx, height + 2 * ry);
  }

  private paintCopies(context: Context): void {
    if (!this.content?.design.repeat || this.content.proofed) return;
    const { design, current, imageOf } = this.content;
    const { widthMm: width, heightMm: height } = current.layout.canvas;
    context.save();
    context.beginPath();
    context.rect(0, 0, width, height);
    context.clip();
    drawCopies(context, design, current.layout.toCanvas, { x: 0, y: 0, width, height }, imageOf);
    context.restore();
  }

  /** Lines around layers lie under the hindmost of them, and move with it. */
  private paintKeylines(context: Context, layer: Layer): void {
    const { design, current, imageOf } = this.content!;
    const keylines = keylinesUnder(design).get(layer.id);
    if (!keylines) return;
    const { toCanvas, factor } = current.layout;
    const { x, y } = apply(toCanvas, layer.place);
    const box = compose(
      translate(x, y),
      rotate(layer.place.turn),
      translate((-layer.place.width * factor) / 2, (-layer.place.height * factor) / 2),
    );
    const toBox = compose(invert(box), toCanvas);
    context.globalAlpha = 1;
    for (const keyline of keylines)
      paintKeyline(context, keyline, (one) => compose(toBox, unitToField(one.place)), factor, imageOf);
  }

  /** Lays all that does not move together, so that a move draws little. */
  freeze(moving: readonly Konva.Node[], size: { width: number; height: number }): void {
    this.thaw();
    const shown = this.content!.design.layers.map((layer) => ({ layer, node: this.nodes.get(layer.id)! })).filter(
      ({ node }) => node.visible(),
    );
    this.still.lay(shown, moving, this.view, size, this.work.getCanvas().getPixelRatio());
    this.moving = moving;
    for (const layer of this.quiet) layer.listening(false);
  }

  /** Ends {@link freeze}. */
  thaw(): void {
    if (!this.moving) return;
    this.moving = null;
    this.still.clear();
    for (const layer of this.content?.design.layers ?? [])
      this.nodes.get(layer.id)?.visible(!layer.hidden && layer.id !== this.content?.editing);
    for (const layer of this.quiet) layer.listening(true);
  }

  /** Places of nodes that stand for layers, on the canvas. */
  placesOf(nodes: readonly Konva.Node[]): Record<string, CanvasPlace> {
    return Object.fromEntries(
      nodes
        .filter((node) => this.idOf(node))
        .map((node) => [
          node.name(),
          {
            x: node.x(),
            y: node.y(),
            width: node.width() * node.scaleX(),
            height: node.height() * node.scaleY(),
            turn: normal(node.rotation()),
          },
        ]),
    );
  }
}

const normal = (degrees: number): number => Math.round(((((degrees % 360) + 540) % 360) - 180) * 100) / 100;
