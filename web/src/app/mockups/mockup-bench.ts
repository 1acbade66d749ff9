import { Injectable, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import type { ListedBlank } from '@kettle/contract';
import {
  apply,
  areaOf,
  artOnCanvas,
  changeScene,
  colourwayOf,
  compose,
  defaultScene,
  insideOf,
  intersect,
  invert,
  isClothing,
  largestIn,
  layoutTarget,
  mapBox,
  placeScene,
  requirementForBlank,
  designOnScene,
  type Blank,
  type Box,
  type Point,
  type Requirement,
  type Scene,
} from '@kettle/core';
import { Bench } from '../bench/bench';
import { BlankShelf } from '../data/blank-shelf';
import { RequirementShelf } from '../data/requirement-shelf';

/** Which blank is shown, how it looks and where the art lies on it. Provided by the mockups station. */
@Injectable()
export class MockupBench {
  private readonly bench = inject(Bench);
  private readonly requirements = inject(RequirementShelf);
  private readonly shelf = inject(BlankShelf);
  readonly blanks = toSignal(this.shelf.all, { initialValue: [] as ListedBlank[] });
  /** Colourways of the set that is made in one run, by name. */
  readonly setOf = signal<ReadonlySet<string>>(new Set());

  readonly blank = computed<Blank | null>(() => {
    const blanks = this.blanks();
    return (
      blanks.find((one) => one.id === this.bench.desk.document()?.scene?.blankId) ??
      this.startBlank() ??
      blanks[0] ??
      null
    );
  });
  /** The first blank of the product that the chosen target is for. */
  private readonly startBlank = computed(() =>
    this.blanks().find((one) => one.product === this.bench.current()?.requirement.product),
  );
  readonly scene = computed<Scene | null>(() => {
    const [design, blank] = [this.bench.desk.document(), this.blank()];
    return design && blank ? this.sceneOn(blank) : null;
  });
  readonly area = computed(() => {
    const [blank, scene] = [this.blank(), this.scene()];
    return blank && scene ? areaOf(blank, scene.areaId) : null;
  });
  readonly requirement = computed(() => {
    const [blank, scene] = [this.blank(), this.scene()];
    return blank && scene ? this.requirementOn(blank, scene) : null;
  });
  readonly placement = computed(() => {
    const [design, blank, area] = [this.bench.desk.document(), this.blank(), this.area()];
    return design && blank && area
      ? placeScene(design, blank, area, this.requirement(), {
          trueSize: this.scene()?.trueSize,
          held: this.held(),
          garment: this.scene()?.garment,
        })
      : null;
  });
  /** Size on the product that stays while a hand moves the art. */
  private readonly held = signal<number | null>(null);
  /** Box of all visible art on the print area, in area mm. */
  readonly art = computed<Box | null>(() => {
    const [design, requirement, placement] = [this.bench.desk.document(), this.requirement(), this.placement()];
    const target = design?.targets.find((one) => one.requirementId === requirement?.id);
    if (!design || !requirement || !placement || !target) return null;
    const layout = layoutTarget(design, target, requirement);
    const art = artOnCanvas(designOnScene(design, requirement, this.scene()?.garment ?? '#ffffff'), layout);
    if (!art) return null;
    const field = mapBox(invert(layout.toCanvas), art);
    return mapBox(placement.fieldToArea, field);
  });

  /** How a blank is shown: as the seller left it, else in the colour the target is sold on when it comes in that. */
  sceneOn(blank: Blank): Scene {
    const kept = this.bench.desk.document()?.scene;
    if (kept?.blankId === blank.id) return kept;
    const start = defaultScene(blank, null);
    const same = colourwayOf(blank, this.bench.current()?.garment ?? '');
    return same ? { ...start, garment: same.hex } : start;
  }

  /** The requirement whose print file a scene shows. */
  requirementOn(blank: Blank, scene: Scene): Requirement | null {
    const design = this.bench.desk.document();
    return design && requirementForBlank(design, blank, this.requirements.all(), scene.requirementId);
  }

  show(blank: Blank): void {
    this.setOf.set(new Set());
    this.shelf.use(blank.id);
    this.bench.desk.edit(changeScene(this.sceneOn(blank)));
  }

  change(change: Partial<Scene>, mergeKey: string | null = null): void {
    const scene = this.scene();
    if (scene) this.bench.desk.edit(changeScene({ ...scene, ...change }), mergeKey);
  }

  /** Brings all art to a box in area mm; the same placement as on the canvas moves. */
  moveArt(to: Box, mergeKey: string): void {
    const [design, requirement, placement] = [this.bench.desk.document(), this.requirement(), this.placement()];
    const target = design?.targets.find((one) => one.requirementId === requirement?.id);
    if (!design || !requirement || !placement || !target) return;
    const toField = invert(placement.fieldToArea);
    const { toCanvas } = layoutTarget(design, target, requirement);
    const onCanvas = (point: Point) => apply(toCanvas, apply(toField, point));
    const [start, end] = [onCanvas(to), onCanvas({ x: to.x + to.width, y: to.y + to.height })];
    this.bench.select([]);
    this.bench.choose(requirement.id);
    this.bench.moveTo({ x: start.x, y: start.y, width: end.x - start.x, height: end.y - start.y }, mergeKey);
  }

  /** Keeps the size on the product until {@link settle}, so that it does not change under a hand. */
  hold(): void {
    this.held.set(this.placement()?.factor ?? null);
  }

  settle(): void {
    this.held.set(null);
    this.bench.desk.settle();
  }

  /** The print at its printed size, cut off where it leaves the area, or as much smaller as it needs to be. */
  showTrueSize(trueSize: boolean): void {
    this.change({ trueSize });
    this.settle();
  }

  /**
   * Makes the art as large as the print area and the print file both hold it within their safe lines: hanging from the
   * top on cloth, in the middle of a hard face.
   */
  fitArea(): void {
    const [design, requirement, blank, area] = [
      this.bench.desk.document(),
      this.requirement(),
      this.blank(),
      this.area(),
    ];
    const target = design?.targets.find((one) => one.requirementId === requirement?.id);
    if (!design || !requirement || !blank || !area || !target) return;
    // On cloth at true size: what fits is then shown as large as it is.
    if (isClothing(blank)) this.held.set(1);
    const [art, placement] = [this.art(), this.placement()];
    const inset = area.safeInsetMm;
    const { safe, toCanvas } = layoutTarget(design, target, requirement);
    const frame =
      placement &&
      intersect(
        { x: inset, y: inset, width: area.widthMm - 2 * inset, height: area.heightMm - 2 * inset },
        mapBox(compose(placement.fieldToArea, invert(toCanvas)), safe),
      );
    if (art && frame) this.moveArt(largestIn(frame, art, isClothing(blank)), 'fit area');
    this.settle();
  }

  /** Makes the art itself so small, and moves it so far, that it lies inside the print area's safe line. */
  moveInside(): void {
    const [art, area] = [this.art(), this.area()];
    if (!art || !area) return;
    const inset = area.safeInsetMm;
    this.moveArt(
      insideOf(art, { x: inset, y: inset, width: area.widthMm - 2 * inset, height: area.heightMm - 2 * inset }),
      'move inside',
    );
    this.settle();
  }
}
