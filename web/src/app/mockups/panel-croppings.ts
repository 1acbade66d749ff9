import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal, untracked } from '@angular/core';
import { compose, scale, translate, type Affine } from '@kettle/core/geometry';
import { salienceOf } from '@kettle/core/raster';
import type { Canvas, DesignDocument, TargetPlacement } from '@kettle/core/model';
import { croppingsOf, type Cropping } from '@kettle/core/requirement';
import { boundsOfLayers, changeTarget, layoutTarget, placementAt } from '@kettle/core/document';
import { designOnScene } from '@kettle/core/mockup';
import { drawLayers } from '../paint/paint-layers';
import { Editor } from '../editor/editor';
import { TargetPicture } from '../editor/target-picture';
import { AssetShelf } from '../data/asset-shelf';
import { MockupEditor } from './mockup-editor';

interface Proposed extends Cropping {
  readonly toCanvas: Affine;
  readonly placement: TargetPlacement;
}

interface Choices {
  readonly design: DesignDocument;
  readonly canvas: Canvas;
  readonly proposed: readonly Proposed[];
}

/** Ways of laying the art over the panel that is in hand, side by side, by what draws the eye. */
@Component({
  selector: 'ks-panel-croppings',
  changeDetection: ChangeDetectionStrategy.OnPush,
  imports: [TargetPicture],
  template: `
    <button type="button" class="chip" [attr.aria-expanded]="open()" (click)="open.set(!open())">
      {{ open() ? 'Close the croppings' : 'Compare croppings' }}
    </button>
    @if (choices(); as all) {
      <div class="choices" role="group" [attr.aria-label]="'Croppings of ' + name()">
        @for (one of all.proposed; track $index) {
          <button
            type="button"
            class="card"
            [title]="'Of what draws the eye, ' + percent(one.kept) + ' % stays on the cloth'"
            (click)="take(one)"
          >
            <ks-target-picture
              [design]="all.design"
              [toCanvas]="one.toCanvas"
              [canvas]="all.canvas"
              [garment]="garment()"
              [most]="[92, 110]"
            />
            <span>{{ $first ? 'middle, ' : '' }}keeps {{ percent(one.kept) }} %</span>
          </button>
        }
      </div>
    }
  `,
  styleUrl: './panel-croppings.scss',
})
export class PanelCroppings {
  private readonly editor = inject(Editor);
  private readonly mockup = inject(MockupEditor);
  private readonly assets = inject(AssetShelf);
  /** What was proposed for one panel is nothing for another. */
  protected readonly open = linkedSignal({ source: this.mockup.area, computation: () => false });
  /** Told from the picture as far as it is here, and again when more of it has come. */
  protected readonly choices = computed(() => {
    this.assets.imagesReady();
    return this.open() ? untracked(() => this.propose()) : null;
  });
  protected readonly name = computed(() => this.mockup.area()?.name ?? 'this panel');
  protected readonly garment = computed(() => this.mockup.scene()?.garment ?? '#ffffff');
  protected readonly percent = (share: number): number => Math.round(share * 100);

  private propose(): Choices | null {
    const [document, requirement] = [this.editor.desk.document(), this.mockup.requirement()];
    const target = document?.targets.find((one) => one.requirementId === requirement?.id);
    if (!document || !requirement?.panel || !target) return null;
    const design = designOnScene(document, requirement, this.garment());
    const art = boundsOfLayers(design.layers);
    if (!art) return null;
    const { canvas } = layoutTarget(design, target, requirement);
    const density = SEEN_PX / Math.max(art.width, art.height);
    const size = (mm: number): number => Math.max(1, Math.round(mm * density));
    const context = new OffscreenCanvas(size(art.width), size(art.height)).getContext('2d', {
      willReadFrequently: true,
    })!;
    drawLayers(context, design, translate(-art.x, -art.y), density, (layer) =>
      this.assets.image(layer.assetId, layer.treatments, 256),
    );
    const { width, height, data } = context.getImageData(0, 0, context.canvas.width, context.canvas.height);
    const proposed = croppingsOf(art, salienceOf({ width, height, data }), requirement.panel, canvas).map((one) => ({
      ...one,
      toCanvas: compose(translate(one.art.x, one.art.y), scale(one.art.width / art.width), translate(-art.x, -art.y)),
      placement: placementAt(design, art, canvas, one.art),
    }));
    return { design, canvas, proposed };
  }

  protected take({ placement }: Proposed): void {
    const requirement = this.mockup.requirement();
    if (!requirement) return;
    this.editor.desk.edit(changeTarget(requirement.id, { placement }));
    this.editor.desk.settle();
  }
}

/** Longer side at which it is told what draws the eye, px. */
const SEEN_PX = 96;
