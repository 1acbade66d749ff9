import type { LetteringRoom } from '../lettering/room.js';
import type { Ground } from '../render/render-pools.js';
import { AssetStore } from './asset-store.js';
import { AssetService } from './assets.js';
import { GraphicsService } from './graphics.js';
import { PictureService } from './pictures.js';
import { TreatedStore } from './treated-store.js';

export function openArtwork(house: Ground & LetteringRoom & { readonly mostUploadBytes?: number }) {
  const assetStore = new AssetStore(house.database);
  const treatedStore = new TreatedStore(house.database);
  return {
    assetStore,
    assets: new AssetService({ ...house, assetStore }),
    pictures: new PictureService({ ...house, assetStore, treatedStore }),
    graphics: new GraphicsService(house.pools.view),
  };
}

export type ArtworkRoom = ReturnType<typeof openArtwork>;
