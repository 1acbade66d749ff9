import { toMmAt, type Viewport } from '@kettle/core/geometry';
import { emptyDesign, type DesignDocument, type Layer } from '@kettle/core/model';
import { freehandLayer, shapeLayer } from '@kettle/core/drawing';
import { layoutTarget, seenBy } from '@kettle/core/document';
import { garmentOf } from '@kettle/core/checks';
import { tee } from '../testing/open-editor';
import type { InkPoint } from './pen';
import type { CanvasPlace, StageContent, StageEvents } from './stage-content';
import { StageView, viewOfCanvas } from './stage-view';

const [WIDTH, HEIGHT] = [800, 600];

describe('the stage', () => {
  let container: HTMLDivElement;
  let view: StageView;
  let told: {
    selected: [readonly string[], string][];
    placed: [Readonly<Record<string, CanvasPlace>>, boolean][];
    parameters: [string, number, boolean][];
    guides: (number | null)[];
    strokes: (readonly InkPoint[])[];
    sampled: (string | null)[];
    looked: Viewport[];
    edited: string[];
    put: number;
  };
  let content: StageContent;
  let port: Viewport;
  const field = { width: 355.6, height: 406.4 };
  const square = (id: string, x: number, y: number, change: Partial<Layer> = {}): Layer =>
    ({
      ...shapeLayer(id, 'rectangle', field, '#c2552b'),
      place: { x, y, width: 60, height: 60, turn: 0, flipX: false, flipY: false },
      ...change,
    }) as Layer;

  beforeEach(() => {
    container = document.createElement('div');
    container.style.cssText = `position: fixed; left: 0; top: 0; width: ${WIDTH}px; height: ${HEIGHT}px`;
    document.body.append(container);
    told = {
      selected: [],
      placed: [],
      parameters: [],
      guides: [],
      strokes: [],
      sampled: [],
      looked: [],
      edited: [],
      put: 0,
    };
    const events: StageEvents = {
      select: (ids, how) => {
        told.selected.push([ids, how]);
        if (how !== 'add') show({ selection: ids });
      },
      place: (places, done) => told.placed.push([places, done]),
      art: () => undefined,
      parameter: (_id, key, value, done) => told.parameters.push([key, value, done]),
      guide: (_guide, at) => told.guides.push(at),
      edit: (id) => told.edited.push(id),
      stroke: (points) => told.strokes.push(points),
      sample: (hex) => told.sampled.push(hex),
      comes: ({ id }) => told.sampled.push(`${id} comes`),
      letGo: () => told.put++,
      look: (looked) => told.looked.push(looked),
    };
    view = new StageView(container, events);
  });
  afterEach(() => {
    view.destroy();
    container.remove();
  });

  function open(layers: readonly Layer[], change: Partial<DesignDocument> = {}): void {
    const document: DesignDocument = {
      ...emptyDesign('Stage'),
      layers,
      targets: [{ requirementId: 'tee' }],
      ...change,
    };
    const target = document.targets[0];
    const layout = layoutTarget(document, target, tee);
    const current = {
      target,
      requirement: tee,
      layout,
      garment: garmentOf(target, tee),
      key: 'tee',
      cloth: null,
      whole: target,
      design: seenBy(document, target),
      findings: [],
    };
    port = viewOfCanvas(layout.canvas, WIDTH, HEIGHT);
    content = {
      design: current.design,
      current,
      selection: [],
      onlyHere: false,
      editing: null,
      tool: 'move',
      brush: { size: 4, hardness: 1, opacity: 1, hex: '#112233', erase: false },
      snapping: true,
      showSoft: false,
      proofed: false,
      lengthOf: (mm) => `${mm} mm`,
      imageOf: () => null,
    };
    show();
  }
  function show(change: Partial<StageContent> = {}): void {
    content = { ...content, ...change };
    view.show(content, port, WIDTH, HEIGHT);
  }
  const frame = () =>
    new Promise<void>((resolve) => {
      requestAnimationFrame(() => requestAnimationFrame(() => resolve()));
    });
  const px = (x: number, y: number) => ({ clientX: port.left + x * port.scale, clientY: port.top + y * port.scale });
  const press = (type: string, at: { clientX: number; clientY: number }, change: PointerEventInit = {}) =>
    (type === 'pointerdown' || type === 'wheel' ? container.querySelector('.konvajs-content')! : window).dispatchEvent(
      new PointerEvent(type, {
        ...at,
        button: 0,
        bubbles: true,
        cancelable: true,
        pointerId: 1,
        pointerType: 'mouse',
        ...change,
      }),
    );
  async function drag(
    from: { clientX: number; clientY: number },
    to: { clientX: number; clientY: number },
    change: PointerEventInit = {},
  ): Promise<void> {
    // What is shown can be hit once it is drawn.
    await frame();
    press('pointerdown', from, change);
    await frame();
    press(
      'pointermove',
      { clientX: (from.clientX + to.clientX) / 2, clientY: (from.clientY + to.clientY) / 2 },
      change,
    );
    press('pointermove', to, change);
    press('pointerup', to, change);
  }
  const last = () => told.placed.at(-1)!;

  it('drags a layer, reports it while it is held and once when it is let go', async () => {
    open([square('a', 100, 100), square('b', 250, 300)]);
    await drag(px(100, 100), px(123, 131), { altKey: true });
    expect(told.selected).toEqual([[['a'], 'only']]);
    const [places, done] = last();
    expect([done, Object.keys(places)]).toEqual([true, ['a']]);
    expect(places['a'].x).toBeCloseTo(123, 3);
    expect(places['a'].y).toBeCloseTo(131, 3);
    expect(told.placed.filter(([, over]) => over).length).toBe(1);
  });

  it('takes hold of a layer again in the very frame in which it was let go', async () => {
    open([square('a', 100, 100)]);
    await frame();
    press('pointerdown', px(100, 100));
    await frame();
    press('pointerup', px(100, 100));
    // No frame passes: a busy machine draws few of them between the two presses of a double click.
    press('pointerdown', px(100, 100));
    press('pointerup', px(100, 100));
    expect(content.selection).toEqual(['a']);
  });

  it('keeps a drag and a resize that something else is shown in the midst of', async () => {
    open([square('a', 100, 100)]);
    show({ selection: ['a'], snapping: false });
    await frame();
    press('pointerdown', px(100, 100));
    await frame();
    press('pointermove', px(112, 140));
    show({ lengthOf: (mm) => `${mm / 10} cm` });
    press('pointerup', px(112, 140));
    expect(last()[0]['a'].x).toBeCloseTo(112, 3);
    expect(last()[0]['a'].y).toBeCloseTo(140, 3);

    // The document has not heard of the drag: the square is where it was, its right lower corner at 130, 130.
    show();
    await frame();
    const mouse = (type: string, at: { clientX: number; clientY: number }, on: EventTarget) =>
      on.dispatchEvent(new MouseEvent(type, { ...at, button: 0, bubbles: true, cancelable: true }));
    const content = container.querySelector('.konvajs-content')!;
    mouse('mousedown', px(130, 130), content);
    mouse('mousemove', px(110, 110), window);
    await frame();
    show();
    mouse('mouseup', px(110, 110), window);
    expect(last()[1]).toBeTrue();
    // A mouse counts whole pixels.
    expect(Math.abs(last()[0]['a'].width - 40)).toBeLessThan(1 / port.scale);
  });

  it('shows no art while its print is shown, which can be taken hold of all the same', async () => {
    open([square('a', 100, 100)]);
    /** Ink anywhere near the middle of the square, on any of the stage's canvases. */
    const painted = (): boolean =>
      [...container.querySelectorAll('canvas')].some((canvas) => {
        const density = canvas.width / WIDTH;
        const { clientX, clientY } = px(100, 100);
        const { data } = canvas
          .getContext('2d')!
          .getImageData(Math.round(clientX * density) - 2, Math.round(clientY * density) - 2, 4, 4);
        return data.some((value, i) => i % 4 === 3 && value > 0);
      });
    await frame();
    expect(painted()).toBeTrue();
    show({ proofed: true });
    await frame();
    expect(painted()).toBeFalse();
    await drag(px(100, 100), px(120, 130), { altKey: true });
    expect(last()[0]['a'].x).toBeCloseTo(120, 3);
  });

  it('jumps to the centre line and to other layers, unless it is told not to', async () => {
    open([square('a', 100, 100), square('b', 250, 300)]);
    const middle = content.current.layout.canvas.widthMm / 2;
    await drag(px(100, 100), px(middle + 2, 180));
    expect(last()[0]['a'].x).toBeCloseTo(middle, 6);
    show({ selection: ['a'] });
    await drag(px(100, 100), px(248, 180));
    expect(last()[0]['a'].x).toBeCloseTo(250, 6);
    show({ snapping: false });
    await drag(px(100, 100), px(248, 180));
    expect(last()[0]['a'].x).toBeCloseTo(248, 1);
    show();
    await drag(px(100, 100), px(160, 104), { shiftKey: true });
    expect(told.selected.at(-1)).toEqual([['a'], 'add']);
  });

  it('moves a selection together, and leaves locked layers where they are', async () => {
    open([square('a', 100, 100), square('b', 250, 300), square('c', 100, 300, { locked: true })]);
    show({ selection: ['a', 'b', 'c'], snapping: false });
    await drag(px(100, 100), px(110, 120));
    expect(Object.entries(last()[0]).map(([id, place]) => [id, Math.round(place.x), Math.round(place.y)])).toEqual([
      ['a', 110, 120],
      ['b', 260, 320],
    ]);
    // A locked layer is not taken hold of: the press goes through to the table.
    told.placed.length = 0;
    await drag(px(100, 300), px(130, 330));
    expect(told.placed).toEqual([]);
  });

  it('looks nearer with two fingers, and moves nothing, whatever the first had taken hold of', async () => {
    open([square('a', 100, 100)]);
    show({ selection: ['a'] });
    await frame();
    const finger = (type: string, id: number, x: number, y: number) =>
      press(type, px(x, y), { pointerType: 'touch', pointerId: id });
    finger('pointerdown', 1, 100, 100);
    await frame();
    finger('pointermove', 1, 104, 100);
    finger('pointerdown', 2, 144, 100);
    expect(told.put).toBe(1);
    const before = told.placed.length;
    const under = toMmAt(port, { x: px(124, 0).clientX, y: px(0, 100).clientY });
    // Twice as far apart, about the same middle.
    const there = [px(84, 100), px(164, 100)];
    press('pointermove', there[0], { pointerType: 'touch', pointerId: 1 });
    press('pointermove', there[1], { pointerType: 'touch', pointerId: 2 });
    const looked = told.looked.at(-1)!;
    expect(looked.scale / port.scale).toBeCloseTo(2, 6);
    const now = toMmAt(looked, { x: (there[0].clientX + there[1].clientX) / 2, y: there[0].clientY });
    expect(now.x).toBeCloseTo(under.x, 6);
    expect(now.y).toBeCloseTo(under.y, 6);
    // A finger that stays a little longer than the other does not take hold of anything.
    finger('pointerup', 2, 164, 100);
    finger('pointermove', 1, 60, 60);
    finger('pointerup', 1, 60, 60);
    expect(told.placed.length).toBe(before);
    expect(told.placed.filter(([, done]) => done)).toEqual([]);
    await drag(px(100, 100), px(120, 100), { pointerType: 'touch', altKey: true });
    expect(last()[0]['a'].x).toBeCloseTo(120, 3);
  });

  it('ropes what it touches, and lets go of everything with a press beside', async () => {
    open([square('a', 100, 100), square('b', 250, 300), square('c', 300, 100, { hidden: true })]);
    await drag(px(40, 40), px(330, 120));
    expect(told.selected.at(-1)).toEqual([['a'], 'only']);
    await drag(px(40, 40), px(340, 360), { shiftKey: true });
    expect(told.selected.at(-1)).toEqual([['a', 'b'], 'only']);
    await drag(px(20, 20), px(20, 20));
    expect(told.selected.at(-1)).toEqual([[], 'only']);
  });

  it('turns a shape’s own handle into its number', async () => {
    open([
      {
        ...shapeLayer('ring', 'ring', field, '#112233'),
        place: { x: 150, y: 200, width: 100, height: 100, turn: 90, flipX: false, flipY: false },
      },
    ]);
    show({ selection: ['ring'] });
    // A thickness of 20 % has its handle a tenth of the height inside the upper edge; the ring is turned, so that is
    // at its right.
    await drag(px(190, 200), px(175, 200));
    expect(told.parameters.at(-1)).toEqual(['thickness', 50, true]);
  });

  it('pulls guides out, moves them, and drops them beyond the edge', async () => {
    open([square('a', 100, 100)], { guides: [{ axis: 'x', at: 200 }] });
    await drag(px(200, 350), px(210, 350));
    expect(told.guides[0]).toBeCloseTo(210, 0);
    show();
    await drag(px(200, 350), { clientX: -30, clientY: 300 });
    expect(told.guides[1]).toBeNull();
    view.pullGuide('y', null);
    press('pointermove', px(0, 90));
    press('pointerup', px(0, 90));
    expect(told.guides[2]).toBeCloseTo(90, 0);
  });

  it('draws with a pen’s pressure, takes colours, and moves the window', async () => {
    open([
      square('a', 100, 100),
      freehandLayer('f', {
        points: [50, 300, 0.5, 90, 300, 0.5],
        size: 10,
        hardness: 1,
        opacity: 1,
        hex: '#11564f',
        erase: false,
      }),
    ]);
    show({ tool: 'brush' });
    press('pointerdown', px(100, 200), { pointerType: 'pen', pressure: 0.3 });
    press('pointermove', px(120, 200), { pointerType: 'pen', pressure: 0.9 });
    press('pointerup', px(120, 200));
    expect(
      told.strokes[0].map((point) => [Math.round(point.x), Math.round(point.y), Math.round(point.pressure * 10)]),
    ).toEqual([
      [100, 200, 3],
      [120, 200, 9],
    ]);
    show({ tool: 'sampler' });
    await frame();
    press('pointerdown', px(100, 100));
    press('pointerdown', px(70, 300));
    press('pointerdown', px(300, 350));
    expect(told.sampled).toEqual(['#c2552b', '#11564f', null]);
    // The grey of a picture that has not come is no colour of it; once it is there, it is.
    const picture = { ...square('picture', 250, 100), kind: 'picture', assetId: 'a' } as unknown as Layer;
    open([square('a', 100, 100), picture]);
    show({ tool: 'sampler' });
    await frame();
    press('pointerdown', px(250, 100));
    const image = new OffscreenCanvas(4, 4);
    const context = image.getContext('2d')!;
    context.fillStyle = '#1f2b4d';
    context.fillRect(0, 0, 4, 4);
    show({ imageOf: () => image });
    await frame();
    press('pointerdown', px(250, 100));
    expect(told.sampled.slice(3)).toEqual(['picture comes', '#1f2b4d']);
    show({ tool: 'move' });
    view.panning = true;
    await drag(px(200, 300), px(220, 300));
    expect(told.looked.at(-1)!.left).toBeCloseTo(port.left + 20 * port.scale, 0);
    container
      .querySelector('.konvajs-content')!
      .dispatchEvent(
        new WheelEvent('wheel', { ...px(100, 100), deltaY: -300, ctrlKey: true, bubbles: true, cancelable: true }),
      );
    const near = told.looked.at(-1)!;
    expect(near.scale).toBeGreaterThan(port.scale * 1.5);
    expect(near.left + 100 * near.scale).toBeCloseTo(px(100, 100).clientX, -1);
  });
});
