import { emptyDesign, type DesignDocument, type FreehandLayer, type Stroke } from '@kettle/core/model';
import { freehandLayer, shapeLayer } from '@kettle/core/drawing';
import { addLayer, MOST_STEPS, record, rename, startHistory, undo, type History } from '@kettle/core/document';
import { openDB } from 'idb';
import { UndoLog } from './undo-log';

describe('the kept way back', () => {
  const start = emptyDesign('Fog');
  const star = shapeLayer('s', 'star', start.field, '#112233');
  const steps = (): History<DesignDocument> => {
    let history = startHistory(start);
    history = record(history, addLayer(star)(history.present));
    history = record(history, rename('Drizzle')(history.present));
    history = record(history, rename('Isobars')(history.present));
    return undo(history);
  };
  beforeEach(() => sessionStorage.clear());

  it('is there after a reload, with undo and redo, layer by layer', async () => {
    const id = crypto.randomUUID();
    const history = steps();
    await new UndoLog().save(id, history);
    const kept = (await new UndoLog().load(id))!;
    expect(kept.past).toEqual([...history.past]);
    expect(kept.present).toEqual(history.present);
    expect(kept.future).toEqual([...history.future]);
    // Steps that share a layer share it again.
    expect(kept.present.layers[0]).toBe(kept.past[1].layers[0]);
  });

  it('grows by what is new, and stays apart for each design', async () => {
    const id = crypto.randomUUID();
    const log = new UndoLog();
    let history = steps();
    await log.save(id, history);
    history = record(history, rename('Barometer')(history.present));
    await log.save(id, history);
    expect((await new UndoLog().load(id))!.present.name).toBe('Barometer');
    expect((await new UndoLog().load(id))!.future).toEqual([]);
    expect(await new UndoLog().load(crypto.randomUUID())).toBeNull();
  });

  it('keeps a stroke once, however many steps have it, and clears away what no step has any more', async () => {
    const id = crypto.randomUUID();
    const log = new UndoLog();
    const stroke = (n: number): Stroke => ({
      points: Array.from({ length: 300 }, (_, i) => i * 0.1 + n),
      size: 2,
      hardness: 1,
      opacity: 1,
      hex: '#112233',
      erase: false,
    });
    const lines = (strokes: readonly Stroke[]): DesignDocument => ({
      ...start,
      layers: [{ ...freehandLayer('f', stroke(0)), strokes }],
    });
    let strokes: readonly Stroke[] = [stroke(0)];
    let history = startHistory(lines(strokes));
    for (let i = 1; i < 700; i++) {
      strokes = i % 40 === 0 ? strokes.slice(-3) : [...strokes, stroke(i)];
      history = record(history, lines(strokes));
      if (i % 7 === 0) await log.save(id, history);
    }
    await log.save(id, history);
    const again = (await new UndoLog().load(id))!;
    expect(again.present).toEqual(history.present);
    expect(again.past.length).toBe(MOST_STEPS);
    expect(again.past.at(-1)).toEqual(history.past.at(-1)!);
    // The stroke that two steps share is one object again.
    expect((again.present.layers[0] as FreehandLayer).strokes[0]).toBe(
      (again.past.at(-1)!.layers[0] as FreehandLayer).strokes[0],
    );
    const database = await openDB('kettle-undo');
    const keys = await Promise.all(['steps', 'pieces'].map(async (store) => (await database.getAllKeys(store)).length));
    database.close();
    // 700 strokes were drawn and 12,000 mentions of them kept; of the steps no more than twice what can be undone.
    expect(keys[1]).toBeLessThan(1200);
    expect(keys[0]).toBeLessThan(1400);
  });

  it('survives a browser that has no room: what was not written is written again, the newest steps first', async () => {
    const id = crypto.randomUUID();
    const log = new UndoLog();
    let history = startHistory(start);
    for (let i = 0; i < 40; i++) history = record(history, rename(`Step ${i}`)(history.present));
    const put = IDBObjectStore.prototype.put;
    let full = true;
    spyOn(IDBObjectStore.prototype, 'put').and.callFake(function refuse(
      this: IDBObjectStore,
      ...values: Parameters<typeof put>
    ) {
      if (full && this.name === 'logs') {
        full = false;
        throw new DOMException('No room.', 'QuotaExceededError');
      }
      return put.apply(this, values);
    });
    await log.save(id, history);
    const kept = (await new UndoLog().load(id))!;
    expect(kept.present.name).toBe('Step 39');
    expect(kept.past.length).toBe(20);
    history = record(history, rename('After')(history.present));
    await log.save(id, history);
    expect((await new UndoLog().load(id))!.past.at(-1)!.name).toBe('Step 39');
  });

  it('is forgotten when nobody came back to it for two months', async () => {
    const id = crypto.randomUUID();
    const past = spyOn(Date, 'now').and.returnValue(Date.now() - 61 * 24 * 3600 * 1000);
    await new UndoLog().save(id, steps());
    past.and.callThrough();
    await new UndoLog().load(crypto.randomUUID());
    let left: unknown = id;
    for (let i = 0; i < 50 && left; i++) left = await new UndoLog().load(id);
    expect(left).toBeNull();
  });

  it('belongs to its tab; a new tab begins with the one left last', async () => {
    const id = crypto.randomUUID();
    await new UndoLog().save(id, startHistory(rename('One')(start)));
    sessionStorage.clear();
    expect((await new UndoLog().load(id))!.present.name).toBe('One');
    await new UndoLog().save(id, startHistory(rename('Two')(start)));
    expect((await new UndoLog().load(id))!.present.name).toBe('Two');
  });
});
