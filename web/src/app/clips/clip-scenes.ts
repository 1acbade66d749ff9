import { Injectable, inject, computed } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { Box } from '@kettle/core/geometry';
import type { Blank, ClipScene, DesignDocument, Scene, ShownScene } from '@kettle/core/model';
import { artOnArea, isMovingBlank, onPicture, type MovingBlank } from '@kettle/core/mockup';
import { guisesOf, type Guise } from '@kettle/core/clip';
import { firstValueFrom, skip, timeout } from 'rxjs';
import { Editor } from '../editor/editor';
import { AssetShelf } from '../data/asset-shelf';
import { BlankShelf } from '../data/blank-shelf';
import { MockupEditor } from '../mockups/mockup-editor';
import type { DrawnPrint } from '../mockups/scene-messages';
import { ScenePainter } from '../mockups/scene-painter';
import { SceneTexture } from '../mockups/scene-texture';
import type { PressedGuise, SeenMoving } from './moving-messages';
import { MovingPainter } from './moving-painter';
import { OtherDesigns } from './other-designs';

/** Where the print is when it is not known yet. */
export const MIDDLE: Box = { x: 0.3, y: 0.3, width: 0.4, height: 0.4 };
/** How long a picture’s art is waited for when a file is made, ms. */
const MOST_WAIT = 20_000;

/** A scene of a clip as far as it is drawn. */
export type StagedScene = Pick<ClipScene, 'scene' | 'designId'>;

/** Names where a scene is printed. */
export const placeKey = ({ scene: { blankId, areaId, requirementId }, designId = '' }: StagedScene): string =>
  `${blankId} ${areaId} ${requirementId} ${designId}`;

/** Names all that a picture of a scene shows. */
export const keyOf = ({ scene, designId, guise }: StagedScene & { readonly guise: Guise }): string =>
  `${placeKey({ scene, designId })} ${JSON.stringify([{ ...scene, garment: guise.garment }, guise.layers ?? null])}`;

/** A moving scene, ready to be printed frame by frame. */
export interface PressedScene {
  readonly seen: SeenMoving;
  readonly guises: readonly PressedGuise[];
}

/** Draws what a clip shows of the design that is open: on blanks that stand still, and for those that move. */
@Injectable()
export class ClipScenes {
  private readonly editor = inject(Editor);
  private readonly mockup = inject(MockupEditor);
  private readonly painter = inject(ScenePainter);
  private readonly moving = inject(MovingPainter);
  private readonly others = inject(OtherDesigns);
  private readonly shelf = inject(BlankShelf);
  private readonly assets = inject(AssetShelf);
  private readonly texture = new SceneTexture(this.assets);
  private readonly ready$ = toObservable(this.assets.imagesReady);
  /** Grows when pictures of the art arrive. */
  readonly arrived = this.assets.imagesReady;
  /** What is printed: it changes when a picture has to be drawn anew, and not with the clip. */
  readonly art = computed(
    () => {
      const { layers, targets, keyline, keylines, field } = this.editor.desk.document() ?? {};
      return { layers, targets, keyline, keylines, field };
    },
    { equal: (a, b) => (Object.keys(a) as (keyof typeof a)[]).every((key) => a[key] === b[key]) },
  );
  /** Other designs that a clip shows, as far as they are there. */
  readonly otherArt = this.others.known;

  guises(scene: ClipScene): readonly Guise[] {
    const layers = scene.designId ? this.others.known().get(scene.designId)?.layers : this.art().layers;
    return guisesOf(scene, layers?.filter(({ hidden }) => !hidden).length ?? 0);
  }

  blank({ blankId }: ShownScene): Blank | undefined {
    return this.mockup.blanks().find((one) => one.id === blankId);
  }

  /** The blank of a scene when it moves. */
  movingBlank(scene: ShownScene): MovingBlank | null {
    const blank = this.blank(scene);
    return blank && isMovingBlank(blank) ? blank : null;
  }

  /** A scene on its blank, which stands still. @throws Error with a sentence when that is gone */
  async still(one: StagedScene, guise: Guise, most: number): Promise<{ picture: ImageBitmap; isComing: boolean }> {
    const { scene } = one;
    const { design, blank } = await this.open(one);
    const shown: Scene = { ...scene, garment: guise.garment };
    const prints = this.mockup.placed(design, blank, shown);
    const seen = {
      blank,
      areaIds: prints.map(({ area }) => area.id),
      crop: null,
      size: Math.min(most, blank.width),
    };
    const { maps } = await firstValueFrom(this.painter.load(seen));
    const { look, textures } = this.printed(design, blank, shown, guise, maps);
    const picture = await firstValueFrom(this.painter.picture(seen, look, textures));
    return { picture, isComing: textures.some((one) => one.isComing) };
  }

  /** What a scene on a moving blank is printed from, in each of its guises. @throws Error with a sentence when the blank is gone */
  async pressed(
    one: StagedScene,
    guises: readonly Guise[],
    most: number,
  ): Promise<{ pressed: PressedScene; isComing: boolean }> {
    const { scene } = one;
    const { design, blank } = await this.open(one);
    const prints = this.mockup.placed(design, blank, scene);
    const seen: SeenMoving = {
      blank: blank as MovingBlank,
      areaIds: prints.map(({ area }) => area.id),
      size: Math.min(most, blank.width),
    };
    const areas = await firstValueFrom(this.moving.load(seen));
    let isComing = false;
    const printed: PressedGuise[] = [];
    for (const guise of guises) {
      const { look, textures } = this.printed(design, blank, { ...scene, garment: guise.garment }, guise, areas);
      isComing ||= textures.some((one) => one.isComing);
      // What prints as before is not laid on anew.
      const before = printed.at(-1)?.prints;
      printed.push({ look, prints: before && samePrints(before, textures) ? before : textures });
    }
    return { pressed: { seen, guises: printed }, isComing };
  }

  /** Draws until no picture of the art is missing any more. @throws Error with a sentence when one does not come */
  async whole<T extends { readonly isComing: boolean }>(
    draw: () => Promise<T>,
    forget: (drawn: T) => void,
  ): Promise<T> {
    const until = Date.now() + MOST_WAIT;
    for (;;) {
      const drawn = await draw();
      if (!drawn.isComing) return drawn;
      forget(drawn);
      if (Date.now() > until)
        throw new Error('A picture of this design did not come in time, so the clip was not made. Try again.');
      await firstValueFrom(this.ready$.pipe(skip(1), timeout({ first: 3000 }))).catch(() => undefined);
    }
  }

  /** Where the print is on the picture, shares of it. */
  async focus(one: StagedScene): Promise<Box> {
    const { scene } = one;
    const { design, blank } = await this.open(one);
    const [{ area, requirement, placement }] = this.mockup.placed(design, blank, scene);
    const grid = await firstValueFrom(this.shelf.grid(blank.id, area.id));
    const on = onPicture(grid, area, artOnArea(design, placement, requirement, scene.garment));
    return on.print ?? on.area;
  }

  private async open({
    scene,
    designId,
  }: StagedScene): Promise<{ readonly design: DesignDocument; readonly blank: Blank }> {
    const design = designId ? await this.others.need(designId) : this.editor.desk.document();
    const blank = this.blank(scene);
    if (!design || !blank) throw new Error('A product of this clip is gone. Choose another for its scene.');
    return { design, blank };
  }

  private printed(
    design: DesignDocument,
    blank: Blank,
    scene: Scene,
    guise: Guise,
    seen: readonly Parameters<SceneTexture['draw']>[0]['seen'][],
  ) {
    const prints = this.mockup.placed(design, blank, scene);
    const shown = withLayers(design, guise.layers);
    const textures = prints.map((print, i) =>
      this.texture.draw({ ...print, design: shown, garment: scene.garment, seen: seen[i] }),
    );
    return { look: this.mockup.drawnScene(blank, scene, prints[0]?.requirement ?? null), textures };
  }
}

/** A design that prints its lowest layers alone; it lies where all of it does. */
function withLayers(design: DesignDocument, count: number | undefined): DesignDocument {
  if (count === undefined) return design;
  let shown = 0;
  return {
    ...design,
    layers: design.layers.map((layer) => (layer.hidden || ++shown <= count ? layer : { ...layer, hidden: true })),
  };
}

function samePrints(a: readonly DrawnPrint[], b: readonly DrawnPrint[]): boolean {
  return a.every(({ texture }, i) => {
    const other = b[i].texture;
    if (texture.byteLength !== other.byteLength) return false;
    const [one, two] = [new Uint32Array(texture), new Uint32Array(other)];
    return one.every((value, at) => value === two[at]);
  });
}
