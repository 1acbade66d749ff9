import Konva from '#libraries/konva';
import {
  boundsOfPlace,
  panned,
  snapMove,
  unite,
  viewOfBox,
  zoomedAt,
  type Box,
  type Point,
  type SnapMark,
  type Viewport,
} from '@kettle/core/geometry';
import { hexOf } from '@kettle/core/colour';
import type { Layer, PictureLayer } from '@kettle/core/model';
import { marksOf } from '@kettle/core/layers';
import { artOnCanvas, type ShownGuide } from '@kettle/core/document';
import { showCanvasLines } from './canvas-lines';
import { GuideLines } from './guide-lines';
import { Hand } from './hand';
import { LayerNodes } from './layer-nodes';
import { Pen } from './pen';
import { Pinch } from './pinch';
import { Rope } from './rope';
import { ShapeKnobs } from './shape-knobs';
import { SnapMarks } from './snap-marks';
import { PINK, PLUM } from './stage-colours';
import { CLICK_PX, SNAP_PX, type StageContent, type StageEvents } from './stage-content';
import { boxesBeside, CORNERS, SIDES, snapHandleBox, snapLines, type HandleBox } from './stage-snapping';

/** Shapes smaller than this on the screen have handles at their corners only, px. */
const LEAST_FOR_KNOBS_PX = 64;

/**
 * The drawing behind the stage: shows a target's canvas and turns what hands do into placements. It decides nothing.
 */
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
    enabledAnchors: CORNERS,
    keepRatio: true,
    rotationSnaps: [0, 45, 90, 135, 180, 225, 270, 315],
    rotationSnapTolerance: 3,
    flipEnabled: false,
    borderStroke: PINK,
    borderStrokeWidth: 2,
    anchorStroke: PLUM,
    anchorFill: '#fff',
    anchorSize: 11,
    anchorCornerRadius: 6,
    anchorStrokeWidth: 2,
    rotateAnchorOffset: 26,
    ignoreStroke: true,
    boundBoxFunc: (_before, after) => this.snapBox(after),
  });
  private readonly whole = new Konva.Rect({ draggable: true, fill: 'rgba(0,0,0,0)', visible: false });
  private readonly rope: Rope;
  private readonly pinch: Pinch;
  private readonly nodes = new LayerNodes(this.art, this.work, [this.work, this.hands]);
  private content: StageContent | null = null;
  private view: Viewport = { scale: 1, left: 0, top: 0 };
  /** True while the space bar is held: a drag moves the window. */
  panning = false;

  constructor(
    private readonly container: HTMLDivElement,
    private readonly events: StageEvents,
  ) {
    this.hand = new Hand(container);
    const cursor = (name: string): void => {
      container.style.cursor = name;
    };
    this.guides = new GuideLines(this.hand, this.marks, cursor, (guide, at) => this.events.guide(guide, at));
    this.knobs = new ShapeKnobs(this.hand, cursor, (id, key, value, done) =>
      this.events.parameter(id, key, value, done),
    );
    this.pen = new Pen(this.hand);
    this.rope = new Rope(this.hand);
    this.stage = new Konva.Stage({ container, width: 10, height: 10 });
    this.stage.add(this.work, this.lines, this.hands);
    this.work.add(this.art);
    this.art.add(this.whole);
    this.hands.add(
      this.guides.group,
      this.marks.group,
      this.pen.shape,
      this.rope.shape,
      this.handles,
      this.knobs.group,
    );
    let looked = this.view;
    this.pinch = new Pinch(
      container,
      (event) => this.hand.at(event),
      () => {
        looked = this.view;
        this.dropAll();
      },
      (first, now) => {
        if (!this.content) return;
        const nearer = zoomedAt(looked, first.middle, (looked.scale * now.apart) / first.apart);
        const by = { x: now.middle.x - first.middle.x, y: now.middle.y - first.middle.y };
        this.events.look(panned(nearer, by, this.content.current.layout.canvas, this.stage.size()));
      },
    );
    this.stage.on('pointerdown', (event) => this.pressed(event.target, event.evt));
    this.stage.on('dblclick dbltap', (event) => {
      const id = this.nodes.idOf(event.target);
      if (id) this.opened(id);
    });
    this.stage.on('wheel', (event) => this.wheeled(event.evt));
    this.handles.on('transform', () => this.events.place(this.nodes.placesOf(this.handles.nodes()), false));
    this.handles.on('transformstart', () => {
      if (!this.content?.onlyHere) this.freeze(this.handles.nodes());
    });
    this.handles.on('transformend', () => {
      this.marks.clear();
      this.laidDown();
      if (!this.content?.onlyHere) this.events.place(this.nodes.placesOf(this.handles.nodes()), true);
    });
    const moved = (done: boolean) => () => this.reportWhole(done);
    this.whole.on('dragmove transform', moved(false));
    this.whole.on('dragend transformend', moved(true));
  }

  destroy(): void {
    this.pinch.destroy();
    this.hand.letGo();
    this.stage.destroy();
  }

  /** Puts back whatever is in hand. */
  private dropAll(): void {
    this.hand.letGo();
    this.handles.stopTransform();
    this.whole.stopDrag();
    this.marks.clear();
    this.pen.shape.visible(false);
    this.rope.shape.visible(false);
    this.nodes.thaw();
    this.events.letGo();
    if (this.content) this.show(this.content, this.view, this.stage.width(), this.stage.height());
  }

  /** Shows the content in a room of that many px. */
  show(content: StageContent, view: Viewport, width: number, height: number): void {
    const { frozen } = this.nodes;
    this.nodes.thaw();
    this.content = content;
    this.view = view;
    if (this.stage.width() !== width || this.stage.height() !== height) this.stage.size({ width, height });
    this.art.setAttrs({ x: view.left, y: view.top, scaleX: view.scale, scaleY: view.scale });
    this.container.style.cursor = this.panning ? 'grab' : content.tool === 'move' ? 'default' : 'crosshair';
    this.nodes.show(content, view, frozen ?? []);
    this.showSelection(content);
    this.showKnobs(content);
    this.guides.show(content, view, { width, height });
    showCanvasLines(this.lines, content.current, view, { width, height });
    if (frozen) this.freeze(frozen.filter((node) => node.getLayer()));
    this.stage.batchDraw();
  }

  private freeze(moving: readonly Konva.Node[]): void {
    this.nodes.freeze(moving, this.stage.size());
    // They would stay behind where a shape is taken away from.
    this.knobs.clear();
  }

  /** What was in hand is out of it, and can be pressed again at once: the next frame of a busy machine may be long in coming. */
  private laidDown(): void {
    if (!this.nodes.frozen) return;
    this.nodes.thaw();
    for (const layer of [this.work, this.hands]) layer.drawHit();
  }

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
    if (this.panning || event.button === 1) {
      event.preventDefault();
      this.pan(start);
      return;
    }
    if (content.tool === 'sampler') {
      const coming = this.comingAt(start);
      if (coming) this.events.comes(coming);
      else this.events.sample(this.colourAt(start));
      return;
    }
    if (content.tool === 'brush') {
      this.pen.draw(event, this.view, content.brush, (points) => this.events.stroke(points));
      return;
    }
    const id = this.nodes.idOf(target);
    if (id && !content.onlyHere) {
      this.take(id, start, event.shiftKey || event.ctrlKey || event.metaKey);
      return;
    }
    if (target === this.stage) this.catch(start, event.shiftKey);
  }

  private take(id: string, start: Point, add: boolean): void {
    const wasSelected = this.content!.selection.includes(id);
    if (add) {
      this.events.select([id], 'add');
      return;
    }
    if (!wasSelected) this.events.select([id], 'only');
    let drag: ((event: PointerEvent) => void) | null = null;
    let nodes: Konva.Shape[] = [];
    // Everything is laid ready at the press, so that the first move is as quick as the others.
    const ready = requestAnimationFrame(() => {
      nodes = this.heldNodes(id);
      if (nodes.length) {
        this.freeze(nodes);
        this.work.batchDraw();
      }
    });
    this.hand.follow(
      (event) => {
        const now = this.hand.at(event);
        if (!drag) {
          if (!nodes.length || Math.hypot(now.x - start.x, now.y - start.y) < CLICK_PX) return;
          drag = this.dragOf(nodes, start);
        }
        drag(event);
      },
      () => {
        cancelAnimationFrame(ready);
        this.marks.clear();
        this.laidDown();
        this.showKnobs(this.content!);
        this.work.batchDraw();
        if (drag) this.events.place(this.nodes.placesOf(nodes), true);
        else if (wasSelected && this.content!.selection.length > 1) this.events.select([id], 'only');
        this.hands.batchDraw();
      },
    );
  }

  /** Nodes that move with a layer: all selected ones that are not locked. */
  private heldNodes(id: string): Konva.Shape[] {
    const held = this.content!.selection.includes(id) ? this.content!.selection : [id];
    return this.content!.design.layers.filter((layer) => held.includes(layer.id) && !layer.locked && !layer.hidden).map(
      (layer) => this.nodes.of(layer.id)!,
    );
  }

  private dragOf(nodes: readonly Konva.Shape[], start: Point): (event: PointerEvent) => void {
    const from = nodes.map((node) => ({ x: node.x(), y: node.y() }));
    const box = unite(nodes.map((node) => boundsOfNode(node)))!;
    const others = boxesBeside(
      this.content!,
      nodes.map((node) => node.name()),
    );
    const lines = snapLines(this.content!);
    return (event) => {
      const now = this.hand.at(event);
      let [dx, dy] = [(now.x - start.x) / this.view.scale, (now.y - start.y) / this.view.scale];
      if (event.shiftKey) {
        if (Math.abs(dx) > Math.abs(dy)) dy = 0;
        else dx = 0;
      }
      let marks: readonly SnapMark[] = [];
      if (this.content!.snapping && !event.altKey) {
        const snap = snapMove({ ...box, x: box.x + dx, y: box.y + dy }, lines, others, SNAP_PX / this.view.scale);
        // A drag that is kept level does not leave its line for a snap.
        if (!event.shiftKey || dx !== 0) dx += snap.dx;
        if (!event.shiftKey || dy !== 0) dy += snap.dy;
        marks = snap.marks;
      }
      nodes.forEach((node, i) => node.position({ x: from[i].x + dx, y: from[i].y + dy }));
      this.showMarks(marks);
      this.handles.forceUpdate();
      this.events.place(this.nodes.placesOf(nodes), false);
    };
  }

  /** Lets the free edges of what is scaled jump to lines. */
  private snapBox(after: HandleBox): HandleBox {
    const anchor = this.handles.getActiveAnchor();
    const content = this.content;
    if (!content?.snapping || content.onlyHere || !anchor || anchor === 'rotater' || Math.abs(after.rotation) > 1e-6)
      return after;
    const { box, line } = snapHandleBox(
      content,
      this.view,
      anchor,
      this.handles.nodes().map((node) => node.name()),
      after,
    );
    const { canvas } = content.current.layout;
    if (line)
      this.showMarks([
        {
          kind: 'line',
          axis: line.axis,
          at: line.at,
          from: 0,
          to: line.axis === 'x' ? canvas.heightMm : canvas.widthMm,
          source: line.source,
        },
      ]);
    else this.marks.clear();
    return box;
  }

  private reportWhole(done: boolean): void {
    const width = this.whole.width() * this.whole.scaleX();
    const height = this.whole.height() * this.whole.scaleY();
    this.whole.setAttrs({ scaleX: 1, scaleY: 1, width, height });
    const middle = this.content!.current.layout.canvas.widthMm / 2;
    if (Math.abs(this.whole.x() + width / 2 - middle) * this.view.scale < SNAP_PX) this.whole.x(middle - width / 2);
    this.events.art({ x: this.whole.x(), y: this.whole.y(), width, height }, done);
  }

  /** Selects what a rope catches, or lets go of everything. */
  private catch(start: Point, add: boolean): void {
    this.rope.draw(
      start,
      this.view,
      () => this.content!,
      (ids) => {
        if (ids === null) {
          if (!add) this.events.select([], 'only');
          return;
        }
        this.events.select(add ? [...new Set([...this.content!.selection, ...ids])] : ids, 'only');
      },
    );
  }

  private pan(start: Point): void {
    const from = this.view;
    this.container.style.cursor = 'grabbing';
    this.hand.follow(
      (event) => {
        const now = this.hand.at(event);
        this.events.look(
          panned(
            from,
            { x: now.x - start.x, y: now.y - start.y },
            this.content!.current.layout.canvas,
            this.stage.size(),
          ),
        );
      },
      () => {
        this.container.style.cursor = 'default';
      },
    );
  }

  /** With Ctrl the wheel comes nearer at the pointer; alone it moves the window. */
  private wheeled(event: WheelEvent): void {
    event.preventDefault();
    if (!this.content) return;
    if (event.ctrlKey || event.metaKey) {
      this.events.look(
        zoomedAt(
          this.view,
          this.hand.at(event),
          this.view.scale * Math.exp(-event.deltaY * (event.deltaMode ? 0.05 : 0.0018)),
        ),
      );
      return;
    }
    const by = event.shiftKey ? { x: -event.deltaY, y: 0 } : { x: -event.deltaX, y: -event.deltaY };
    this.events.look(panned(this.view, by, this.content.current.layout.canvas, this.stage.size()));
  }

  /** Colour of the art at a place in the window. */
  private colourAt({ x, y }: Point): string | null {
    const canvas = this.work.getCanvas();
    const density = canvas.getPixelRatio();
    const [r, g, b, a] = canvas
      .getContext()
      ._context.getImageData(Math.round(x * density), Math.round(y * density), 1, 1).data;
    return a === 0 ? null : hexOf({ r, g, b }).toLowerCase();
  }

  /** A picture that lies at a place in the window and has not come yet: its grey is no colour of the art. */
  private comingAt({ x, y }: Point): Layer | undefined {
    const { design, imageOf } = this.content!;
    return design.layers.find((layer) => {
      if (layer.hidden || marksOf(layer) || imageOf(layer as PictureLayer)) return false;
      const box = this.nodes.of(layer.id)?.getClientRect();
      return box && x >= box.x && y >= box.y && x <= box.x + box.width && y <= box.y + box.height;
    });
  }

  /** A guide pulled out of a ruler, held until it is let go. */
  pullGuide(axis: 'x' | 'y', owner: ShownGuide['owner']): void {
    this.guides.pull(axis, owner);
  }

  private showMarks(marks: readonly SnapMark[]): void {
    this.marks.show(marks, this.view, this.content!.lengthOf);
    this.hands.batchDraw();
  }

  private showKnobs({ design, selection, onlyHere, tool }: StageContent): void {
    const layer = selection.length === 1 ? design.layers.find((one) => one.id === selection[0]) : undefined;
    const node = layer && this.nodes.of(layer.id);
    // On a small shape they would be in the hand's way.
    const room = node && Math.min(node.width(), node.height()) * this.view.scale >= LEAST_FOR_KNOBS_PX;
    if (layer?.kind === 'shape' && node && room && !layer.locked && !layer.hidden && !onlyHere && tool === 'move')
      this.knobs.show(layer, node);
    else this.knobs.clear();
  }

  private showSelection({ design, current, selection, onlyHere, editing, tool }: StageContent): void {
    const box = onlyHere ? artOnCanvas(design, current.layout) : null;
    this.whole.visible(Boolean(box));
    if (box) {
      this.whole.setAttrs({ ...box, scaleX: 1, scaleY: 1 });
      this.whole.moveToTop();
    }
    const chosen =
      onlyHere || tool !== 'move'
        ? []
        : design.layers.filter((layer) => selection.includes(layer.id) && !layer.hidden && layer.id !== editing);
    // Locked layers among others stay where they are; alone they are shown with no handles.
    const free = chosen.filter((layer) => !layer.locked);
    const layers = free.length ? free : chosen;
    const held: Konva.Node[] = box && tool === 'move' ? [this.whole] : layers.map((layer) => this.nodes.of(layer.id)!);
    const locked = layers.length > 0 && !free.length;
    // Only a shape may be stretched: all else keeps its proportions.
    const anchors = locked
      ? []
      : layers.length === 1 &&
          layers[0].kind === 'shape' &&
          Math.max(layers[0].place.width, layers[0].place.height) * current.layout.factor * this.view.scale >
            LEAST_FOR_KNOBS_PX
        ? [...CORNERS, ...SIDES]
        : CORNERS;
    this.handles.setAttrs({
      rotateEnabled: !onlyHere && !locked,
      enabledAnchors: anchors,
      borderDash: locked ? [4, 4] : [],
    });
    const now = this.handles.nodes();
    if (now.length !== held.length || now.some((node, i) => node !== held[i])) this.handles.nodes(held);
    else this.handles.forceUpdate();
  }
}

/** Bounds of a node on the canvas, mm. */
const boundsOfNode = (node: Konva.Shape): Box =>
  boundsOfPlace({
    x: node.x(),
    y: node.y(),
    width: node.width(),
    height: node.height(),
    turn: node.rotation(),
    flipX: false,
    flipY: false,
  });

/** The whole canvas in its room. */
export const viewOfCanvas = (canvas: { widthMm: number; heightMm: number }, width: number, height: number): Viewport =>
  viewOfBox({ x: 0, y: 0, width: canvas.widthMm, height: canvas.heightMm }, { width, height, margin: 34, foot: 22 });
