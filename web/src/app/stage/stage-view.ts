import Konva from 'konva';
import {
  apply, artOnCanvas, boundsOfPlace, inkPlace, guidesOnCanvas, hexOf, intersect, linesOfBox, linesOfCanvas, linesOfGuides, mapBox, panned, snapMove, snapScale, toMmAt, unite, viewOfBox, zoomedAt,
  type Box, type DesignDocument, type Layer, type LayerPlace, type PictureLayer, type Point, type ShownGuide, type SnapLine, type SnapMark, type Stroke, type Viewport,
} from '@kettle/core';
import type { BenchTarget } from '../bench/bench';
import { compositeOf } from '../artwork/paint-layer';
import { showCanvasLines } from './canvas-lines';
import { GuideLines } from './guide-lines';
import { Hand } from './hand';
import { Pen, type InkPoint } from './pen';
import { ShapeKnobs } from './shape-knobs';
import { SnapMarks } from './snap-marks';
import { paintUnturned, Sprites } from './sprites';
import { PINK, PLUM } from './stage-colours';
import { StillSheets } from './still-sheets';

/** A layer's place on the chosen canvas: centre and size in canvas mm. */
export type CanvasPlace = Pick<LayerPlace, 'x' | 'y' | 'width' | 'height' | 'turn'>;

/** What a hand did on the stage. Lengths are canvas mm. */
export interface StageEvents {
  select(ids: readonly string[], how: 'only' | 'add' | 'within'): void;
  /** Layers in hand, while they are held (`done` false) and when they are let go. */
  place(places: Readonly<Record<string, CanvasPlace>>, done: boolean): void;
  art(box: Box, done: boolean): void;
  parameter(id: string, key: string, value: number, done: boolean): void;
  /** A guide was let go; null took it off the canvas. */
  guide(guide: ShownGuide, at: number | null): void;
  edit(id: string): void;
  stroke(points: readonly InkPoint[]): void;
  /** Colour under a press; null where nothing is drawn. */
  sample(hex: string | null): void;
  /** Another part of the canvas is looked at. */
  look(view: Viewport): void;
}

/** What is shown, and what a press means. */
export interface StageContent {
  readonly design: DesignDocument;
  readonly current: BenchTarget;
  readonly selection: readonly string[];
  readonly onlyHere: boolean;
  readonly editing: string | null;
  readonly tool: 'move' | 'brush' | 'sampler';
  /** Look of the stroke in hand; size in canvas mm. */
  readonly brush: Omit<Stroke, 'points'>;
  readonly snapping: boolean;
  readonly lengthOf: (mm: number) => string;
  readonly imageOf: (layer: PictureLayer) => CanvasImageSource | null;
}

/** Distance at which what is dragged jumps to a line, screen px. */
const SNAP_PX = 6;
/** A press that moves less than this is a click, screen px. */
const CLICK_PX = 3;
/** Shapes smaller than this on the screen have handles at their corners only, px. */
const LEAST_FOR_KNOBS_PX = 64;
const CORNERS = ['top-left', 'top-right', 'bottom-left', 'bottom-right'];
const SIDES = ['top-center', 'middle-left', 'middle-right', 'bottom-center'];

/** The drawing behind the stage: shows a target's canvas and turns what hands do into placements. It decides nothing. */
export class StageView {
  private readonly stage: Konva.Stage;
  private readonly work = new Konva.Layer();
  private readonly art = new Konva.Group();
  private readonly lines = new Konva.Layer({ listening: false });
  private readonly hands = new Konva.Layer();
  private readonly hand: Hand;
  private readonly marks = new SnapMarks();
  private readonly guides: GuideLines;
  private readonly knobs: ShapeKnobs;
  private readonly pen: Pen;
  private readonly handles = new Konva.Transformer({
    enabledAnchors: CORNERS, keepRatio: true, rotationSnaps: [0, 45, 90, 135, 180, 225, 270, 315], rotationSnapTolerance: 3, flipEnabled: false,
    borderStroke: PINK, borderStrokeWidth: 2, anchorStroke: PLUM, anchorFill: '#fff', anchorSize: 11, anchorCornerRadius: 6, anchorStrokeWidth: 2, rotateAnchorOffset: 26, ignoreStroke: true,
    boundBoxFunc: (before, after) => this.snapBox(before, after),
  });
  private readonly whole = new Konva.Rect({ draggable: true, fill: 'rgba(0,0,0,0)', visible: false });
  private readonly band = new Konva.Rect({ listening: false, visible: false, stroke: PLUM, strokeWidth: 1, dash: [4, 3], fill: 'rgba(106,59,91,.08)' });
  private readonly nodes = new Map<string, Konva.Shape>();
  private readonly sprites = new Sprites();
  private content: StageContent | null = null;
  private view: Viewport = { scale: 1, left: 0, top: 0 };
  private readonly still = new StillSheets(this.art, (context, { layer, node }) => this.paintNode(context, layer, node));
  /** What moves while the others are laid together. */
  private frozen: readonly Konva.Node[] | null = null;
  /** True while the space bar is held: a drag moves the window. */
  panning = false;

  constructor(private readonly container: HTMLDivElement, private readonly events: StageEvents) {
    this.hand = new Hand(container);
    const cursor = (name: string): void => { container.style.cursor = name; };
    this.guides = new GuideLines(this.hand, this.marks, cursor, (guide, at) => this.events.guide(guide, at));
    this.knobs = new ShapeKnobs(this.hand, cursor, (id, key, value, done) => this.events.parameter(id, key, value, done));
    this.pen = new Pen(this.hand);
    this.stage = new Konva.Stage({ container, width: 10, height: 10 });
    this.stage.add(this.work, this.lines, this.hands);
    this.work.add(this.art);
    this.art.add(this.whole);
    this.hands.add(this.guides.group, this.marks.group, this.pen.shape, this.band, this.handles, this.knobs.group);
    this.stage.on('pointerdown', (event) => this.pressed(event.target, event.evt));
    this.stage.on('dblclick dbltap', (event) => { const id = this.idOf(event.target); if (id) this.opened(id); });
    this.stage.on('wheel', (event) => this.wheeled(event.evt));
    this.handles.on('transform', () => this.events.place(this.placesOf(this.handles.nodes() as Konva.Shape[]), false));
    this.handles.on('transformstart', () => { if (!this.content?.onlyHere) this.freeze(this.handles.nodes()); });
    this.handles.on('transformend', () => { this.marks.clear(); this.thaw(); if (!this.content?.onlyHere) this.events.place(this.placesOf(this.handles.nodes() as Konva.Shape[]), true); });
    const moved = (done: boolean) => () => this.reportWhole(done);
    this.whole.on('dragmove transform', moved(false));
    this.whole.on('dragend transformend', moved(true));
  }

  destroy(): void { this.hand.letGo(); this.stage.destroy(); }

  /** Shows the content in a room of that many px. */
  show(content: StageContent, view: Viewport, width: number, height: number): void {
    const frozen = this.frozen;
    this.thaw();
    this.content = content;
    this.view = view;
    if (this.stage.width() !== width || this.stage.height() !== height) this.stage.size({ width, height });
    this.art.setAttrs({ x: view.left, y: view.top, scaleX: view.scale, scaleY: view.scale });
    this.container.style.cursor = this.panning ? 'grab' : content.tool === 'move' ? 'default' : 'crosshair';
    this.showLayers(content);
    this.showSelection(content);
    this.showKnobs(content);
    this.guides.show(content, view, { width, height });
    showCanvasLines(this.lines, content.current, view, { width, height });
    if (frozen) this.freeze(frozen.filter((node) => node.getLayer()));
    this.stage.batchDraw();
  }

  private showLayers({ design, current, editing }: StageContent): void {
    const { toCanvas, factor } = current.layout;
    const ids = new Set(design.layers.map((layer) => layer.id));
    for (const [id, node] of this.nodes) if (!ids.has(id)) { node.destroy(); this.nodes.delete(id); }
    this.sprites.keepOnly(ids);
    design.layers.forEach((layer, index) => {
      const node = this.nodes.get(layer.id) ?? this.addNode(layer.id);
      const { width, height, turn } = layer.place;
      const centre = apply(toCanvas, layer.place);
      node.setAttrs({
        x: centre.x, y: centre.y, width: width * factor, height: height * factor, offsetX: (width * factor) / 2, offsetY: (height * factor) / 2, rotation: turn, scaleX: 1, scaleY: 1,
        opacity: layer.opacity, visible: !layer.hidden && layer.id !== editing, listening: !layer.locked, globalCompositeOperation: compositeOf(layer),
      });
      if (node.zIndex() !== index) node.zIndex(index);
    });
  }

  private addNode(id: string): Konva.Shape {
    const node = new Konva.Shape({
      name: id,
      sceneFunc: (context, shape) => {
        const layer = this.content?.design.layers.find((one) => one.id === id);
        if (layer) this.paintNode(context._context, layer, shape);
      },
      hitFunc: (context, shape) => { context.beginPath(); context.rect(0, 0, shape.width(), shape.height()); context.fillStrokeShape(shape); },
    });
    this.nodes.set(id, node);
    this.art.add(node);
    return node;
  }

  /** Paints a layer's bitmap into its node's box. */
  private paintNode(context: CanvasRenderingContext2D | OffscreenCanvasRenderingContext2D, layer: Layer, node: Konva.Shape): void {
    context.globalAlpha = layer.opacity;
    const density = this.work.getCanvas().getPixelRatio();
    const { scale } = this.view;
    const [width, height] = [node.width(), node.height()];
    const reach = ((inkPlace(layer).width - layer.place.width) / 2 / layer.place.width) * width;
    const margin = Math.ceil(reach * scale * density) + 1;
    const bitmap = this.sprites.of(layer, width * scale * density, height * scale * density, margin, this.content!.imageOf);
    if (!bitmap) { paintUnturned(context, layer, width, height, this.content!.imageOf); return; }
    const [rx, ry] = [(margin / (bitmap.width - 2 * margin)) * width, (margin / (bitmap.height - 2 * margin)) * height];
    context.drawImage(bitmap, -rx, -ry, width + 2 * rx, height + 2 * ry);
  }

  private freeze(moving: readonly Konva.Node[]): void {
    this.thaw();
    const shown = this.content!.design.layers.map((layer) => ({ layer, node: this.nodes.get(layer.id)! })).filter(({ node }) => node.visible());
    this.still.lay(shown, moving, this.view, this.stage.size(), this.work.getCanvas().getPixelRatio());
    this.frozen = moving;
    this.work.listening(false);
    this.hands.listening(false);
  }

  /** Ends {@link freeze}. */
  private thaw(): void {
    if (!this.frozen) return;
    this.frozen = null;
    this.still.clear();
    for (const layer of this.content?.design.layers ?? []) this.nodes.get(layer.id)?.visible(!layer.hidden && layer.id !== this.content?.editing);
    this.work.listening(true);
    this.hands.listening(true);
  }

  private idOf(target: Konva.Node): string | null { return this.nodes.get(target.name()) === target ? target.name() : null; }

  private opened(id: string): void {
    const layer = this.content?.design.layers.find((one) => one.id === id);
    if (!layer || this.content?.onlyHere) return;
    if (layer.group) this.events.select([id], 'within');
    if (layer.kind === 'text') this.events.edit(id);
  }

  private pressed(target: Konva.Node, event: PointerEvent): void {
    const content = this.content;
    if (!content || event.button > 1) return;
    const start = this.hand.at(event);
    if (this.panning || event.button === 1) { event.preventDefault(); this.pan(start); return; }
    if (content.tool === 'sampler') { this.events.sample(this.colourAt(start)); return; }
    if (content.tool === 'brush') { this.pen.draw(event, this.view, content.brush, (points) => this.events.stroke(points)); return; }
    const id = this.idOf(target);
    if (id && !content.onlyHere) { this.take(id, start, event.shiftKey || event.ctrlKey || event.metaKey); return; }
    if (target === this.stage) this.rope(start, event.shiftKey);
  }

  private take(id: string, start: Point, add: boolean): void {
    const wasSelected = this.content!.selection.includes(id);
    if (add) { this.events.select([id], 'add'); return; }
    if (!wasSelected) this.events.select([id], 'only');
    let drag: ((event: PointerEvent) => void) | null = null;
    let nodes: Konva.Shape[] = [];
    // Everything is laid ready at the press, so that the first move is as quick as the others.
    const ready = requestAnimationFrame(() => { nodes = this.heldNodes(id); if (nodes.length) { this.freeze(nodes); this.work.batchDraw(); } });
    this.hand.follow((event) => {
      const now = this.hand.at(event);
      if (!drag) {
        if (!nodes.length || Math.hypot(now.x - start.x, now.y - start.y) < CLICK_PX) return;
        drag = this.dragOf(nodes, start);
      }
      drag(event);
    }, () => {
      cancelAnimationFrame(ready);
      this.marks.clear();
      this.thaw();
      this.work.batchDraw();
      if (drag) this.events.place(this.placesOf(nodes), true);
      else if (wasSelected && this.content!.selection.length > 1) this.events.select([id], 'only');
      this.hands.batchDraw();
    });
  }

  /** Nodes that move with a layer: all selected ones that are not locked. */
  private heldNodes(id: string): Konva.Shape[] {
    const held = this.content!.selection.includes(id) ? this.content!.selection : [id];
    return this.content!.design.layers.filter((layer) => held.includes(layer.id) && !layer.locked && !layer.hidden).map((layer) => this.nodes.get(layer.id)!);
  }

  private dragOf(nodes: readonly Konva.Shape[], start: Point): (event: PointerEvent) => void {
    const from = nodes.map((node) => ({ x: node.x(), y: node.y() }));
    const box = unite(nodes.map((node) => boundsOfNode(node)))!;
    const others = this.boxesBeside(nodes.map((node) => node.name()));
    const snapLines = this.snapLines();
    return (event) => {
      const now = this.hand.at(event);
      let [dx, dy] = [(now.x - start.x) / this.view.scale, (now.y - start.y) / this.view.scale];
      if (event.shiftKey) { if (Math.abs(dx) > Math.abs(dy)) dy = 0; else dx = 0; }
      let marks: readonly SnapMark[] = [];
      if (this.content!.snapping && !event.altKey) {
        const snap = snapMove({ ...box, x: box.x + dx, y: box.y + dy }, snapLines, others, SNAP_PX / this.view.scale);
        // A drag that is kept level does not leave its line for a snap.
        if (!event.shiftKey || dx !== 0) dx += snap.dx;
        if (!event.shiftKey || dy !== 0) dy += snap.dy;
        marks = snap.marks;
      }
      nodes.forEach((node, i) => node.position({ x: from[i].x + dx, y: from[i].y + dy }));
      this.showMarks(marks);
      this.handles.forceUpdate();
      this.events.place(this.placesOf(nodes), false);
    };
  }

  private snapLines(): SnapLine[] {
    const { design, current } = this.content!;
    const { canvas, safe } = current.layout;
    return [...linesOfCanvas(canvas.widthMm, canvas.heightMm, safe), ...linesOfGuides(guidesOnCanvas(design, current.target, current.layout))];
  }

  private boxesBeside(ids: readonly string[]): Box[] {
    const { design, current } = this.content!;
    return design.layers.filter((layer) => !layer.hidden && !ids.includes(layer.id)).map((layer) => mapBox(current.layout.toCanvas, boundsOfPlace(layer.place)));
  }

  /** Lets the free edges of what is scaled jump to lines. Boxes are in window px, as the handles have them. */
  private snapBox(before: { x: number; y: number; width: number; height: number; rotation: number }, after: typeof before): typeof before {
    const anchor = this.handles.getActiveAnchor();
    const content = this.content;
    if (!content?.snapping || content.onlyHere || !anchor || anchor === 'rotater' || Math.abs(after.rotation) > 1e-6) return after;
    const { scale, left, top } = this.view;
    const box = { x: (after.x - left) / scale, y: (after.y - top) / scale, width: after.width / scale, height: after.height / scale };
    const ids = this.handles.nodes().map((node) => node.name());
    const lines = [...this.snapLines(), ...this.boxesBeside(ids).flatMap((one) => linesOfBox(one, 'layer'))];
    const fixed = { x: anchor.includes('left') ? 1 : 0, y: anchor.includes('top') ? 1 : 0 };
    const across = anchor.includes('left') || anchor.includes('right');
    const down = anchor.includes('top') || anchor.includes('bottom');
    const { factor, line } = snapScale(box, fixed, lines.filter((one) => (one.axis === 'x' ? across : down)), SNAP_PX / scale);
    if (!line) { this.marks.clear(); return after; }
    const grow = { x: CORNERS.includes(anchor) || across ? factor : 1, y: CORNERS.includes(anchor) || down ? factor : 1 };
    const [width, height] = [after.width * grow.x, after.height * grow.y];
    this.showMarks([{ kind: 'line', axis: line.axis, at: line.at, from: 0, to: line.axis === 'x' ? content.current.layout.canvas.heightMm : content.current.layout.canvas.widthMm, source: line.source }]);
    return { ...after, x: after.x + fixed.x * (after.width - width), y: after.y + fixed.y * (after.height - height), width, height };
  }

  private placesOf(nodes: readonly Konva.Shape[]): Record<string, CanvasPlace> {
    return Object.fromEntries(nodes.filter((node) => (node as Konva.Node) !== this.whole).map((node) => [node.name(), { x: node.x(), y: node.y(), width: node.width() * node.scaleX(), height: node.height() * node.scaleY(), turn: normal(node.rotation()) }]));
  }

  private reportWhole(done: boolean): void {
    const width = this.whole.width() * this.whole.scaleX();
    const height = this.whole.height() * this.whole.scaleY();
    this.whole.setAttrs({ scaleX: 1, scaleY: 1, width, height });
    const middle = this.content!.current.layout.canvas.widthMm / 2;
    if (Math.abs(this.whole.x() + width / 2 - middle) * this.view.scale < SNAP_PX) this.whole.x(middle - width / 2);
    this.events.art({ x: this.whole.x(), y: this.whole.y(), width, height }, done);
  }

  /** Draws a box over the table; what it touches is selected. */
  private rope(start: Point, add: boolean): void {
    const found = (now: Point): string[] => {
      const [a, b] = [toMmAt(this.view, start), toMmAt(this.view, now)];
      const box = { x: Math.min(a.x, b.x), y: Math.min(a.y, b.y), width: Math.abs(a.x - b.x), height: Math.abs(a.y - b.y) };
      return this.content!.design.layers.filter((layer) => !layer.hidden && !layer.locked && intersect(mapBox(this.content!.current.layout.toCanvas, boundsOfPlace(layer.place)), box) !== null).map((layer) => layer.id);
    };
    let moved = false;
    this.hand.follow((event) => {
      const now = this.hand.at(event);
      moved ||= Math.hypot(now.x - start.x, now.y - start.y) >= CLICK_PX;
      this.band.setAttrs({ visible: moved && !this.content!.onlyHere, x: Math.min(start.x, now.x), y: Math.min(start.y, now.y), width: Math.abs(now.x - start.x), height: Math.abs(now.y - start.y) });
      this.hands.batchDraw();
    }, (event) => {
      this.band.visible(false);
      this.hands.batchDraw();
      if (!moved) { if (!add) this.events.select([], 'only'); return; }
      const ids = found(this.hand.at(event));
      this.events.select(add ? [...new Set([...this.content!.selection, ...ids])] : ids, 'only');
    });
  }

  private pan(start: Point): void {
    const from = this.view;
    this.container.style.cursor = 'grabbing';
    this.hand.follow((event) => {
      const now = this.hand.at(event);
      this.events.look(panned(from, { x: now.x - start.x, y: now.y - start.y }, this.content!.current.layout.canvas, this.stage.size()));
    }, () => { this.container.style.cursor = 'default'; });
  }

  /** With Ctrl the wheel comes nearer at the pointer; alone it moves the window. */
  private wheeled(event: WheelEvent): void {
    event.preventDefault();
    if (!this.content) return;
    if (event.ctrlKey || event.metaKey) { this.events.look(zoomedAt(this.view, this.hand.at(event), this.view.scale * Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.0018)))); return; }
    const by = event.shiftKey ? { x: -event.deltaY, y: 0 } : { x: -event.deltaX, y: -event.deltaY };
    this.events.look(panned(this.view, by, this.content.current.layout.canvas, this.stage.size()));
  }

  /** Colour of the art at a place in the window. */
  private colourAt({ x, y }: Point): string | null {
    const canvas = this.work.getCanvas();
    const density = canvas.getPixelRatio();
    const [r, g, b, a] = canvas.getContext()._context.getImageData(Math.round(x * density), Math.round(y * density), 1, 1).data;
    return a === 0 ? null : hexOf({ r, g, b }).toLowerCase();
  }

  /** A guide pulled out of a ruler, held until it is let go. */
  pullGuide(axis: 'x' | 'y', owner: ShownGuide['owner']): void { this.guides.pull(axis, owner); }

  private showMarks(marks: readonly SnapMark[]): void {
    this.marks.show(marks, this.view, this.content!.lengthOf);
    this.hands.batchDraw();
  }

  private showKnobs({ design, selection, onlyHere, tool }: StageContent): void {
    const layer = selection.length === 1 ? design.layers.find((one) => one.id === selection[0]) : undefined;
    const node = layer && this.nodes.get(layer.id);
    // On a small shape they would be in the hand's way.
    const room = node && Math.min(node.width(), node.height()) * this.view.scale >= LEAST_FOR_KNOBS_PX;
    if (layer?.kind === 'shape' && node && room && !layer.locked && !layer.hidden && !onlyHere && tool === 'move') this.knobs.show(layer, node); else this.knobs.clear();
  }

  private showSelection({ design, current, selection, onlyHere, editing, tool }: StageContent): void {
    const box = onlyHere ? artOnCanvas(design, current.layout) : null;
    this.whole.visible(Boolean(box));
    if (box) { this.whole.setAttrs({ ...box, scaleX: 1, scaleY: 1 }); this.whole.moveToTop(); }
    const chosen = onlyHere || tool !== 'move' ? [] : design.layers.filter((layer) => selection.includes(layer.id) && !layer.hidden && layer.id !== editing);
    // Locked layers among others stay where they are; alone they are shown with no handles.
    const free = chosen.filter((layer) => !layer.locked);
    const layers = free.length ? free : chosen;
    const held: Konva.Node[] = box && tool === 'move' ? [this.whole] : layers.map((layer) => this.nodes.get(layer.id)!);
    const locked = layers.length > 0 && !free.length;
    // Only a shape may be stretched: all else keeps its proportions.
    const anchors = locked ? [] : layers.length === 1 && layers[0].kind === 'shape' && Math.max(layers[0].place.width, layers[0].place.height) * current.layout.factor * this.view.scale > LEAST_FOR_KNOBS_PX ? [...CORNERS, ...SIDES] : CORNERS;
    this.handles.setAttrs({ rotateEnabled: !onlyHere && !locked, enabledAnchors: anchors, borderDash: locked ? [4, 4] : [] });
    const now = this.handles.nodes();
    if (now.length !== held.length || now.some((node, i) => node !== held[i])) this.handles.nodes(held); else this.handles.forceUpdate();
  }
}

const normal = (degrees: number): number => Math.round((((degrees % 360) + 540) % 360 - 180) * 100) / 100;

/** Bounds of a node on the canvas, mm. */
const boundsOfNode = (node: Konva.Shape): Box => boundsOfPlace({ x: node.x(), y: node.y(), width: node.width(), height: node.height(), turn: node.rotation(), flipX: false, flipY: false });

/** The whole canvas in its room. */
export const viewOfCanvas = (canvas: { widthMm: number; heightMm: number }, width: number, height: number): Viewport => viewOfBox({ x: 0, y: 0, width: canvas.widthMm, height: canvas.heightMm }, { width, height, margin: 34, foot: 22 });

