import { createReadStream } from 'node:fs';
import { artworkPath, DEMO_DESIGNS, DEMO_REQUIREMENTS, type DemoDesign } from '@kettle/demo';
import { emptyDesign, placeLayer, SAME_SIZE_TOP, type DesignDocument, type Layer } from '@kettle/core';
import type { House } from '../house.js';
import { newId } from '../stores/ids.js';

/** Puts the demo requirements in, once. */
export async function loadRequirements({ requirements }: House): Promise<void> {
  if ((await requirements.list()).length) return;
  for (const { id, ...fields } of DEMO_REQUIREMENTS) await requirements.add(fields, id);
}

/** Puts the Tarn End Weather Club's designs in, once, and asks for some of their print files. */
export async function loadDesigns(house: House): Promise<void> {
  if ((await house.designs.list()).length) return;
  for (const demo of DEMO_DESIGNS) {
    const { id, revision, document } = await house.designs.add(await documentOf(house, demo));
    if (demo.made.length) await house.outputs.askForPrintFiles(id, demo.made);
    // A later nudge makes what was asked for out of date, as it happens in real work.
    if (demo.moved) await house.designs.save(id, revision, placeLayer(document.layers[1].id, { turn: 8 })(document));
  }
}

async function documentOf(house: House, demo: DemoDesign): Promise<DesignDocument> {
  const layers: Layer[] = [];
  for (const { file, name, place } of demo.layers) {
    const asset = await house.assets.takeIn(createReadStream(artworkPath(file)), file);
    layers.push({ kind: 'picture', id: newId(), name, assetId: asset.id, opacity: 1, hidden: false, place: { turn: 0, flipX: false, flipY: false, ...place } });
  }
  return {
    ...emptyDesign(demo.name), layers,
    targets: demo.targets.map(({ id, garment, cover }) => ({
      requirementId: id, ...(garment ? { garment } : {}), ...(cover ? { placement: { ...SAME_SIZE_TOP, rule: 'cover' as const, anchor: 'centre' as const, scale: 1.26, offsetY: 4 } } : {}),
    })),
  };
}
