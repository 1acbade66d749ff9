import type { Cloth, DesignDocument, Requirement, Target } from '@kettle/core/model';
import { asVersion, targetKey, versionsOf } from '@kettle/core/document';
import { JUDGEMENT_VERSION } from '@kettle/core/checks';
import type { AssetsById, Judgement } from '../render/documents/derive.js';
import { StoppedError } from '../floor/processes/process-pool.js';
import type { DesignStore } from './design-store.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import type { JudgedRow, SheetStore } from './sheet-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import { clothsOf, type ClothMeasureService } from './cloth-measures.js';
import type { PictureService } from '../artwork/pictures.js';
import type { DesignProcessor } from '../documents/design-processor.js';

/** A target as it is judged: in one of its versions, where it has any. */
export interface CheckedTarget {
  readonly target: Target;
  readonly requirement: Requirement;
  readonly version: Cloth | null;
}

const MOST_KEPT = 100_000;
/** Engine of what was judged before its ink was measured: whoever asks for it has it judged again. */
const NOT_MEASURED = 0;
const keyOf = (design: StoredDesign, { requirement, version }: CheckedTarget): string =>
  `${design.id} ${design.revision} ${targetKey(requirement.id, version)} ${requirement.revision}`;

/** A target in each of its versions. */
export const targetsToCheck = (target: Target, requirement: Requirement): CheckedTarget[] =>
  versionsOf(target).map((version) => ({ target: asVersion(target, version, requirement), requirement, version }));

/** What it works with. */
export interface TargetChecksDeps {
  readonly processor: DesignProcessor;
  readonly sheetStore: SheetStore;
  readonly requirements: RequirementStore;
  readonly pictures: PictureService;
  readonly designStore: DesignStore;
  readonly onCloths: ClothMeasureService;
}

/**
 * Runs the checks on targets, and keeps what they found. A revision never changes, so what was found of it holds: it is kept beside the design, for the sheet
 * and for whoever asks next. How a print is seen on cloth is measured while nobody waits for it; then it is judged again.
 */
export class TargetChecks {
  private readonly known = new Map<string, Judgement>();
  /** Judging under way, by design and revision: who asks meanwhile waits for it. */
  private readonly underway = new Map<string, Promise<unknown>>();
  /** Judgements of today that lack what is still to be measured. */
  private readonly unmeasured = new Set<string>();
  /** Designs whose prints are to be measured, one after the other; one that was saved again is measured once. */
  private readonly waiting = new Set<string>();
  private isMeasuring = false;

  constructor(private readonly deps: TargetChecksDeps) {}

  /** Judgements in the order of the targets. Targets are those of the design's own document. */
  async of(design: StoredDesign, targets: readonly CheckedTarget[], assets: AssetsById): Promise<Judgement[]> {
    const key = `${design.id} ${design.revision}`;
    await this.underway.get(key);
    // What is known may be forgotten while the rest is found: it is held here.
    const found = new Map(
      targets.flatMap((one): [string, Judgement][] => {
        const known = this.known.get(keyOf(design, one));
        return known ? [[keyOf(design, one), known]] : [];
      }),
    );
    const unknown = targets.filter((one) => !found.has(keyOf(design, one)));
    if (unknown.length) {
      const work = this.find(design, unknown, assets).finally(() => {
        if (this.underway.get(key) === work) this.underway.delete(key);
      });
      this.underway.set(key, work);
      for (const [of, judgement] of await work) found.set(of, judgement);
    }
    return targets.map((one) => found.get(keyOf(design, one))!);
  }

  /**
   * Judges all targets of some designs and keeps what was found.
   * @param failed hears of designs that cannot be judged; without it the first failure is thrown
   */
  async run(designs: readonly StoredDesign[], failed?: (design: StoredDesign, error: unknown) => void): Promise<void> {
    for (const owner of new Set(designs.map((design) => design.owner))) {
      const own = designs.filter((design) => design.owner === owner);
      const requirements = new Map((await this.deps.requirements.list(owner)).map((one) => [one.id, one]));
      const assets = await this.deps.pictures.ofAll(
        owner,
        own.flatMap((design) => outlineOf(design) ?? []),
      );
      const rows: JudgedRow[] = [];
      for (const design of own) {
        try {
          rows.push(...(await this.rowsOf(design, requirements, assets)));
        } catch (error) {
          if (!failed) throw error;
          failed(design, error);
        }
      }
      await this.keepRows(rows);
    }
  }

  private async keepRows(rows: readonly JudgedRow[]): Promise<void> {
    const isMeasured = ({ designId, revision, requirementId, version, requirementRevision }: JudgedRow): boolean =>
      !this.unmeasured.has(`${designId} ${revision} ${targetKey(requirementId, version)} ${requirementRevision}`);
    await this.deps.sheetStore.keep(JUDGEMENT_VERSION, rows.filter(isMeasured));
    await this.deps.sheetStore.keep(
      NOT_MEASURED,
      rows.filter((row) => !isMeasured(row)),
    );
  }

  private async rowsOf(
    design: StoredDesign,
    requirements: ReadonlyMap<string, Requirement>,
    assets: AssetsById,
  ): Promise<JudgedRow[]> {
    const targets = design.outline.targets.flatMap((target) => {
      const requirement = requirements.get(target.requirementId);
      return requirement ? targetsToCheck(target, requirement) : [];
    });
    const judgements = await this.of(design, targets, assets);
    return targets.map(({ requirement, version }, i) => ({
      designId: design.id,
      revision: design.revision,
      requirementId: requirement.id,
      requirementRevision: requirement.revision,
      version,
      judgement: judgements[i],
    }));
  }

  private async find(
    design: StoredDesign,
    targets: readonly CheckedTarget[],
    assets: AssetsById,
  ): Promise<ReadonlyMap<string, Judgement>> {
    const result = design.isLarge ? await this.recall(design, targets) : new Map<string, Judgement>();
    const open = targets.filter((one) => !result.has(keyOf(design, one)));
    if (!open.length) return result;
    const bare = await this.deps.processor.of(design, 'judge', { of: open, assets });
    const names = open.map(({ target, requirement }, i) =>
      this.deps.onCloths.nameOf(bare[i].recipe, clothsOf(target, requirement)),
    );
    const known = await this.deps.onCloths.known(names);
    const measured = open.flatMap((one, i) => {
      const seen = known.get(names[i]);
      return seen ? [{ ...one, measured: seen }] : [];
    });
    const again = measured.length ? await this.deps.processor.of(design, 'judge', { of: measured, assets }) : [];
    const found = open.map((_one, i) => (known.has(names[i]) ? again.shift()! : bare[i]));
    open.forEach((one, i) => {
      const key = keyOf(design, one);
      this.keep(key, found[i]);
      result.set(key, found[i]);
      if (known.has(names[i]) || !design.outline.layers.length) this.unmeasured.delete(key);
      else this.unmeasured.add(key);
    });
    if (open.some((one) => this.unmeasured.has(keyOf(design, one)))) this.measureLater(design.id);
    // What took long is written down at once; the rest with whatever else is judged now.
    if (design.isLarge) {
      await this.keepRows(
        open.map(({ requirement, version }, i) => ({
          designId: design.id,
          revision: design.revision,
          requirementId: requirement.id,
          requirementRevision: requirement.revision,
          version,
          judgement: found[i],
        })),
      );
    }
    return result;
  }

  private measureLater(id: string): void {
    this.waiting.add(id);
    if (this.isMeasuring) return;
    this.isMeasuring = true;
    void this.measureWaiting()
      .catch(() => undefined)
      .finally(() => (this.isMeasuring = false));
  }

  /** Measures designs until none waits. What fails is measured when somebody opens it, and is told there. */
  private async measureWaiting(): Promise<void> {
    for (const id of this.waiting) {
      this.waiting.delete(id);
      try {
        const [design] = await this.deps.designStore.some([id]);
        if (design) await this.measure(design);
      } catch (error) {
        if (error instanceof StoppedError) throw error;
      }
    }
  }

  private async measure(design: StoredDesign): Promise<void> {
    const requirements = new Map((await this.deps.requirements.list(design.owner)).map((one) => [one.id, one]));
    const assets = await this.deps.pictures.of(design);
    for (const target of design.outline.targets) {
      const requirement = requirements.get(target.requirementId);
      if (!requirement) continue;
      for (const one of targetsToCheck(target, requirement)) {
        const print = await this.deps.processor.of(design, 'print', { target: one.target, requirement, assets });
        const seen = await this.deps.onCloths.of(print, clothsOf(one.target, requirement));
        if (seen) this.known.delete(keyOf(design, one));
        else this.unmeasured.delete(keyOf(design, one));
      }
    }
    await this.run([design]);
  }

  /** Takes what the database knows already. */
  private async recall(design: StoredDesign, targets: readonly CheckedTarget[]): Promise<Map<string, Judgement>> {
    const rows = await this.deps.sheetStore.targets([design.id]);
    return new Map(
      targets.flatMap((one): [string, Judgement][] => {
        const found = rows.find(
          (row) => row.requirementId === one.requirement.id && row.version === one.version,
        )?.found;
        if (!found || !isCurrent(found, design.revision, one.requirement)) return [];
        this.keep(keyOf(design, one), found);
        return [[keyOf(design, one), found]];
      }),
    );
  }

  /** Forgets what was found: something that all of it may rest on is known better now. */
  forget(): void {
    this.known.clear();
    this.unmeasured.clear();
  }

  private keep(key: string, judgement: Judgement): void {
    if (this.known.size >= MOST_KEPT)
      for (const oldest of this.known.keys()) {
        this.known.delete(oldest);
        this.unmeasured.delete(oldest);
        if (this.known.size < MOST_KEPT * 0.9) break;
      }
    this.known.set(key, judgement);
  }
}

/** True when what was found is of these very revisions, by the drawing and the checks of today. */
export const isCurrent = (
  found: { readonly revision: number; readonly requirementRevision: number; readonly engine: number },
  revision: number,
  requirement: Requirement,
): boolean =>
  found.revision === revision &&
  found.requirementRevision === requirement.revision &&
  found.engine === JUDGEMENT_VERSION;

/** What is asked of a design's document; null when it cannot be read. */
function outlineOf(design: StoredDesign): DesignDocument | null {
  try {
    return design.outline;
  } catch {
    return null;
  }
}
