import { Injectable, computed, effect, inject, signal, untracked } from '@angular/core';
import type { PrintFile } from '@kettle/contract';
import { formatLength } from '@kettle/core/units';
import {
  apply,
  boundsOfPlace,
  intersect,
  invert,
  mapBox,
  unite,
  type Box,
  type LayerPlace,
} from '@kettle/core/geometry';
import { contrast, rgbOf } from '@kettle/core/colour';
import type { Cloth, DesignDocument, Layer, Requirement, Target } from '@kettle/core/model';
import { picturesOf, factsOfLayer } from '@kettle/core/layers';
import {
  layOnTarget,
  artOnCanvas,
  asVersion,
  clothOf,
  targetKey,
  versionsOf,
  layoutTarget,
  moveOnCanvas,
  moveOnTargetOnly,
  placeLayers,
  recolourLayers,
  recolourOnTarget,
  seenBy,
  targetFor,
  usualPlace,
  wholeGroups,
  type Edit,
  type TargetLayout,
  type UsualPlace,
} from '@kettle/core/document';
import type { PressMeasure } from '@kettle/core/press';
import {
  findTarget,
  fixEdit,
  garmentOf,
  isPrintable,
  targetState,
  type Finding,
  type TargetState,
} from '@kettle/core/checks';
import { AssetShelf } from '../data/asset-shelf';
import { Notices } from '../data/notices';
import { Preferences } from '../data/preferences';
import { RequirementShelf } from '../data/requirement-shelf';
import { DesignDesk } from './design-desk';

/** A target with everything the bench shows of it. */
export interface EditorTarget {
  /** Names it among all targets and versions. */
  readonly key: string;
  /** The version it is, where the target has any. */
  readonly cloth: Cloth | null;
  /** The target as the document has it. */
  readonly whole: Target;
  /** The target as this version has it. */
  readonly target: Target;
  readonly requirement: Requirement;
  readonly layout: TargetLayout;
  readonly garment: string;
  /** The design with this target's exceptions. */
  readonly design: DesignDocument;
  readonly findings: readonly Finding[];
}

/** Places of the bench for one thing at a time: a picture made fit for cloth, or the design on every colour. */
export type EditorPlace = { readonly kind: 'picture'; readonly layerId: string } | { readonly kind: 'colours' };

/** Contrast from which a colour is told from its ground at a glance (WCAG 2.2, 1.4.11). */
const READS_FROM = 3;

export type Places = Readonly<Record<string, LayerPlace>>;

/**
 * What is looked at and worked on: the chosen target, the selected layers, and how far a change reaches. Provided by
 * the bench.
 */
@Injectable()
export class Editor {
  readonly desk = inject(DesignDesk);
  private readonly notices = inject(Notices);
  private readonly assets = inject(AssetShelf);
  private readonly preferences = inject(Preferences);
  private readonly requirements = inject(RequirementShelf);

  /** What print shops said of the design's targets, by requirement. */
  readonly outside = signal<ReadonlyMap<string, readonly Finding[]>>(new Map());
  /** A place of its own that stands in front of the stations, if any. */
  readonly place = signal<EditorPlace | null>(null);
  readonly chosenId = signal<string | null>(null);
  /** The version that is looked at; the one of the garment when null. */
  readonly chosenCloth = signal<Cloth | null>(null);
  /** Ids of the selected layers; groups are selected whole. */
  readonly selection = signal<readonly string[]>([]);
  /** True when moving the art changes the chosen target's own placement. */
  readonly onlyHere = signal(false);
  /** True when changes of single layers become exceptions of the chosen target. */
  readonly alone = signal(false);
  /**
   * Places on the field of what a hand holds just now, for the readout alone; the document follows when the hand lets
   * go.
   */
  readonly moving = signal<Places | null>(null);
  /** Places of a finding that is pointed at, canvas mm, which the stage marks. */
  readonly pointedAt = signal<readonly Box[]>([]);
  /** Lettering that is edited where it stands. */
  readonly editing = signal<string | null>(null);
  private toldFor = '';
  readonly printFiles = signal<readonly PrintFile[]>([]);
  /** What was measured on the printed grid of each target, by its key. */
  readonly measured = signal<Readonly<Record<string, PressMeasure>>>({});
  /** What was measured last of each target, or could not be: of which revisions, and whether it was. */
  readonly measuredAt = signal<Readonly<Record<string, { readonly of: string; readonly ok: boolean }>>>({});

  /** Targets, once for each of their versions. */
  readonly targets = computed<readonly EditorTarget[]>(() => {
    const design = this.desk.document();
    const byId = this.requirements.byId();
    const facts = this.assets.facts();
    const measured = this.measured();
    if (!design) return [];
    return design.targets.flatMap((whole) => {
      const requirement = byId[whole.requirementId];
      return !requirement
        ? []
        : versionsOf(whole).map((cloth): EditorTarget => {
            const target = asVersion(whole, cloth, requirement);
            const seen = seenBy(design, target);
            const key = targetKey(requirement.id, cloth);
            const isKnown = seen.layers.every((layer) => factsOfLayer(layer, facts));
            return {
              key,
              cloth,
              whole,
              target,
              requirement,
              layout: layoutTarget(design, target, requirement),
              garment: garmentOf(target, requirement),
              design: seen,
              findings: isKnown ? findTarget(design, target, requirement, facts, measured[key] ?? null) : [],
            };
          });
    });
  });
  readonly current = computed<EditorTarget | null>(() => {
    const design = this.desk.document();
    const whole = design && targetFor(design, this.chosenId());
    const versions = this.targets().filter((one) => one.whole === whole);
    const cloth =
      this.chosenCloth() ?? (versions[0] ? clothOf(garmentOf(versions[0].whole, versions[0].requirement)) : null);
    return versions.find((one) => one.cloth === cloth) ?? versions[0] ?? this.targets()[0] ?? null;
  });
  /** Layers as the chosen target has them. */
  readonly layers = computed<readonly Layer[]>(() => (this.current()?.design ?? this.desk.document())?.layers ?? []);
  /** Selected layers, back to front. */
  readonly held = computed<readonly Layer[]>(() => {
    const ids = this.selection();
    return this.layers().filter((layer) => ids.includes(layer.id));
  });
  /** The selected layer when there is only one. */
  readonly selected = computed<Layer | null>(() => {
    const held = this.held();
    return held.length === 1 ? held[0] : null;
  });
  readonly selectedId = computed(() => this.selected()?.id ?? null);
  readonly toMend = computed(() =>
    this.targets().reduce(
      (sum, one) =>
        sum +
        one.findings.filter(
          (finding) => finding.severity !== 'tells' && finding.code !== 'no-art' && finding.accepted === undefined,
        ).length,
      0,
    ),
  );
  readonly selectedFindings = computed(() => {
    const ids = this.selection();
    return this.current()?.findings.filter((finding) => finding.layerId && ids.includes(finding.layerId)) ?? [];
  });

  /** Colours of the design's own making and the main inks of its pictures, most used first. */
  readonly colours = computed(() => {
    const facts = this.assets.facts();
    const all = this.layers().flatMap(
      (layer) => factsOfLayer(layer, facts)?.inks.map((ink) => ink.hex.toLowerCase()) ?? [],
    );
    return [...new Set(all)].slice(0, 12);
  });

  constructor() {
    effect(() => {
      const design = this.desk.document();
      const pictures = picturesOf([...(design?.layers ?? []), ...this.targets().flatMap((one) => one.design.layers)]);
      untracked(() => this.assets.want(pictures));
    });
  }

  /**
   * A colour that is seen well on whatever lies under a place of the print field, cloth or layers: one of the
   * design's own, if it can be.
   * @param place where something new will lie
   */
  freshColour(place: LayerPlace): string {
    const facts = this.assets.facts();
    const box = boundsOfPlace(place);
    const under = this.layers().filter(
      (layer) => !layer.hidden && layer.opacity > 0.3 && intersect(boundsOfPlace(layer.place), box),
    );
    const inks = under.flatMap(
      (layer) =>
        factsOfLayer(layer, facts)
          ?.inks.filter((ink) => ink.share >= 0.15)
          .map((ink) => ink.hex) ?? [],
    );
    const grounds = [this.current()?.garment ?? '#ffffff', ...inks].map(rgbOf);
    const seen = (hex: string) => Math.min(...grounds.map((ground) => contrast(rgbOf(hex), ground)));
    const own = this.colours().filter((hex) => seen(hex) >= READS_FROM);
    const candidates = own.length
      ? own
      : [...this.colours(), '#f2bd4b', '#1f7f7a', '#f7f5f0', '#1f2623', '#b4532a', '#8fcbe0'];
    return candidates.reduce((best, hex) => (seen(hex) > seen(best) ? hex : best));
  }

  /** Selects layers with all of their groups, or adds them to what is selected, or takes them away again. */
  select(ids: readonly string[], add = false): void {
    const layers = this.layers();
    const whole = wholeGroups({ layers }, ids);
    if (!add) {
      this.selection.set(whole);
      return;
    }
    const before = this.selection();
    const all = whole.every((id) => before.includes(id));
    this.selection.set(
      layers.map((layer) => layer.id).filter((id) => (whole.includes(id) ? !all : before.includes(id))),
    );
  }

  /** Selects one layer alone, though it be in a group. */
  selectWithin(id: string): void {
    this.selection.set([id]);
  }

  /** Makes a change; one that cannot be made is told. */
  edit(edit: Edit, mergeKey: string | null = null): void {
    try {
      this.desk.edit(edit, mergeKey);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      this.notices.complain(error.message);
    }
  }

  /**
   * Makes a change that no target can have for itself. Where only one was meant to be changed, that is said once for a
   * run of changes.
   */
  editEverywhere(edit: Edit, mergeKey: string): void {
    if (this.alone() && this.toldFor !== mergeKey)
      this.notices.say('This reaches every target: only place, size, hiding and plain colours can differ on one.');
    this.toldFor = mergeKey;
    this.edit(edit, mergeKey);
  }

  /** What a measuring of a target is of; null while the design is being changed, and where there is nothing to measure. */
  measureOf({ key, requirement }: EditorTarget): string | null {
    if (this.desk.state() !== 'saved' || !this.desk.document()?.layers.length) return null;
    return `${this.desk.id()} ${this.desk.revision()} ${key}@${requirement.revision}`;
  }

  /** Whether what is told of a target's print was measured on it as it is now. */
  measureStateOf(one: EditorTarget): 'measured' | 'measuring' | 'failed' {
    if (!this.desk.document()?.layers.length) return 'measured';
    const last = this.measuredAt()[one.key];
    return last === undefined || last.of !== this.measureOf(one) ? 'measuring' : last.ok ? 'measured' : 'failed';
  }

  /** State of a target as on the job sheet. */
  stateOf(one: EditorTarget): TargetState {
    const files = this.printFiles().filter((file) => file.requirementId === one.requirement.id);
    const current =
      this.desk.state() === 'saved' ? files.find((file) => file.standsFor.includes(one.cloth)) : undefined;
    return targetState({
      begun: one.design.layers.length > 0,
      printable: isPrintable(one.findings),
      current,
      anyFile: files.length > 0,
    });
  }

  choose(requirementId: string, cloth: Cloth | null = null): void {
    const requirement = this.requirements.byId()[requirementId];
    const isNew =
      requirement && !this.desk.document()?.targets.some((target) => target.requirementId === requirementId);
    if (isNew) this.desk.edit(layOnTarget(requirement));
    // A change reaches every target again: what was meant for one must not fall on another.
    if (requirementId !== this.current()?.requirement.id) this.alone.set(false);
    this.chosenId.set(requirementId);
    this.chosenCloth.set(cloth);
    if (isNew) this.sayHowLarge();
  }

  /** Says how large the art became on a target that was just added, where that is not its own size. */
  private sayHowLarge(): void {
    const [design, current] = [this.desk.document(), this.current()];
    const art = design && unite(design.layers.filter((one) => !one.hidden).map((one) => boundsOfPlace(one.place)));
    if (!art || !current || Math.abs(current.layout.factor - 1) < 0.005) return;
    const { factor, canvas } = current.layout;
    const length = (mm: number) => formatLength(mm, this.preferences.unit(), canvas.dpi);
    this.notices.say(
      `${length(art.width)} of art became ${length(art.width * factor)} to fit ${current.requirement.name}.`,
    );
  }

  /** Opens a picture where it is made fit for cloth. */
  treat(layerId: string, one: EditorTarget | null = this.current()): void {
    if (one) this.choose(one.requirement.id, one.cloth);
    this.selection.set([layerId]);
    this.place.set({ kind: 'picture', layerId });
  }

  /** Shows a target on every colour it is sold in. */
  lookAtColours(one: EditorTarget): void {
    this.choose(one.requirement.id, one.cloth);
    this.place.set({ kind: 'colours' });
  }

  mend(finding: Finding, one: EditorTarget): void {
    const design = this.desk.document();
    const edit = design && fixEdit(finding, design, one.target, one.requirement);
    if (edit) {
      this.desk.edit(edit);
      this.desk.settle();
    }
  }

  /** Turns one colour into another in some layers: everywhere, or on the chosen target alone. */
  recolour(ids: readonly string[], from: string, to: string, mergeKey: string | null = null): void {
    const current = this.current();
    this.edit(
      this.alone() && current
        ? recolourOnTarget(current.requirement.id, ids, from, to, current.cloth)
        : recolourLayers(ids, from, to),
      mergeKey,
    );
  }

  /** Box of what a move takes along: the selected layers, or all visible art; canvas mm. */
  readonly movedBox = computed<Box | null>(() => {
    const [current, held, moving] = [this.current(), this.held(), this.moving()];
    if (!current) return null;
    const box = this.onlyHere() ? null : unite(held.map((layer) => boundsOfPlace(moving?.[layer.id] ?? layer.place)));
    return box ? mapBox(current.layout.toCanvas, box) : artOnCanvas(current.design, current.layout);
  });

  /** Brings the selected layers, or all art, to a box on the chosen target's canvas. */
  moveTo(to: Box, mergeKey: string | null = null): void {
    const current = this.current();
    if (!current) return;
    const held = this.held().filter((layer) => !layer.locked);
    if (this.selection().length && !held.length && !this.onlyHere()) {
      this.notices.say('This layer is locked. Unlock it to move it.');
      return;
    }
    const ids = (held.length ? held : this.layers().filter((one) => !one.hidden && !one.locked)).map(
      (layer) => layer.id,
    );
    const { target, requirement } = current;
    this.edit(
      this.onlyHere()
        ? moveOnTargetOnly(target, requirement, to)
        : moveOnCanvas(ids, target, requirement, to, this.alone()),
      mergeKey,
    );
  }

  /** Shifts by whole canvas pixels. */
  nudge(across: number, down: number): void {
    const [current, box] = [this.current(), this.movedBox()];
    if (!current || !box) return;
    const pixel = 25.4 / current.layout.canvas.dpi;
    this.moveTo(
      { ...box, x: box.x + across * pixel, y: box.y + down * pixel },
      `nudge ${this.selection().join()} ${this.onlyHere()}`,
    );
  }

  placeUsual(place: UsualPlace): void {
    const [current, box] = [this.current(), this.movedBox()];
    if (current && box) {
      this.moveTo(usualPlace(place, box, current.layout.safe));
      this.desk.settle();
    }
  }

  /** Puts layers at places on the field, as one step. Locked ones stay. */
  placeAll(places: Places, mergeKey: string | null = null): void {
    const locked = new Set(
      this.layers()
        .filter((layer) => layer.locked)
        .map((layer) => layer.id),
    );
    const free = Object.fromEntries(Object.entries(places).filter(([id]) => !locked.has(id)));
    if (Object.keys(free).length) this.edit(placeLayers(free, this.current()?.target, this.alone()), mergeKey);
  }

  /** A place on the chosen canvas (centre in canvas mm, size in printed mm) as a place on the field. */
  onField(layer: Layer, change: Partial<LayerPlace>): LayerPlace {
    const { toCanvas, factor } = this.current()!.layout;
    const centre = apply(toCanvas, layer.place);
    const at = apply(invert(toCanvas), { x: change.x ?? centre.x, y: change.y ?? centre.y });
    return {
      ...layer.place,
      ...at,
      width: change.width === undefined ? layer.place.width : change.width / factor,
      height: change.height === undefined ? layer.place.height : change.height / factor,
      turn: change.turn ?? layer.place.turn,
    };
  }

  /** Changes the selected layer where it lies on the chosen canvas: centre in canvas mm, size in printed mm. */
  placeSelected(change: Partial<LayerPlace>, mergeKey: string | null = null): void {
    const layer = this.selected();
    if (layer && this.current()) this.placeAll({ [layer.id]: this.onField(layer, change) }, mergeKey);
  }
}
