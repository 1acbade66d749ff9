import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { OutputKind } from './output-kind.js';
import { newId } from '../floor/database/ids.js';
import type { OutputStore } from './output-store.js';
import type { SheetStore } from '../designs/sheet-store.js';
import type { BlobStore } from '../floor/files/blob-store.js';
import type { RenderPool } from '../render/render-pool.js';
import type { JobKind } from '../floor/queue/job-kind.js';

/** What outputs are made with. */
export interface MakingNeeds {
  readonly outputStore: OutputStore;
  readonly sheetStore: SheetStore;
  readonly blobs: BlobStore;
  readonly cache: string;
}

/** The step that makes an output of a kind, unless its recipe was followed before. */
export function makeStep(
  kind: OutputKind,
  { outputStore: outputs, sheetStore: sheet, blobs, cache }: MakingNeeds,
): JobKind<unknown, RenderPool> {
  return {
    kind: kind.kind,
    engine: kind.engine,
    lane: kind.lane,
    payload: kind.step,
    async run(step, { who, signal, progress, pool }) {
      const order = await kind.order(step, who);
      const { hash: recipe, designId, revision, about, filename, mediaType } = order;
      const known = await outputs.byRecipe(kind.kind, designId, recipe);
      if (known) {
        if (known.filename !== filename) await outputs.rename(known.id, filename);
        return known.id;
      }
      const sources: Record<string, string> = {};
      for (const sha256 of order.sources) sources[sha256] ??= await blobs.localPath(sha256);
      return inFolder(join(cache, 'outgoing'), async (out) => {
        const input = {
          kind: kind.kind,
          recipe: order.recipe,
          sources,
          files: order.files ?? {},
          more: order.more,
          out,
        };
        const facts = await pool.run('make', input, { signal, progress });
        const { accepted, record } = kind.certify(order, facts);
        const common = { owner: who.owner, designId, revision, accepted };
        const { id } = await outputs.add({
          ...common,
          kind: kind.kind,
          about,
          recipe,
          ...(await blobs.put(out)),
          filename,
          mediaType,
          record,
        });
        for (const { path, ...one } of kind.beside?.(order, id, facts) ?? [])
          await outputs.add({ ...common, ...one, ...(await blobs.put(path)) });
        if (designId) await sheet.made(designId, kind.shown, about, id);
        return id;
      });
    },
  };
}

/** Gives a path in a folder of its own, and leaves nothing there. */
async function inFolder<T>(folder: string, work: (out: string) => Promise<T>): Promise<T> {
  const own = join(folder, newId());
  await mkdir(own, { recursive: true });
  try {
    return await work(join(own, 'made'));
  } finally {
    await rm(own, { recursive: true, force: true });
  }
}
