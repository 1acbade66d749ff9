import { Injectable, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { FontFamily, TracedPicture } from '@kettle/contract';
import type { PictureLayer } from '@kettle/core/model';
import { mapLayers } from '@kettle/core/document';
import { fixEdit, type Finding, type Fix } from '@kettle/core/checks';
import { filter, switchMap } from 'rxjs';
import { FontPicker } from '../artwork/font-picker';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { TraceDialog } from '../cutout/trace-dialog';
import { newLayerId } from '../data/intake';
import { Editor, type EditorTarget } from '../editor/editor';

/** Fixes that leave the design as it was meant: nothing is chosen, and nothing is seen to move far. */
const AT_ONCE: readonly Fix['kind'][] = [
  'demanded-canvas',
  'demanded-dpi',
  'move-inside',
  'clean',
  'thicken',
  'unflip',
];

const keyOf = (finding: Finding, { key }: EditorTarget): string => `${key} ${finding.code} ${finding.layerId ?? ''}`;

/** Mends findings: at once where there is nothing to choose, otherwise after asking. Provided by the bench. */
@Injectable()
export class Mending {
  private readonly editor = inject(Editor);
  private readonly api = inject(Api);
  private readonly assets = inject(AssetShelf);
  private readonly dialog = inject(MatDialog);
  private readonly notices = inject(Notices);

  mend(finding: Finding, one: EditorTarget): void {
    if (finding.fix?.kind === 'face') this.chooseFace(finding.fix.layerId);
    else if (finding.fix?.kind === 'cut-out') this.editor.treat(finding.fix.layerId, one);
    else if (finding.fix?.kind === 'colours') this.editor.lookAtColours(one);
    else if (finding.fix?.kind === 'trace') this.redraw(finding.fix.layerId);
    else this.editor.mend(finding, one);
  }

  /** What can be mended without a choice, on all targets. */
  withoutChoice(): readonly { readonly finding: Finding; readonly target: EditorTarget }[] {
    const design = this.editor.desk.document();
    if (!design) return [];
    return this.editor
      .targets()
      .flatMap((target) =>
        target.findings
          .filter(
            (finding) =>
              finding.accepted === undefined &&
              finding.severity !== 'tells' &&
              finding.fix &&
              AT_ONCE.includes(finding.fix.kind),
          )
          .map((finding) => ({ finding, target })),
      );
  }

  /** Mends all of that as one step, and says what was done. Each is looked at again: what one mends may mend another. */
  mendAll(): void {
    const done = new Map<string, number>();
    let more = this.withoutChoice();
    const tried = new Set<string>();
    while (more.length) {
      const next = more.find(({ finding, target }) => !tried.has(keyOf(finding, target)));
      if (!next) break;
      tried.add(keyOf(next.finding, next.target));
      const design = this.editor.desk.document()!;
      const edit = fixEdit(next.finding, design, next.target.target, next.target.requirement);
      if (edit) {
        this.editor.edit(edit, 'mend all');
        const label = next.finding.fix!.label.toLowerCase();
        done.set(label, (done.get(label) ?? 0) + 1);
      }
      more = this.withoutChoice();
    }
    this.editor.desk.settle();
    const words = [...done].map(([label, n]) => (n === 1 ? label : `${label} (${n} times)`));
    if (words.length)
      this.notices.say(`Done: ${words.join(', ')}.`, { label: 'Undo', run: () => this.editor.desk.undo() });
  }

  /** Shows a picture redrawn as outlines beside itself; what is taken lies in front of it, and it stays, hidden. */
  private redraw(layerId: string): void {
    const layer = this.editor.layers().find((one) => one.id === layerId);
    if (layer?.kind !== 'picture') return;
    this.dialog
      .open<TraceDialog, PictureLayer, TracedPicture>(TraceDialog, { width: '880px', maxWidth: '95vw', data: layer })
      .afterClosed()
      .pipe(filter((traced): traced is TracedPicture => traced !== undefined))
      .subscribe(({ parts, box }) => {
        const { assetId: _asset, treatments: _treatments, screen: _screen, ...rest } = layer;
        const id = newLayerId();
        this.editor.edit((design) => {
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
        this.editor.desk.settle();
        this.editor.selection.set([id]);
      });
  }

  /** Sets the live text of an SVG in a face of the seller's choice. */
  private chooseFace(layerId: string): void {
    const layer = this.editor.layers().find((one) => one.id === layerId);
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
        switchMap((chosen) =>
          this.api.ask('post /api/assets/{id}/face', { id: layer.assetId, body: { family: chosen.name } }),
        ),
      )
      .subscribe({
        next: (asset) => {
          this.assets.put(asset);
          this.editor.edit(
            mapLayers([layerId], (now) => (now.kind === 'picture' ? { ...now, assetId: asset.id } : now)),
          );
          this.editor.desk.settle();
        },
        error: (error: unknown) => this.notices.complain(error),
      });
  }
}
