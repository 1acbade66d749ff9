import type { PublicationState, ShopOrderState, Sheet, SheetCell, SheetRow } from '@kettle/contract';
import type { Requirement } from '@kettle/core/model';
import { clothOf } from '@kettle/core/document';
import { targetState, type TargetState } from '@kettle/core/checks';
import type { Caller } from '../floor/basics/caller.js';
import { isDatabaseAway } from '../floor/database/database.js';
import type { Log } from '../floor/basics/log.js';
import { StoppedError } from '../floor/processes/process-pool.js';
import type { DesignStore } from '../designs/design-store.js';
import type { PublicationStore } from '../listings/publication-store.js';
import type { RequirementStore } from '../requirements/requirement-store.js';
import type { SheetDesign, SheetStore, SheetTarget } from '../designs/sheet-store.js';
import { isCurrent, type TargetChecks } from '../designs/target-checks.js';
import type { PictureSetService } from '../mockups/picture-sets.js';

/** What it works with. */
export interface SheetDeps {
  readonly sheetStore: SheetStore;
  readonly designStore: DesignStore;
  readonly requirements: RequirementStore;
  readonly checks: TargetChecks;
  readonly pictureSets: PictureSetService;
  readonly publications: PublicationStore;
  readonly log: Log;
}

/**
 * The job sheet: every design against every target it has. What it shows is kept beside the designs; only what was
 * never judged is worked out.
 */
export class SheetService {
  constructor(private readonly deps: SheetDeps) {}

  /**
   * Rows `from` to `from + count` of the sheet: four queries when all is judged, whatever the number of designs and
   * files.
   */
  async sheet(who: Caller, from = 0, count = 1_000_000): Promise<Sheet> {
    const [{ total, designs }, requirements] = await Promise.all([
      this.deps.sheetStore.page(who.owner, from, count),
      this.deps.requirements.list(who.owner),
    ]);
    return { requirements, total, rows: await this.rowsOf(who, designs, requirements) };
  }

  /** The rows of some designs, as after an event that was about them. Those that are off the sheet are left out. */
  async rows(who: Caller, ids: readonly string[]): Promise<SheetRow[]> {
    const [designs, requirements] = await Promise.all([
      this.deps.sheetStore.some(who.owner, ids),
      this.deps.requirements.list(who.owner),
    ]);
    return this.rowsOf(who, designs, requirements);
  }

  private async rowsOf(
    who: Caller,
    designs: readonly SheetDesign[],
    requirements: readonly Requirement[],
  ): Promise<SheetRow[]> {
    const byId = new Map(requirements.map((one) => [one.id, one]));
    const revisions = new Map(designs.map((design) => [design.id, design.revision]));
    let targets = (await this.deps.sheetStore.targets([...revisions.keys()])).filter((target) =>
      byId.has(target.requirementId),
    );
    const isOpen = ({ designId, requirementId, found }: SheetTarget): boolean =>
      !found || !isCurrent(found, revisions.get(designId)!, byId.get(requirementId)!);
    const open = [...new Set(targets.filter(isOpen).map((target) => target.designId))];
    const damaged = new Set<string>();
    if (open.length) {
      await this.judgeSome(open, damaged);
      targets = (await this.deps.sheetStore.targets([...revisions.keys()])).filter((target) =>
        byId.has(target.requirementId),
      );
    }
    const sets = await this.deps.pictureSets.progressOf(who, designs, requirements);
    const listed = await this.deps.publications.statesOf([...revisions.keys()]);
    const byDesign = new Map<string, SheetTarget[]>();
    for (const target of targets) byDesign.set(target.designId, [...(byDesign.get(target.designId) ?? []), target]);
    return designs.map((design): SheetRow => ({
      designId: design.id,
      name: design.name,
      revision: design.revision,
      savedAt: design.savedAt,
      layers: design.layers,
      template: design.template,
      pictures: design.pictures,
      set: sets.get(design.id) ?? null,
      cells: byRequirement(byDesign.get(design.id) ?? []).map((versions) => {
        const requirement = byId.get(versions[0].requirementId)!;
        // What the column's channel says of it comes first; a print shop that was sent its file says it in the checks.
        const state = listed.get(`${design.id} ${requirement.channel}`) ?? listed.get(`${design.id} ${requirement.id}`);
        const listing = state && LISTED[state];
        return {
          ...cellOf(versions, requirement, design, damaged.has(design.id)),
          ...(listing ? { listing } : {}),
        };
      }),
    }));
  }

  private async judgeSome(ids: readonly string[], damaged: Set<string>): Promise<void> {
    const failed = ({ id, revision }: { id: string; revision: number }, error: unknown): void => {
      if (isDatabaseAway(error) || error instanceof StoppedError) throw error;
      // One design that cannot be judged says so in its own row; the others are none the worse.
      this.deps.log.error({ err: error, design: id, revision }, 'a design cannot be judged');
      damaged.add(id);
    };
    for (let from = 0; from < ids.length; from += PAGE) {
      await this.deps.checks.run(await this.deps.designStore.some(ids.slice(from, from + PAGE)), failed);
      // Others are answered in between.
      await new Promise((resolve) => setImmediate(resolve));
    }
  }
}

/** How a cell says that its channel has the design. */
const LISTED: Readonly<Partial<Record<PublicationState | ShopOrderState, NonNullable<SheetCell['listing']>>>> = {
  waiting: 'sent',
  sending: 'sent',
  checking: 'sent',
  looking: 'sent',
  draft: 'sent',
  live: 'live',
  'sold-out': 'sold out',
  refused: 'refused',
  yes: 'accepted',
  mend: 'refused',
};

/** Designs that are read at once to be judged. */
const PAGE = 50;

/** Versions of one target stand together, as they are one cell. */
function byRequirement(targets: readonly SheetTarget[]): SheetTarget[][] {
  const cells = new Map<string, SheetTarget[]>();
  for (const target of targets) {
    const cell = cells.get(target.requirementId);
    if (cell) cell.push(target);
    else cells.set(target.requirementId, [target]);
  }
  return [...cells.values()];
}

/** States from the one that asks for most to the one that asks for nothing. */
const URGENT: readonly TargetState[] = ['not-begun', 'needs-work', 'out-of-date', 'not-made', 'ready'];

/** A cell shows the version of the garment it lies on, and the state of the version that needs most. */
function cellOf(
  versions: readonly SheetTarget[],
  requirement: Requirement,
  design: SheetDesign,
  isDamaged: boolean,
): SheetCell {
  const seenOn = versions[0].garment ?? requirement.colourways[0]?.hex ?? '#ffffff';
  const each = versions.map((version) => versionCell(version, seenOn, design, isDamaged));
  const worst = each.reduce((a, b) => (URGENT.indexOf(b.state) < URGENT.indexOf(a.state) ? b : a));
  const cloth = clothOf(seenOn);
  const shown =
    each[
      Math.max(
        0,
        versions.findIndex((one) => one.version === cloth),
      )
    ];
  return { ...shown, state: worst.state, finding: worst.finding };
}

function versionCell(
  { requirementId, found, current, newestFile, failure }: SheetTarget,
  seenOn: string,
  design: SheetDesign,
  isDamaged: boolean,
): SheetCell {
  if (isDamaged || !found)
    return {
      requirementId,
      state: 'needs-work',
      garment: seenOn,
      printFileId: newestFile,
      miniature: `unjudged ${design.revision}`,
      finding: 'Cannot be judged',
    };
  return {
    requirementId,
    garment: seenOn,
    printFileId: current?.id ?? newestFile,
    miniature: found.recipe.slice(0, 16),
    state: targetState({
      begun: design.layers > 0,
      printable: found.printable,
      current: current ?? undefined,
      anyFile: newestFile !== null,
    }),
    finding:
      found.gravest ??
      (current ? (current.accepted ? null : 'The file misses a demand') : failure && 'Could not be made'),
  };
}
