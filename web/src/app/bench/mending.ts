import { Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { FontFamily, TracedPicture } from '@kettle/contract';
import { mapLayers, type Finding, type PictureLayer } from '@kettle/core';
import { filter, switchMap } from 'rxjs';
import { FontPicker } from '../artwork/font-picker';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { TraceDialog } from '../cutout/trace-dialog';
import { newLayerId } from '../data/intake';
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
    else if (finding.fix?.kind === 'colours') this.bench.lookAtColours(one);
    else if (finding.fix?.kind === 'trace') this.redraw(finding.fix.layerId);
    else this.bench.mend(finding, one);
  }

  /** Shows a picture redrawn as outlines beside itself; what is taken lies in front of it, and it stays, hidden. */
  private redraw(layerId: string): void {
    const layer = this.bench.layers().find((one) => one.id === layerId);
    if (layer?.kind !== 'picture') return;
    this.dialog
      .open<TraceDialog, PictureLayer, TracedPicture>(TraceDialog, { width: '880px', maxWidth: '95vw', data: layer })
      .afterClosed()
      .pipe(filter((traced): traced is TracedPicture => traced !== undefined))
      .subscribe(({ parts, box }) => {
        const { assetId: _asset, treatments: _treatments, screen: _screen, ...rest } = layer;
        const id = newLayerId();
        this.bench.edit((design) => {
          const at = design.layers.findIndex((one) => one.id === layerId);
          const outlines = { ...rest, kind: 'graphic' as const, id, graphic: 'traced', box, parts };
          return {
            ...design,
            layers: [
              ...design.layers.slice(0, at),
              { ...design.layers[at], hidden: true },
              outlines,
              ...design.layers.slice(at + 1),
            ],
          };
        });
        this.bench.desk.settle();
        this.bench.selection.set([id]);
      });
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
