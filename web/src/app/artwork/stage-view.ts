import Konva from 'konva';
import { apply, artOnCanvas, type Box, type DesignDocument, type PictureLayer } from '@kettle/core';
import type { BenchTarget } from '../bench/bench';
import { paintLayer } from '../bench/target-picture';

/** What a hand did on the stage. Lengths are canvas mm; `done` ends the gesture. */
export interface StageEvents {
  select(id: string | null): void;
  place(id: string, place: { x: number; y: number; width: number; height: number; turn: number }, done: boolean): void;
  art(box: Box, done: boolean): void;
}

/** How the canvas lies on the stage: px a mm and the position of its corner. */
export interface StageFit { readonly scale: number; readonly left: number; readonly top: number }

export interface StageContent {
  readonly design: DesignDocument;
  readonly current: BenchTarget;
  readonly selectedId: string | null;
  readonly onlyHere: boolean;
  readonly imageOf: (layer: PictureLayer) => CanvasImageSource | null;
}

const PLUM = '#6A3B5B';
const PINK = '#E9A3D0';
/** Distance at which a dragged middle jumps to the centre line, screen px. */
const SNAP_PX = 6;

/** The drawing behind the stage: shows a target's canvas and turns drags into placements. It decides nothing. */
export class StageView {
  private readonly stage: Konva.Stage;
  private readonly work = new Konva.Layer();
  private readonly art = new Konva.Group();
  private readonly above = new Konva.Layer({ listening: false });
  private readonly handles = new Konva.Transformer({
    enabledAnchors: ['top-left', 'top-right', 'bottom-left', 'bottom-right'], keepRatio: true, rotationSnaps: [0, 45, 90, 135, 180, 225, 270, 315], rotationSnapTolerance: 3, flipEnabled: false,
    borderStroke: PINK, borderStrokeWidth: 2, anchorStroke: PLUM, anchorFill: '#fff', anchorSize: 11, anchorCornerRadius: 6, anchorStrokeWidth: 2, rotateAnchorOffset: 26, ignoreStroke: true,
  });
  private readonly whole = new Konva.Rect({ draggable: true, fill: 'rgba(0,0,0,0)', visible: false });
  private readonly nodes = new Map<string, Konva.Shape>();
  private content: StageContent | null = null;
  private fit: StageFit = { scale: 1, left: 0, top: 0 };

  constructor(container: HTMLDivElement, private readonly events: StageEvents) {
    this.stage = new Konva.Stage({ container, width: 10, height: 10 });
    this.stage.add(this.work, this.above);
    this.work.add(this.art);
    this.art.add(this.whole);
    this.work.add(this.handles);
    this.stage.on('mousedown touchstart', (event) => { if (event.target === this.stage) this.events.select(null); });
    const moved = (done: boolean) => () => this.reportWhole(done);
    this.whole.on('dragmove transform', moved(false));
    this.whole.on('dragend transformend', moved(true));
  }

  destroy(): void { this.stage.destroy(); }

  /** Shows the content in a box of that many px, the canvas as large as fits inside the margin, with room for the readout below. */
  show(content: StageContent, width: number, height: number, margin: number): StageFit {
    this.content = content;
    const { widthMm, heightMm } = content.current.layout.canvas;
    const foot = margin + 22; // room for the readout
    const scale = Math.max(0.01, Math.min((width - 2 * margin) / widthMm, (height - margin - foot) / heightMm));
    this.fit = { scale, left: Math.round((width - widthMm * scale) / 2), top: Math.round((height - foot + margin - heightMm * scale) / 2) };
    if (this.stage.width() !== width || this.stage.height() !== height) this.stage.size({ width, height });
    this.art.setAttrs({ x: this.fit.left, y: this.fit.top, scaleX: scale, scaleY: scale });
    this.showLayers(content);
    this.showSelection(content);
    this.showLines(content);
    this.stage.batchDraw();
    return this.fit;
  }

  private showLayers({ design, current, onlyHere }: StageContent): void {
    const { toCanvas, factor } = current.layout;
    for (const [id, node] of this.nodes) if (!design.layers.some((layer) => layer.id === id)) { node.destroy(); this.nodes.delete(id); }
    design.layers.forEach((layer, index) => {
      const node = this.nodes.get(layer.id) ?? this.addNode(layer.id);
      const { width, height, turn } = layer.place;
      const centre = apply(toCanvas, layer.place);
      node.setAttrs({
        x: centre.x, y: centre.y, width: width * factor, height: height * factor, offsetX: (width * factor) / 2, offsetY: (height * factor) / 2, rotation: turn, scaleX: 1, scaleY: 1,
        opacity: layer.opacity, visible: !layer.hidden, draggable: !onlyHere, listening: !onlyHere,
      });
      node.zIndex(index);
    });
  }

  private addNode(id: string): Konva.Shape {
    const node = new Konva.Shape({
      sceneFunc: (context, shape) => {
        const layer = this.content?.design.layers.find((one) => one.id === id);
        if (!layer) return;
        const raw = context._context;
        const { flipX, flipY } = layer.place;
        raw.imageSmoothingQuality = 'high';
        raw.translate(flipX ? shape.width() : 0, flipY ? shape.height() : 0);
        raw.scale(flipX ? -shape.width() : shape.width(), flipY ? -shape.height() : shape.height());
        raw.globalAlpha = shape.getAbsoluteOpacity();
        if (!paintLayer(raw, layer, this.content!.imageOf)) { raw.fillStyle = 'rgba(140,140,130,.25)'; raw.fillRect(0, 0, 1, 1); }
      },
      hitFunc: (context, shape) => { context.beginPath(); context.rect(0, 0, shape.width(), shape.height()); context.fillStrokeShape(shape); },
    });
    node.on('mousedown touchstart', () => this.events.select(id));
    node.on('dragmove', () => { this.snapToCentre(node); this.report(id, node, false); });
    node.on('transform', () => this.report(id, node, false));
    node.on('dragend transformend', () => this.report(id, node, true));
    this.nodes.set(id, node);
    this.art.add(node);
    return node;
  }

  private snapToCentre(node: Konva.Node): void {
    const middle = this.content!.current.layout.canvas.widthMm / 2;
    if (Math.abs(node.x() - middle) * this.fit.scale < SNAP_PX) node.x(middle);
  }

  private report(id: string, node: Konva.Shape, done: boolean): void {
    const width = node.width() * node.scaleX();
    const height = node.height() * node.scaleY();
    node.setAttrs({ scaleX: 1, scaleY: 1, width, height, offsetX: width / 2, offsetY: height / 2 });
    this.events.place(id, { x: node.x(), y: node.y(), width, height, turn: normal(node.rotation()) }, done);
  }

  private reportWhole(done: boolean): void {
    const width = this.whole.width() * this.whole.scaleX();
    const height = this.whole.height() * this.whole.scaleY();
    this.whole.setAttrs({ scaleX: 1, scaleY: 1, width, height });
    const middle = this.content!.current.layout.canvas.widthMm / 2;
    if (Math.abs(this.whole.x() + width / 2 - middle) * this.fit.scale < SNAP_PX) this.whole.x(middle - width / 2);
    this.events.art({ x: this.whole.x(), y: this.whole.y(), width, height }, done);
  }

  private showSelection({ design, current, selectedId, onlyHere }: StageContent): void {
    const box = onlyHere ? artOnCanvas(design, current.layout) : null;
    this.whole.visible(Boolean(box));
    if (box) { this.whole.setAttrs({ ...box, scaleX: 1, scaleY: 1 }); this.whole.moveToTop(); }
    const node = selectedId && !onlyHere ? this.nodes.get(selectedId) : undefined;
    const held = box ? [this.whole] : node?.visible() ? [node] : [];
    this.handles.rotateEnabled(!onlyHere);
    if (this.handles.nodes()[0] !== held[0] || this.handles.nodes().length !== held.length) this.handles.nodes(held); else this.handles.forceUpdate();
  }

  /** Print edge, safe line, centre line and findings. What lies off the canvas is veiled. */
  private showLines({ current }: StageContent): void {
    const { scale, left, top } = this.fit;
    const { canvas, safe } = current.layout;
    const [width, height] = [canvas.widthMm * scale, canvas.heightMm * scale];
    this.above.destroyChildren();
    const veil = { fill: document.documentElement.dataset['theme'] === 'dark' ? 'rgba(18,21,19,.78)' : 'rgba(239,236,228,.78)' };
    const [w, h] = [this.stage.width(), this.stage.height()];
    this.above.add(
      new Konva.Rect({ ...veil, x: 0, y: 0, width: w, height: top }), new Konva.Rect({ ...veil, x: 0, y: top + height, width: w, height: h - top - height }),
      new Konva.Rect({ ...veil, x: 0, y: top, width: left, height }), new Konva.Rect({ ...veil, x: left + width, y: top, width: w - left - width, height }),
      new Konva.Rect({ x: left, y: top, width, height, stroke: 'rgba(31,38,35,.35)', strokeWidth: 1 }),
      new Konva.Rect({ x: left + safe.x * scale, y: top + safe.y * scale, width: safe.width * scale, height: safe.height * scale, stroke: 'rgba(128,128,128,.9)', strokeWidth: 1, dash: [5, 4], cornerRadius: 3 }),
      new Konva.Line({ points: [left + width / 2, top, left + width / 2, top + height], stroke: PINK, strokeWidth: 1, opacity: 0.75 }),
    );
    for (const { where, severity } of current.findings) {
      if (!where || severity === 'tells') continue;
      this.above.add(new Konva.Rect({ x: left + where.x * scale, y: top + where.y * scale, width: where.width * scale, height: where.height * scale, stroke: '#C2552B', strokeWidth: 1.5, dash: [2, 3] }));
    }
  }
}

const normal = (degrees: number): number => Math.round((((degrees % 360) + 540) % 360 - 180) * 100) / 100;
