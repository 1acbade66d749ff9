import { Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { FontFamily } from '@kettle/contract';
import { mapLayers, type Finding } from '@kettle/core';
import { filter, switchMap } from 'rxjs';
import { FontPicker } from '../artwork/font-picker';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { Bench, type BenchTarget } from './bench';

/** Mends findings: at once where there is nothing to choose, otherwise after asking. Provided by the bench. */
@Injectable()
export class Mending {
  private readonly bench = inject(Bench);
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);

  mend(finding: Finding, one: BenchTarget): void {
    if (finding.fix?.kind === 'face') this.chooseFace(finding.fix.layerId);
    else if (finding.fix?.kind === 'cut-out') this.bench.treat(finding.fix.layerId, one);
    else this.bench.mend(finding, one);
  }

  /** Sets the live text of an SVG in a face of the seller's choice. */
  private chooseFace(layerId: string): void {
    const layer = this.bench.layers().find((one) => one.id === layerId);
    if (layer?.kind !== 'picture') return;
    const family = this.assets.facts()[layer.assetId]?.liveText?.[0] ?? '';
    this.dialog
      .open<FontPicker, unknown, FontFamily>(FontPicker, {
        width: '820px',
        maxWidth: '94vw',
        data: { family, text: '' },
      })
      .afterClosed()
      .pipe(
        filter((chosen): chosen is FontFamily => chosen !== undefined),
        switchMap((chosen) => this.api.setFace(layer.assetId, chosen.name)),
      )
      .subscribe({
        next: (asset) => {
          this.assets.put(asset);
          this.bench.edit(
            mapLayers([layerId], (now) => (now.kind === 'picture' ? { ...now, assetId: asset.id } : now)),
          );
          this.bench.desk.settle();
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }
}
