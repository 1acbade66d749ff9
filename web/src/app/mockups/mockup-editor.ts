import { Injectable, computed, inject, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { ListedBlank } from '@kettle/contract';
import { apply, compose, intersect, invert, mapBox, type Box, type Point } from '@kettle/core/geometry';
import { hexOf, luminance, rgbOf } from '@kettle/core/colour';
import {
  colourwayOf,
  printAreasOf,
  type Blank,
  type DesignDocument,
  type Look,
  type LookChoice,
  type PrintArea,
  type Repeat,
  type Requirement,
  type Scene,
} from '@kettle/core/model';
import { panelRequirement, panelsOf, requirementOfPanel, sleeveSeam } from '@kettle/core/requirement';
import {
  addTarget,
  changeScene,
  changeTarget,
  coveringPlacement,
  goOnOverSeams,
  layoutTarget,
  repeatedPlacement,
  seenBy,
} from '@kettle/core/document';
import { insideOf } from '@kettle/core/checks';
import {
  areaOf,
  artOnArea,
  cropOn,
  carriedScene,
  defaultScene,
  LEAST_CROP,
  isClothing,
  largestIn,
  lookOf,
  onPicture,
  ownPlacement,
  PLAIN_LOOK,
  placeScene,
  printsOf,
  requirementForBlank,
  sizingOf,
  type ScenePlacement,
} from '@kettle/core/mockup';
import { distinctUntilChanged, finalize, firstValueFrom, of, startWith, switchMap } from 'rxjs';
import { Editor } from '../editor/editor';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { BlankShelf } from '../data/blank-shelf';
import { Missing } from '../data/missing';
import { RequirementShelf } from '../data/requirement-shelf';

/** A print area of a scene with the target it carries, and where that lies. */
export interface PlacedPrint {
  readonly area: PrintArea;
  readonly requirement: Requirement | null;
  readonly placement: ScenePlacement;
}

/** A design whose art covers a target's canvas. */
function covered(design: DesignDocument, requirement: Requirement): DesignDocument {
  const target = design.targets.find((one) => one.requirementId === requirement.id);
  const placement = target && coveringPlacement(seenBy(design, target), target, requirement);
  return placement ? changeTarget(requirement.id, { placement })(design) : design;
}

/** The colour of a blank that dyes show truest on. */
const whitest = ({ colourways }: Blank): string =>
  colourways.reduce(
    (best, { hex }) => (luminance(rgbOf(hex)) > luminance(rgbOf(best)) ? hex : best),
    colourways[0].hex,
  );

const sameBox = (a: Box | null, b: Box | null): boolean =>
  a === b || (!!a && !!b && a.x === b.x && a.y === b.y && a.width === b.width && a.height === b.height);

/** Which blank is shown, how it looks and where the art lies on it. Provided by the mockups station. */
@Injectable()
export class MockupEditor {
  private readonly editor = inject(Editor);
  private readonly assets = inject(AssetShelf);
  private readonly requirements = inject(RequirementShelf);
  private readonly shelf = inject(BlankShelf);
  private readonly missing = inject(Missing);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  readonly blanks = toSignal(this.shelf.all, { initialValue: [] as readonly ListedBlank[] });
  /** Colourways of the set that is made in one run, by name. */
  readonly setOf = signal<ReadonlySet<string>>(new Set());

  readonly blank = computed<Blank | null>(() => {
    const blanks = this.blanks();
    return (
      blanks.find((one) => one.id === this.editor.desk.document()?.scene?.blankId) ??
      this.startBlank() ??
      blanks[0] ??
      null
    );
  });
  /** The first blank of the product that the chosen target is for. */
  private readonly startBlank = computed(() =>
    this.blanks().find((one) => one.product === this.editor.current()?.requirement.product),
  );
  readonly scene = computed<Scene | null>(() => {
    const [design, blank] = [this.editor.desk.document(), this.blank()];
    return design && blank ? this.sceneOn(blank) : null;
  });
  readonly area = computed(() => {
    const [blank, scene] = [this.blank(), this.scene()];
    return blank && scene ? areaOf(blank, scene.areaId) : null;
  });
  readonly requirement = computed(() => {
    const [blank, scene] = [this.blank(), this.scene()];
    return blank && scene ? this.requirementOn(blank, scene.requirementId) : null;
  });
  readonly placement = computed(() => this.prints()[0]?.placement ?? null);
  /** Size on the product that stays while a hand moves the art, and the crop that does. */
  private readonly held = signal<{ readonly factor: number | null; readonly crop: Box | null } | null>(null);
  /** Everything that the scene prints, from the lowest to the topmost; the first is what a hand moves. */
  readonly prints = computed<readonly PlacedPrint[]>(() => {
    const [design, blank, scene] = [this.editor.desk.document(), this.blank(), this.scene()];
    return design && blank && scene ? this.placed(design, blank, scene, this.held()?.factor) : [];
  });
  /** Box of all visible art on the print area, in area mm. */
  readonly art = computed<Box | null>(() => {
    const [design, scene, placement] = [this.editor.desk.document(), this.scene(), this.placement()];
    return design && scene && placement ? artOnArea(design, placement, this.requirement(), scene.garment) : null;
  });
  /** Box of the ink that is printed, in area mm: what measures are told of. */
  readonly ink = computed<Box | null>(() => {
    const [design, scene, placement] = [this.editor.desk.document(), this.scene(), this.placement()];
    return design && scene && placement
      ? artOnArea(design, placement, this.requirement(), scene.garment, this.assets.facts())
      : null;
  });
  /** Where the scene's area is seen on its blank; null until that is known. */
  private readonly grid = toSignal(
    toObservable(computed(() => ({ blank: this.blank(), area: this.area(), asked: !!this.scene()?.crop }))).pipe(
      distinctUntilChanged((a, b) => a.blank === b.blank && a.area === b.area && a.asked === b.asked),
      switchMap(({ blank, area, asked }) =>
        blank && area && asked
          ? this.shelf.grid(blank.id, area.id).pipe(this.missing.until('Where the print is seen'), startWith(null))
          : of(null),
      ),
    ),
    { initialValue: null },
  );
  /** True while the frame of the picture is set, on all of the blank. */
  readonly framing = signal(false);
  /** What the scene's crop takes of the blank, in its pixels, whether it is shown or set. */
  readonly crop = computed<Box | null>(
    () => {
      const held = this.held();
      if (held) return held.crop;
      const [blank, scene, area, grid] = [this.blank(), this.scene(), this.area(), this.grid()];
      return blank && scene && area && grid ? cropOn(blank, scene.crop, onPicture(grid, area, this.art())) : null;
    },
    { equal: sameBox },
  );
  /** The part of the blank that the stage shows. */
  readonly seen = computed<Box | null>(() => (this.framing() ? null : this.crop()));

  /** Scenes as they were left for another blank, by design and blank, until the station is. */
  private readonly left = new Map<string, Scene>();

  /**
   * How a blank is shown: as the seller left it, else in the colour the target is sold on when it comes in that. What was
   * chosen of the look goes along from the blank that is shown now.
   */
  sceneOn(blank: Blank): Scene {
    const kept = this.editor.desk.document()?.scene;
    if (kept?.blankId === blank.id) return kept;
    const same = colourwayOf(blank, this.editor.current()?.garment ?? '');
    const usual = { ...defaultScene(blank, null), ...(same ? { garment: same.hex } : {}) };
    if (!kept) return usual;
    const from = this.blanks().find((one) => one.id === kept.blankId) ?? null;
    return carriedScene(kept, from, blank, this.left.get(this.leftAs(blank.id)) ?? usual);
  }

  private readonly leftAs = (blankId: string): string => `${this.editor.desk.id()} ${blankId}`;

  /** The requirement whose print file a print area shows. */
  requirementOn(blank: Blank, requirementId: string | null): Requirement | null {
    const design = this.editor.desk.document();
    return design && requirementForBlank(design, blank, this.requirements.all(), requirementId);
  }

  /** What a scene prints and where. @param held a size on the product that the first print keeps */
  placed(design: DesignDocument, blank: Blank, scene: Scene, held: number | null = null): PlacedPrint[] {
    return printsOf(scene).map(({ areaId, requirementId }, i) => {
      const area = areaOf(blank, areaId);
      const requirement = requirementForBlank(design, blank, this.requirements.all(), requirementId);
      const sizing = { ...sizingOf(scene, i), ...(i === 0 ? { held } : {}) };
      return { area, requirement, placement: placeScene(design, blank, area, requirement, sizing) };
    });
  }

  /** What a scene's crop takes of its blank. */
  async cropOf(design: DesignDocument, blank: Blank, scene: Scene): Promise<Box | null> {
    if (!scene.crop) return null;
    const [{ area, requirement, placement }] = this.placed(design, blank, scene);
    const grid = await firstValueFrom(this.shelf.grid(blank.id, area.id));
    const art = artOnArea(design, placement, requirement, scene.garment);
    return cropOn(blank, scene.crop, onPicture(grid, area, art));
  }

  /** How a choice makes this scene look. */
  lookWith(choice: LookChoice | undefined): Look | null {
    const [blank, scene] = [this.blank(), this.scene()];
    return blank && scene ? lookOf(choice, blank, this.requirement(), scene.garment) : null;
  }

  /** How this scene looks. */
  readonly look = computed(() => this.lookWith(this.scene()?.look));
  /** True while the picture is shown as it would be without any look. */
  readonly before = signal(false);

  /** A scene as it is drawn. @param plain without what ink, folds and camera add */
  drawnScene(blank: Blank, scene: Scene, requirement: Requirement | null, plain = false): Scene & { look: Look } {
    return { ...scene, look: plain ? PLAIN_LOOK : lookOf(scene.look, blank, requirement, scene.garment) };
  }

  /** Pieces of cloth of this blank that can be printed before they are sewn. */
  readonly panels = computed(() => {
    const blank = this.blank();
    return blank ? panelsOf(blank) : [];
  });
  /** True from the press until the panels are laid out. */
  readonly layingOut = signal(false);
  readonly isAllOver = computed(() => this.area()?.kind === 'all-over');

  /**
   * Prints the whole cloth: a target for each of its panels, made where there is none yet, with the art covering it, and
   * the picture showing them sewn.
   */
  layAllOver(): void {
    const [blank, scene, panels] = [this.blank(), this.scene(), this.panels()];
    if (!blank || !scene || !panels.length || this.layingOut()) return;
    this.layingOut.set(true);
    const known = this.requirements.all();
    const missing = panels.filter((area) => !requirementOfPanel(known, blank, area));
    const made = missing.length
      ? this.api
          .ask('post /api/requirements/several', {
            body: { requirements: missing.map((area) => panelRequirement(blank, area)) },
          })
          .pipe(switchMap(() => this.requirements.refresh()))
      : of(known);
    made.pipe(finalize(() => this.layingOut.set(false))).subscribe({
      next: (requirements) => {
        const prints = panels.flatMap((area) => {
          const requirement = requirementOfPanel(requirements, blank, area);
          return requirement ? [{ areaId: area.id, requirement }] : [];
        });
        const [first, ...others] = prints.map(({ areaId, requirement }) => ({
          areaId,
          requirementId: requirement.id,
        }));
        if (!first) return;
        // Another scene may be shown by the time the last requirement is made.
        const now = this.scene();
        if (!now || now.blankId !== blank.id) return;
        const { own: _own, ...rest } = now;
        this.editor.desk.edit((design) => {
          const begun = new Set(design.targets.map((target) => target.requirementId));
          const laid = prints
            .filter(({ requirement }) => !begun.has(requirement.id))
            .reduce((before, { requirement }) => covered(addTarget(requirement)(before), requirement), design);
          // Cloth that is dyed all over is white before: on any other the art is mixed with its colour.
          return changeScene({ ...rest, ...first, also: others, garment: whitest(blank) })(laid);
        });
        this.editor.desk.settle();
        this.editor.choose(first.requirementId);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** Covers every panel with the art again, whatever was moved on it. */
  coverPanels(): void {
    const shown = this.prints().flatMap(({ requirement }) => (requirement?.panel ? [requirement] : []));
    this.editor.desk.edit((design) => shown.reduce((before, requirement) => covered(before, requirement), design));
    this.editor.desk.settle();
  }

  /** Sleeves beside the panel in hand over whose seams its art can go on. */
  readonly seams = computed(() => {
    const body = this.requirement();
    return this.prints().flatMap(({ requirement }) => {
      const seam = body?.panel && requirement?.panel && sleeveSeam(body.panel, requirement.panel);
      return seam && requirement ? [{ requirement, seam }] : [];
    });
  });

  /** Lets the art of the panel in hand go on over its seams, as one picture. */
  carryOverSeams(): void {
    const [body, seams] = [this.requirement(), this.seams()];
    if (!body || !seams.length) return;
    const beside = seams.map(({ requirement, seam }) => ({ to: requirement, onto: seam.onto }));
    this.editor.desk.edit(goOnOverSeams(body, beside));
    this.editor.desk.settle();
    const most = Math.max(...seams.map(({ seam }) => seam.mostMm));
    this.notices.say(
      `The art goes on over ${seams.length === 1 ? 'the seam' : `${seams.length} seams`}; its edges meet within ${most.toFixed(1)} mm. Press again after it was moved.`,
    );
  }

  /** How the art of the shown panels is repeated; null where it covers each of them once. */
  readonly repeat = computed<Repeat | null>(() => {
    const [design, requirement] = [this.editor.desk.document(), this.requirement()];
    return design?.targets.find((one) => one.requirementId === requirement?.id)?.repeat ?? null;
  });
  /** Width of the repeated art, mm. */
  readonly repeatWidth = computed(() => Math.round((this.art()?.width ?? 0) / (this.placement()?.factor ?? 1)));

  /**
   * Repeats the art over every shown panel, at the same size on each, or covers each with it once.
   * @param widthMm of the art; as it is, or a quarter of a panel when it begins, where absent
   */
  repeatOver(repeat: Repeat | null, widthMm?: number): void {
    const shown = this.prints().flatMap(({ requirement }) => (requirement?.panel ? [requirement] : []));
    const width = widthMm ?? (this.repeat() ? this.repeatWidth() : Math.round((this.area()?.widthMm ?? 400) / 4));
    this.editor.desk.edit((design) => {
      if (!repeat)
        return shown.reduce(
          (before, requirement) => covered(changeTarget(requirement.id, { repeat: undefined })(before), requirement),
          design,
        );
      return shown.reduce((before, requirement) => {
        const target = before.targets.find((one) => one.requirementId === requirement.id);
        const placement = target && repeatedPlacement(seenBy(before, target), target, requirement, width, repeat.gapMm);
        return placement ? changeTarget(requirement.id, { repeat, placement })(before) : before;
      }, design);
    });
    this.editor.desk.settle();
  }

  /** Back to the finished product, printed in one place. */
  leaveAllOver(areaId: string): void {
    this.change({ areaId, requirementId: null, also: undefined });
    this.editor.desk.settle();
  }

  /** Areas of this blank that can be printed on beside the scene's own, and what they carry. */
  readonly otherAreas = computed(() => {
    const [blank, scene] = [this.blank(), this.scene()];
    if (!blank || !scene || this.isAllOver()) return [];
    return printAreasOf(blank)
      .filter((area) => area.id !== scene.areaId)
      .map((area) => ({ area, also: scene.also?.find((one) => one.areaId === area.id) ?? null }));
  });

  /** Prints a target on another area at the same time, or leaves that area bare. */
  printAlso(areaId: string, requirementId: string | null): void {
    const also = (this.scene()?.also ?? []).filter((one) => one.areaId !== areaId);
    const next = requirementId === null ? also : [...also, { areaId, requirementId }];
    this.change({ also: next.length ? next : undefined });
    this.editor.desk.settle();
  }

  /** Chooses the area that a hand moves; what is printed on it beside the former one changes places with that. */
  chooseArea(areaId: string): void {
    const scene = this.scene();
    if (!scene || scene.areaId === areaId) return;
    const there = scene.also?.find((one) => one.areaId === areaId);
    const also = (scene.also ?? []).filter((one) => one.areaId !== areaId);
    const next = there ? [...also, { areaId: scene.areaId, requirementId: scene.requirementId }] : also;
    this.change({
      areaId,
      requirementId: there ? there.requirementId : scene.requirementId,
      also: next.length ? next : undefined,
      own: undefined,
    });
    this.editor.desk.settle();
  }

  /** Sets the frame of the picture: a box of the blank in its pixels. */
  frameAs({ x, y, width, height }: Box, mergeKey: string | null = null): void {
    const blank = this.blank();
    if (!blank) return;
    const w = Math.min(blank.width, Math.max(LEAST_CROP * blank.width, width));
    const h = Math.min(blank.height, Math.max(LEAST_CROP * blank.height, height));
    const left = Math.min(blank.width - w, Math.max(0, x));
    const top = Math.min(blank.height - h, Math.max(0, y));
    const box = { x: left / blank.width, y: top / blank.height, width: w / blank.width, height: h / blank.height };
    this.change({ crop: { of: 'box', box } }, mergeKey);
  }

  /** Begins a frame of the seller's own with what is framed by now. */
  frameFreely(): void {
    const blank = this.blank();
    if (!blank) return;
    const { width, height } = blank;
    this.frameAs(this.crop() ?? { x: width * 0.1, y: height * 0.1, width: width * 0.8, height: height * 0.8 });
    this.editor.desk.settle();
  }

  /** Lets the wall fade to another colour, first a darker one of itself, or not. */
  fadeBehind(fades: boolean): void {
    const scene = this.scene();
    if (!scene) return;
    const { r, g, b } = rgbOf(scene.backdrop);
    const to = hexOf({ r: r * 0.62, g: g * 0.62, b: b * 0.66 });
    this.change({ behind: fades ? { kind: 'gradient', to, turn: 0 } : undefined });
    this.editor.desk.settle();
  }

  /** Places the print for this scene alone, or as the print file has it again. */
  placeForItself(own: boolean): void {
    this.change({ own: own ? { x: 0, y: 0, factor: 1 } : undefined });
    this.settle();
  }

  show(blank: Blank): void {
    this.setOf.set(new Set());
    this.framing.set(false);
    this.shelf.use(blank.id);
    const before = this.scene();
    if (before) {
      const { keptAs: _keptAs, ...scene } = before;
      this.left.set(this.leftAs(before.blankId), scene);
    }
    this.editor.desk.edit(changeScene(this.sceneOn(blank)));
  }

  change(change: Partial<Scene>, mergeKey: string | null = null): void {
    const scene = this.scene();
    if (scene) this.editor.desk.edit(changeScene({ ...scene, ...change }), mergeKey);
  }

  /** Brings all art to a box in area mm; the same placement as on the canvas moves. */
  moveArt(to: Box, mergeKey: string): void {
    const [design, requirement, placement] = [this.editor.desk.document(), this.requirement(), this.placement()];
    const target = design?.targets.find((one) => one.requirementId === requirement?.id);
    if (!design || !requirement || !placement || !target) return;
    const [scene, blank, area, art] = [this.scene(), this.blank(), this.area(), this.art()];
    if (scene?.own && blank && area && art) {
      const held = this.held()?.factor ?? null;
      const usual = placeScene(design, blank, area, requirement, { ...sizingOf(scene, 1), held });
      this.change({ own: ownPlacement(usual, scene.own, art, to) }, mergeKey);
      return;
    }
    const toField = invert(placement.fieldToArea);
    const { toCanvas } = layoutTarget(design, target, requirement);
    const onCanvas = (point: Point) => apply(toCanvas, apply(toField, point));
    const [start, end] = [onCanvas(to), onCanvas({ x: to.x + to.width, y: to.y + to.height })];
    this.editor.select([]);
    this.editor.choose(requirement.id);
    this.editor.moveTo({ x: start.x, y: start.y, width: end.x - start.x, height: end.y - start.y }, mergeKey);
  }

  /** Keeps the size on the product until {@link settle}, so that it does not change under a hand. */
  hold(): void {
    this.held.set({ factor: this.usualFactor(), crop: this.crop() });
  }

  /** Size on the product without what a scene has for itself. */
  private usualFactor(): number | null {
    const factor = this.placement()?.factor;
    return factor === undefined ? null : factor / (this.scene()?.own?.factor ?? 1);
  }

  settle(): void {
    this.held.set(null);
    this.editor.desk.settle();
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
      this.editor.desk.document(),
      this.requirement(),
      this.blank(),
      this.area(),
    ];
    const target = design?.targets.find((one) => one.requirementId === requirement?.id);
    if (!design || !requirement || !blank || !area || !target) return;
    // On cloth at true size: what fits is then shown as large as it is.
    if (isClothing(blank)) this.held.set({ factor: 1, crop: this.crop() });
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
