import { Injectable, inject, signal } from '@angular/core';
import type { DesignDocument } from '@kettle/core/model';
import { picturesOf } from '@kettle/core/layers';
import { firstValueFrom } from 'rxjs';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';

/** Designs beside the one that is open, as a clip of several shows them. Provided by the clips station. */
@Injectable()
export class OtherDesigns {
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly asked = new Map<string, Promise<DesignDocument>>();
  /** Those that are there, by id. */
  readonly known = signal<ReadonlyMap<string, DesignDocument>>(new Map());

  /** @throws Error with a sentence when it cannot be had */
  need(id: string): Promise<DesignDocument> {
    const design = this.asked.get(id) ?? this.fetch(id);
    this.asked.set(id, design);
    // What failed is tried again when it is asked for again.
    design.catch(() => this.asked.delete(id));
    return design;
  }

  private async fetch(id: string): Promise<DesignDocument> {
    const saved = await firstValueFrom(this.api.ask('get /api/designs/{id}', { id })).catch(() => {
      throw new Error('A design of this clip is gone, or cannot be reached. Take its scene away, or try again.');
    });
    const { document } = saved;
    this.assets.want(picturesOf(document.layers));
    this.known.update((all) => new Map(all).set(id, document));
    return document;
  }
}
