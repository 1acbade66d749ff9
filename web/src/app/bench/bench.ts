import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { Asset, PrintFile } from '@kettle/contract';
import {
  addLayer, addTarget, apply, artOnCanvas, assetIdsOf, contrast, factsOfLayer, shapeLayer, boundsOfPlace, fixEdit, findTarget, garmentOf, isPrintable, layoutTarget, PLAIN_LETTERING, rgbOf, textLayer, mapBox, moveOnCanvas, moveOnTargetOnly, pictureLayer, placeLayer, targetFor, targetState, usualPlace,
  type Box, type Finding, type Layer, type Requirement, type ShapeKind, type Target, type TargetLayout, type TargetState, type UsualPlace,
} from '@kettle/core';
import { Api } from '../data/api';
import { AssetShelf } from '../data/asset-shelf';
import { newLayerId, nameOf } from '../data/intake';
import { Notices } from '../data/notices';
import { RequirementShelf } from '../data/requirement-shelf';
import { DesignDesk } from './design-desk';

/** A target with everything the bench shows of it. */
export interface BenchTarget {
  readonly target: Target;
  readonly requirement: Requirement;
  readonly layout: TargetLayout;
  readonly garment: string;
  readonly findings: readonly Finding[];
}

/** Face that a design's first lettering begins with. */
const FIRST_FACE = 'fraunces-latin-900';

/** What is looked at and worked on: the chosen target, the selected layer, and how far a move reaches. Provided by the bench. */
@Injectable()
export class Bench {
  readonly desk = inject(DesignDesk);
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly assets = inject(AssetShelf);
  private readonly requirements = inject(RequirementShelf);

  readonly chosenId = signal<string | null>(null);
  readonly selectedId = signal<string | null>(null);
  /** True when moving the art changes the chosen target alone. */
  readonly onlyHere = signal(false);
  readonly printFiles = signal<readonly PrintFile[]>([]);

  readonly targets = computed<readonly BenchTarget[]>(() => {
    const design = this.desk.document();
    const byId = this.requirements.byId();
    const facts = this.assets.facts();
    if (!design) return [];
    return design.targets.flatMap((target) => {
      const requirement = byId[target.requirementId];
      return requirement ? [{
        target, requirement, layout: layoutTarget(design, target, requirement), garment: garmentOf(target, requirement), findings: this.factsComplete() ? findTarget(design, target, requirement, facts) : [],
      }] : [];
    });
  });
  private readonly factsComplete = computed(() => (this.desk.document()?.layers ?? []).every((layer) => factsOfLayer(layer, this.assets.facts())));
  readonly current = computed<BenchTarget | null>(() => {
    const design = this.desk.document();
    const target = design && targetFor(design, this.chosenId());
    return this.targets().find((one) => one.target.requirementId === target?.requirementId) ?? this.targets()[0] ?? null;
  });
  readonly selected = computed<Layer | null>(() => this.desk.document()?.layers.find((layer) => layer.id === this.selectedId()) ?? null);
  readonly toMend = computed(() => this.targets().reduce((sum, one) => sum + one.findings.filter((finding) => finding.severity !== 'tells').length, 0));
  readonly selectedFindings = computed(() => this.current()?.findings.filter((finding) => finding.layerId === this.selectedId()) ?? []);

  constructor() {
    effect(() => {
      const ids = assetIdsOf(this.desk.document()?.layers ?? []);
      untracked(() => this.assets.want(ids));
    });
  }

  /** State of a target as on the job sheet. */
  stateOf(one: BenchTarget): TargetState {
    const files = this.printFiles().filter((file) => file.requirementId === one.requirement.id);
    const current = this.desk.state() === 'saved' ? files.find((file) => !file.outOfDate) : undefined;
    return targetState(isPrintable(one.findings), current, files.length > 0);
  }

  choose(requirementId: string): void {
    const requirement = this.requirements.byId()[requirementId];
    if (requirement && !this.desk.document()?.targets.some((target) => target.requirementId === requirementId)) this.desk.edit(addTarget(requirement));
    this.chosenId.set(requirementId);
  }

  addPicture(asset: Asset): void {
    const design = this.desk.document();
    if (!design) return;
    const layer = pictureLayer(newLayerId(), nameOf(asset.filename), asset, design.field);
    this.desk.edit(addLayer(layer));
    this.selectedId.set(layer.id);
  }

  /** Puts a shape in front, in a colour that is seen on the garment. */
  addShape(kind: ShapeKind): void {
    const design = this.desk.document();
    if (!design) return;
    const layer = shapeLayer(newLayerId(), kind, design.field, this.freshColour());
    this.desk.edit(addLayer(layer));
    this.selectedId.set(layer.id);
  }

  /** Puts lettering in front, set in the first face. */
  addText(): void {
    const design = this.desk.document();
    if (!design) return;
    const last = design.layers.findLast((layer) => layer.kind === 'text');
    const set = { text: 'Your words', fontId: last?.kind === 'text' ? last.fontId : FIRST_FACE };
    this.api.setText({ ...set, settings: PLAIN_LETTERING }).subscribe({
      next: ({ outlines }) => {
        if (!outlines) return;
        const layer = textLayer(newLayerId(), set, outlines, design.field, this.freshColour());
        this.desk.edit(addLayer(layer));
        this.selectedId.set(layer.id);
      },
      error: (error: unknown) => this.notices.complain(error),
    });
  }

  /** Colours of the design's shapes and the main inks of its pictures, most used first. */
  readonly colours = computed(() => {
    const facts = this.assets.facts();
    const all = (this.desk.document()?.layers ?? []).flatMap((layer) => factsOfLayer(layer, facts)?.inks.map((ink) => ink.hex.toLowerCase()) ?? []);
    return [...new Set(all)].slice(0, 10);
  });

  private freshColour(): string {
    const garment = rgbOf(this.current()?.garment ?? '#ffffff');
    return [...this.colours(), '#f2bd4b', '#1f7f7a'].reduce((best, hex) => (contrast(rgbOf(hex), garment) > contrast(rgbOf(best), garment) ? hex : best));
  }

  mend(finding: Finding, one: BenchTarget): void {
    const design = this.desk.document();
    const edit = design && fixEdit(finding, design, one.target, one.requirement);
    if (edit) { this.desk.edit(edit); this.desk.settle(); }
  }

  /** Box of what a move takes along: the selected layer, or all visible art; canvas mm. */
  movedBox(): Box | null {
    const [design, current, layer] = [this.desk.document(), this.current(), this.selected()];
    if (!design || !current) return null;
    if (layer && !this.onlyHere()) return mapBox(current.layout.toCanvas, boundsOfPlace(layer.place));
    return artOnCanvas(design, current.layout);
  }

  /** Brings the selected layer, or all art, to a box on the chosen target's canvas. */
  moveTo(to: Box, mergeKey: string | null = null): void {
    const [design, current, layer] = [this.desk.document(), this.current(), this.selected()];
    if (!design || !current) return;
    const ids = layer ? [layer.id] : design.layers.filter((one) => !one.hidden).map((one) => one.id);
    const { target, requirement } = current;
    this.desk.edit(this.onlyHere() ? moveOnTargetOnly(target, requirement, to) : moveOnCanvas(ids, target, requirement, to), mergeKey);
  }

  /** Shifts by whole canvas pixels. */
  nudge(across: number, down: number): void {
    const [current, box] = [this.current(), this.movedBox()];
    if (!current || !box) return;
    const pixel = 25.4 / current.layout.canvas.dpi;
    this.moveTo({ ...box, x: box.x + across * pixel, y: box.y + down * pixel }, `nudge ${this.selectedId()} ${this.onlyHere()}`);
  }

  placeUsual(place: UsualPlace): void {
    const [current, box] = [this.current(), this.movedBox()];
    if (current && box) { this.moveTo(usualPlace(place, box, current.layout.safe)); this.desk.settle(); }
  }

  /** Changes the selected layer where it lies on the chosen canvas: centre in canvas mm, size in printed mm. */
  placeSelected(change: { x?: number; y?: number; width?: number; height?: number; turn?: number }, mergeKey: string | null = null): void {
    const [current, layer] = [this.current(), this.selected()];
    if (!current || !layer) return;
    const { toCanvas, factor } = current.layout;
    const centre = apply(toCanvas, layer.place);
    const onField = { x: layer.place.x + ((change.x ?? centre.x) - centre.x) / factor, y: layer.place.y + ((change.y ?? centre.y) - centre.y) / factor };
    this.desk.edit(placeLayer(layer.id, {
      ...onField, width: (change.width ?? layer.place.width * factor) / factor, height: (change.height ?? layer.place.height * factor) / factor, turn: change.turn ?? layer.place.turn,
    }), mergeKey);
  }
}
