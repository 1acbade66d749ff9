import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { OutputKind } from '../making/output-kind.js';
import { OUTPUT_KINDS } from '../making/output-kinds.js';
import type { Workshop } from '../making/workshop.js';
import { newId } from '../stores/ids.js';
import type { OutputStore } from '../stores/outputs.js';
import type { SheetStore } from '../stores/sheet.js';
import type { JobKind } from './job-kind.js';
import { askSalesKind, type SalesHouse } from './ask-sales.js';
import { publishKind, type PublishHouse } from './publish.js';
import { shopOrderKind, type ShopHouse } from './shop-order.js';

/** What steps are done with. */
export interface JobHouse extends PublishHouse, ShopHouse, SalesHouse {
  readonly workshop: Workshop;
  readonly outputs: OutputStore;
  readonly sheet: SheetStore;
  readonly cache: string;
}

/**
 * Every kind of step there is: one for each kind of output, which makes it unless its recipe was followed before, and those
 * that speak to markets and print shops.
 */
export const jobKinds = (house: JobHouse): readonly JobKind[] => [
  ...OUTPUT_KINDS.map((kind) => makes(kind, house)),
  publishKind(house) as JobKind,
  shopOrderKind(house) as JobKind,
  askSalesKind(house) as JobKind,
];

function makes(kind: OutputKind, { workshop, outputs, sheet, blobs, cache }: JobHouse): JobKind {
  return {
    kind: kind.kind,
    engine: kind.engine,
    lane: kind.lane,
    payload: kind.step,
    async run(step, { who, signal, progress, pool }) {
      const order = await kind.order(step, who, workshop);
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
