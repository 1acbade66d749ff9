import { Injectable } from '@angular/core';
import type { DesignDocument, Layer } from '@kettle/core/model';
import { kindOf } from '@kettle/core/layers';
import type { History } from '@kettle/core/document';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';

/** A document with its layers by key: steps share the layers they have in common. */
type Step = Omit<DesignDocument, 'layers'> & { readonly layers: readonly string[] };

interface Log {
  readonly designId: string;
  readonly past: readonly string[];
  readonly present: string;
  readonly future: readonly string[];
  readonly at: number;
}

/**
 * A layer without the long lists that only grow at their end: their members are pieces of their own, shared by all
 * steps that have them.
 */
interface KeptLayer {
  readonly log: string;
  readonly layer: Layer;
  readonly pieces?: Readonly<Record<string, readonly string[]>>;
}

interface Schema extends DBSchema {
  logs: { key: string; value: Log; indexes: { design: string } };
  steps: { key: string; value: { readonly log: string; readonly step: Step }; indexes: { log: string } };
  layers: { key: string; value: KeptLayer; indexes: { log: string } };
  pieces: { key: string; value: { readonly log: string; readonly piece: object }; indexes: { log: string } };
}

/** Time after which a log that was not written to is forgotten. */
const KEPT_MS = 60 * 24 * 3600 * 1000;
/** Steps that are kept where the browser has no room for more. */
const KEPT_WHEN_FULL = 20;

/** Keys of what is already written. Documents and layers are never changed in place, so an object is written once. */
class Keys<T extends object> {
  private readonly keys = new WeakMap<T, string>();
  private readonly prefix = crypto.randomUUID().slice(0, 8);
  private count = 0;
  of(value: T): string {
    let key = this.keys.get(value);
    if (!key) this.keys.set(value, (key = `${this.prefix}${(this.count++).toString(36)}`));
    return key;
  }
  know(value: T, key: string): void {
    this.keys.set(value, key);
  }
}

/** Undo and redo of each design, kept in this browser across reloads. Every tab writes a log of its own. */
@Injectable({ providedIn: 'root' })
export class UndoLog {
  private readonly base: Promise<IDBPDatabase<Schema> | null> = openDB<Schema>('kettle-undo', 2, {
    upgrade(database, from) {
      if (from < 1) {
        database.createObjectStore('logs').createIndex('design', 'designId');
        database.createObjectStore('steps').createIndex('log', 'log');
        database.createObjectStore('layers').createIndex('log', 'log');
      }
      if (from < 2) database.createObjectStore('pieces').createIndex('log', 'log');
    },
  }).catch(() => null);
  private readonly steps = new Keys<DesignDocument>();
  private readonly layers = new Keys<Layer>();
  private readonly pieces = new Keys<object>();
  /** Keys written since what no step has any more was last cleared away, by log. */
  private readonly sinceCleared = new Map<string, number>();
  private readonly written = new Set<string>();
  private last: Promise<void> = Promise.resolve();

  /** The history a design was left with in this tab, or in the tab that had it last; null when there is none. */
  async load(designId: string): Promise<History<DesignDocument> | null> {
    const database = await this.base;
    if (!database) return null;
    const own = logKey(designId);
    const logs = await database.getAllFromIndex('logs', 'design', designId);
    const left = await database.get('logs', own);
    const log = left ?? logs.sort((a, b) => b.at - a.at)[0];
    void this.sweep(database).catch(() => undefined);
    if (!log) return null;
    // Steps of another tab's log are written again as this tab's own.
    const written = left ? this.written : new Set<string>();
    const layers = new Map<string, Layer>();
    const pieces = new Map<string, object>();
    const read = async (key: string): Promise<DesignDocument | null> => {
      const found = await database.get('steps', key);
      if (!found) return null;
      const all: Layer[] = [];
      for (const layerKey of found.step.layers) {
        const layer = layers.get(layerKey) ?? (await this.readLayer(database, layerKey, pieces, written));
        if (!layer) return null;
        layers.set(layerKey, layer);
        this.layers.know(layer, layerKey);
        written.add(layerKey);
        all.push(layer);
      }
      const document = { ...found.step, layers: all };
      this.steps.know(document, key);
      written.add(key);
      return document;
    };
    const each = async (keys: readonly string[]): Promise<(DesignDocument | null)[]> => {
      const all: (DesignDocument | null)[] = [];
      for (const key of keys) all.push(await read(key));
      return all;
    };
    const [past, future, present] = [await each(log.past), await each(log.future), await read(log.present)];
    // A step that is gone cuts the history there: what lies beyond it cannot be reached in order.
    const gap = past.lastIndexOf(null);
    const end = future.lastIndexOf(null);
    return (
      present && {
        past: past.slice(gap + 1) as DesignDocument[],
        present,
        future: future.slice(end + 1) as DesignDocument[],
        mergeKey: null,
      }
    );
  }

  /**
   * A layer with its pieces back in place; null when one of them is gone. Layers and steps that share a piece share it
   * again.
   */
  private async readLayer(
    database: IDBPDatabase<Schema>,
    key: string,
    pieces: Map<string, object>,
    written: Set<string>,
  ): Promise<Layer | null> {
    const kept = await database.get('layers', key);
    if (!kept?.pieces) return kept?.layer ?? null;
    const whole: Record<string, unknown> = { ...kept.layer };
    for (const [field, keys] of Object.entries(kept.pieces)) {
      const members: object[] = [];
      for (const pieceKey of keys) {
        const piece = pieces.get(pieceKey) ?? (await database.get('pieces', pieceKey))?.piece;
        if (!piece) return null;
        pieces.set(pieceKey, piece);
        this.pieces.know(piece, pieceKey);
        written.add(pieceKey);
        members.push(piece);
      }
      whole[field] = members;
    }
    return whole as unknown as Layer;
  }

  /**
   * Writes a history, after whatever is still being written. A browser that will not keep it loses only the way back.
   */
  save(designId: string, history: History<DesignDocument>): Promise<void> {
    this.last = this.last.then(() => this.write(designId, history)).catch(() => undefined);
    return this.last;
  }

  /** Forgets logs that nobody came back to. */
  private async sweep(database: IDBPDatabase<Schema>): Promise<void> {
    for (const key of await database.getAllKeys('logs')) {
      const log = await database.get('logs', key);
      if (!log || log.at > Date.now() - KEPT_MS) continue;
      await this.forget(database, key);
    }
  }

  /** A browser without room for all of it keeps the steps done last. */
  private async write(designId: string, { past, present, future }: History<DesignDocument>): Promise<void> {
    const database = await this.base;
    if (!database) return;
    const log = logKey(designId);
    try {
      await this.put(database, log, designId, past, present, future);
    } catch {
      // What was said to be written may not be: this log begins again with the newest steps.
      await this.forget(database, log);
      await this.put(database, log, designId, past.slice(-KEPT_WHEN_FULL), present, []);
    }
  }

  private async put(
    database: IDBPDatabase<Schema>,
    log: string,
    designId: string,
    past: readonly DesignDocument[],
    present: DesignDocument,
    future: readonly DesignDocument[],
  ): Promise<void> {
    const change = database.transaction(['logs', 'steps', 'layers', 'pieces'], 'readwrite');
    const coming = new Set<string>();
    const puts: Promise<unknown>[] = [];
    for (const document of [...past, present, ...future]) {
      const key = this.steps.of(document);
      if (this.written.has(key) || coming.has(key)) continue;
      for (const layer of document.layers) {
        const layerKey = this.layers.of(layer);
        if (this.written.has(layerKey) || coming.has(layerKey)) continue;
        const { kept, members } = apart(log, layer, this.pieces);
        puts.push(change.objectStore('layers').put(kept, layerKey));
        coming.add(layerKey);
        for (const [pieceKey, piece] of members) {
          if (this.written.has(pieceKey) || coming.has(pieceKey)) continue;
          puts.push(change.objectStore('pieces').put({ log, piece }, pieceKey));
          coming.add(pieceKey);
        }
      }
      puts.push(
        change
          .objectStore('steps')
          .put({ log, step: { ...document, layers: document.layers.map((layer) => this.layers.of(layer)) } }, key),
      );
      coming.add(key);
    }
    puts.push(
      change.objectStore('logs').put(
        {
          designId,
          past: past.map((one) => this.steps.of(one)),
          present: this.steps.of(present),
          future: future.map((one) => this.steps.of(one)),
          at: Date.now(),
        },
        log,
      ),
    );
    await Promise.all([...puts, change.done]);
    // Only what the browser has confirmed counts as written.
    for (const key of coming) this.written.add(key);
    const since = (this.sinceCleared.get(log) ?? 0) + coming.size;
    this.sinceCleared.set(log, since < CLEARED_AFTER ? since : 0);
    if (since >= CLEARED_AFTER) await this.clear(database, log, [...past, present, ...future]);
  }

  /** Clears away what no step of a log has any more: the history is bounded, and so is what is kept of it. */
  private async clear(database: IDBPDatabase<Schema>, log: string, steps: readonly DesignDocument[]): Promise<void> {
    const live = new Set<string>(steps.map((one) => this.steps.of(one)));
    for (const layer of new Set(steps.flatMap((one) => one.layers))) {
      live.add(this.layers.of(layer));
      for (const [key] of apart(log, layer, this.pieces).members) live.add(key);
    }
    for (const store of ['steps', 'layers', 'pieces'] as const) {
      const dead = (await database.getAllKeysFromIndex(store, 'log', log)).filter((key) => !live.has(key));
      const change = database.transaction(store, 'readwrite');
      await Promise.all([...dead.map((key) => change.store.delete(key)), change.done]);
      for (const key of dead) this.written.delete(key);
    }
  }

  private async forget(database: IDBPDatabase<Schema>, log: string): Promise<void> {
    for (const store of ['steps', 'layers', 'pieces'] as const) {
      for (const key of await database.getAllKeysFromIndex(store, 'log', log)) {
        await database.delete(store, key);
        this.written.delete(key);
      }
    }
    await database.delete('logs', log);
  }
}

/** Keys that are written before what no step has any more is looked for. */
const CLEARED_AFTER = 400;

/** A layer as it is kept: its long lists of objects as the keys of their members. */
function apart(
  log: string,
  layer: Layer,
  keys: Keys<object>,
): { kept: KeptLayer; members: readonly (readonly [string, object])[] } {
  const fields = Object.entries(layer).filter(
    ([key, value]) => (kindOf(layer).bulk as readonly string[]).includes(key) && Array.isArray(value),
  ) as [string, object[]][];
  if (!fields.length) return { kept: { log, layer }, members: [] };
  const pieces = Object.fromEntries(fields.map(([field, list]) => [field, list.map((one) => keys.of(one))]));
  const bare = { ...layer, ...Object.fromEntries(fields.map(([field]) => [field, []])) } as Layer;
  return {
    kept: { log, layer: bare, pieces },
    members: fields.flatMap(([, list]) => list.map((one) => [keys.of(one), one] as const)),
  };
}

const TAB = 'kettle.tab';

/** Key of this tab's log of a design. It stays the same across reloads. */
function logKey(designId: string): string {
  let tab = sessionStorage.getItem(TAB);
  if (!tab) sessionStorage.setItem(TAB, (tab = crypto.randomUUID()));
  return `${designId} ${tab}`;
}
