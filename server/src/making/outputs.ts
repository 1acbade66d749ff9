import { createHash } from 'node:crypto';
import type {
  ChosenTargets,
  Job,
  JobStep,
  Naming,
  Output,
  PrintFile,
  PrintFileStep,
  ProofSheetStep,
} from '@kettle/contract';
import type { Cloth, Requirement } from '@kettle/core/model';
import { type CertificateRow, fileKind, fileTypeFor } from '@kettle/core/requirement';
import { readTargetKey, versionsOf } from '@kettle/core/document';
import { nameBy, uniqueNames, USUAL_PATTERN } from '@kettle/core/naming';
import { isOutOfDate } from '../documents/out-of-date.js';
import type { Caller } from '../floor/basics/caller.js';
import { PROOF_SHEET } from './proof-sheet.js';
import { PRINT_FILE } from './print-file.js';
import type { DesignReader } from '../designs/design-reader.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { SettingStore } from '../floor/database/setting-store.js';
import type { JobStore, NewBatch, NewStep, StepsOfRun } from '../floor/queue/job-store.js';
import type { OutputStore, StoredOutput } from './output-store.js';
import type { StoredDesign } from '../documents/stored-design.js';
import { changedMeanwhile, hindranceOf, targetOf, type DesignService } from '../designs/designs.js';
import type { AssetsById } from '../render/documents/derive.js';
import { targetsToCheck, type TargetChecks } from '../designs/target-checks.js';

/** Most steps that may wait in the queue, and most that one run may add. */
const MOST_WAITING = 5000;

/** What it works with. */
export interface OutputDeps {
  readonly designs: DesignService;
  readonly reader: DesignReader;
  readonly jobs: JobStore;
  readonly outputStore: OutputStore;
  readonly checks: TargetChecks;
  readonly settings: SettingStore;
}

/** Print files and pictures: asked for, listed, and compared with the design as it stands now. */
export class OutputService {
  constructor(private readonly deps: OutputDeps) {}

  async askForPrintFiles(
    who: Caller,
    designId: string,
    requirementIds: readonly string[],
    revision?: number,
  ): Promise<Job> {
    const design = await this.deps.designs.asLookedAt(who, designId, revision);
    const steps = await this.printFileSteps(who, design, requirementIds);
    const hindered = steps.find((step) => step.failed !== undefined);
    if (hindered) throw new ProblemError(409, hindered.code ?? 'cannot-make', hindered.failed!);
    return this.queue(who, { kind: 'print-files', design }, steps);
  }

  /**
   * Print files of many designs in one run. What cannot be made is over at once, with its reason; the rest goes on.
   */
  async run(who: Caller, targets: readonly ChosenTargets[]): Promise<Job> {
    const steps: NewStep[] = [];
    const taken = new Set<string>();
    for (const { designId, requirementIds, revision } of targets) {
      const design = await this.deps.designs.get(who, designId);
      const changed = changedMeanwhile(design, revision);
      for (const step of await this.printFileSteps(who, design, requirementIds, taken))
        steps.push(changed ? { ...step, failed: changed } : step);
    }
    if (!steps.length)
      throw new ProblemError(422, 'nothing-chosen', 'These designs have no targets. Give them one, then press again.');
    const designIds = [...new Set(targets.map(({ designId }) => designId))];
    return this.queue(who, { kind: 'print-files', designIds }, steps);
  }

  /** The steps of a design's targets, all of them when none are named, each in all of its versions. */
  private async printFileSteps(
    who: Caller,
    design: StoredDesign,
    requirementIds: readonly string[],
    taken = new Set<string>(),
  ): Promise<(NewStep & { readonly code?: string })[]> {
    const [known, { pattern }] = await Promise.all([this.deps.reader.knownAssetsOf(design), this.naming(who)]);
    const wanted = requirementIds.length
      ? [...new Set(requirementIds)]
      : design.outline.targets.map((target) => target.requirementId);
    const steps: (NewStep & { readonly code?: string })[] = [];
    for (const requirementId of wanted) {
      const requirement = await this.deps.reader.requirement(who, requirementId);
      for (const version of versionsOf(targetOf(design.outline, requirementId)))
        steps.push(await this.printFileStep(design, requirement, version, known, pattern, taken));
    }
    return steps;
  }

  private async printFileStep(
    design: StoredDesign,
    requirement: Requirement,
    version: Cloth | null,
    { assets, isWhole }: { readonly assets: AssetsById; readonly isWhole: boolean },
    pattern: string,
    taken: Set<string>,
  ): Promise<NewStep & { readonly code?: string }> {
    // Pictures that nobody has looked at yet are looked at when it is made, and so is what hinders it.
    const hindrance = isWhole
      ? hindranceOf(await this.deps.designs.findingsOf(design, requirement, assets, version), requirement, version)
      : null;
    // Which kind of file it will be is known when it is made; until then the one that is likely stands for it.
    const type = fileTypeFor(requirement, false) ?? fileTypeFor(requirement, true) ?? 'png';
    const filename = uniqueNames([
      ...taken,
      nameBy(pattern, { design: design.outline.name, requirement, version }, fileKind(type).extension),
    ]).at(-1)!;
    taken.add(filename);
    const payload: PrintFileStep = {
      designId: design.id,
      revision: design.revision,
      requirementId: requirement.id,
      ...(version ? { version } : {}),
      filename,
      ...(isWhole ? {} : { unjudged: true }),
    };
    return {
      kind: PRINT_FILE.kind,
      engine: PRINT_FILE.engine,
      payload,
      ...(hindrance ? { code: hindrance.code, failed: hindrance.sentence } : {}),
    };
  }

  /** How files are named. */
  async naming(who: Caller): Promise<Naming> {
    return (await this.deps.settings.get<Naming>(who.owner, 'naming')) ?? { pattern: USUAL_PATTERN };
  }

  async setNaming(who: Caller, naming: Naming): Promise<Naming> {
    await this.deps.settings.put(who.owner, 'naming', naming);
    return naming;
  }

  async askForProofSheet(
    who: Caller,
    designId: string,
    {
      requirementId,
      version,
      revision,
    }: { readonly requirementId: string; readonly version?: Cloth | null; readonly revision?: number },
  ): Promise<Job> {
    const design = await this.deps.designs.asLookedAt(who, designId, revision);
    const requirement = await this.deps.reader.requirement(who, requirementId);
    await this.deps.reader.demandAssetsOf(design);
    const payload: ProofSheetStep = {
      designId,
      revision: design.revision,
      requirementId,
      ...(version ? { version } : {}),
      filename: nameBy(
        `${(await this.naming(who)).pattern}-proof`,
        { design: design.outline.name, requirement, version: version ?? null },
        'pdf',
      ),
    };
    return this.queue(who, { kind: 'proof-sheet', design }, [
      { kind: PROOF_SHEET.kind, engine: PROOF_SHEET.engine, payload },
    ]);
  }

  /** Something that was made, whatever its kind. */
  async output(who: Caller, id: string): Promise<Output> {
    const made = await this.deps.outputStore.any(who.owner, id);
    if (!made) throw new ProblemError(404, 'no-such-output', 'There is nothing that was made with this id.');
    const { kind, designId, filename, mediaType, sha256, bytes, accepted, madeAt } = made;
    return { id, kind, designId, filename, mediaType, sha256, bytes, accepted, madeAt };
  }

  /** Puts steps into the queue. @throws ProblemError 429 when too many wait there already */
  async queue(who: Caller, batch: NewBatch, steps: StepsOfRun): Promise<Job> {
    const waiting = await this.deps.jobs.waiting();
    if (waiting + (typeof steps === 'function' ? 1 : steps.length) > MOST_WAITING) {
      throw new ProblemError(
        429,
        'queue-full',
        `${waiting} files are waiting to be made already. Wait until some are done, or cancel a run that is not needed.`,
      );
    }
    return this.deps.jobs.addBatch(who.owner, batch, steps);
  }

  async job(who: Caller, id: string): Promise<Job> {
    const job = await this.deps.jobs.get(who.owner, id);
    if (!job) throw new ProblemError(404, 'no-such-job', 'There is no job with this id.');
    return job;
  }

  async cancel(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.deps.jobs.cancel(id);
    return this.job(who, id);
  }

  async pause(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.deps.jobs.pause(id);
    return this.job(who, id);
  }

  async resume(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.deps.jobs.resume(id);
    return this.job(who, id);
  }

  /** Each file of a run. Payloads that another version wrote are left out. */
  async steps(who: Caller, id: string): Promise<JobStep[]> {
    await this.job(who, id);
    return (await this.deps.jobs.steps(id)).flatMap(({ payload, ...step }) => {
      const { designId, requirementId, version, filename } = payload as Partial<PrintFileStep>;
      return typeof designId === 'string' && typeof filename === 'string'
        ? [
            {
              ...step,
              kind: step.kind as JobStep['kind'],
              designId,
              requirementId: requirementId ?? null,
              version: (version as Cloth | undefined) ?? null,
              filename,
            },
          ]
        : [];
    });
  }

  async printFile(who: Caller, id: string): Promise<PrintFile> {
    const file = await this.deps.outputStore.get(who.owner, PRINT_FILE.kind, id);
    if (!file) throw new ProblemError(404, 'no-such-print-file', 'There is no print file with this id.');
    return (await this.judged(who, file.designId!, [file]))[0];
  }

  async printFilesOf(who: Caller, designId: string): Promise<PrintFile[]> {
    await this.deps.designs.get(who, designId);
    return this.judged(who, designId, await this.deps.outputStore.ofDesign(PRINT_FILE.kind, designId));
  }

  /** Print files of a design with the recipes they follow, newest first. */
  async madeOf(who: Caller, designId: string): Promise<PrintFile[]> {
    return this.judged(who, designId, await this.deps.outputStore.ofDesign(PRINT_FILE.kind, designId));
  }

  /**
   * Names what would be printed of a design on all of its targets, as it stands: SHA-256 of their recipes, hex. The same as long as
   * nothing that is printed has changed.
   */
  async printOf(who: Caller, designId: string): Promise<string> {
    const design = await this.deps.designs.get(who, designId);
    const requirements = await this.deps.reader.requirementsOf(who);
    const targets = design.outline.targets.flatMap(({ requirementId }) => {
      const requirement = requirements.find(({ id }) => id === requirementId);
      return requirement ? targetsToCheck(targetOf(design.outline, requirementId), requirement) : [];
    });
    const judged = await this.deps.checks.of(design, targets, await this.deps.reader.assetsOf(design));
    const recipes = targets.map(
      ({ requirement, version }, i) => `${requirement.id} ${String(version)} ${judged[i].recipe ?? 'nothing'}`,
    );
    // A design without targets is its revision.
    return createHash('sha256')
      .update(recipes.length ? recipes.sort().join('\n') : `revision ${design.revision}`)
      .digest('hex');
  }

  /** A file is out of date when making it now would follow another recipe. */
  private async judged(who: Caller, designId: string, files: readonly StoredOutput[]): Promise<PrintFile[]> {
    const design = await this.deps.designs.get(who, designId);
    const assets = await this.deps.reader.assetsOf(design);
    const asked = new Set(files.map((file) => readTargetKey(file.about).requirementId));
    const targets = (await this.deps.reader.requirementsOf(who))
      .filter((one) => asked.has(one.id))
      .flatMap((requirement) => targetsToCheck(targetOf(design.outline, requirement.id), requirement));
    const judgements = await this.deps.checks.of(design, targets, assets);
    return files.map((file) => {
      const { requirementId } = readTargetKey(file.about);
      const standsFor = targets
        .filter(({ requirement }, i) => requirement.id === requirementId && !isOutOfDate(file, judgements[i].recipe))
        .map(({ version }) => version);
      return { ...printFileOf(file), standsFor, outOfDate: standsFor.length === 0 };
    });
  }
}

/** Why nothing is made of a revision that was looked at, when it is not the newest any more. */
const printFileOf = (file: StoredOutput): Omit<PrintFile, 'outOfDate' | 'standsFor'> & { recipe: string } => ({
  id: file.id,
  designId: file.designId!,
  requirementId: readTargetKey(file.about).requirementId,
  version: readTargetKey(file.about).cloth,
  recipe: file.recipe,
  sha256: file.sha256,
  filename: file.filename,
  bytes: file.bytes,
  mediaType: file.mediaType,
  accepted: file.accepted,
  certificate: (file.record as { certificate: CertificateRow[] }).certificate,
  madeAt: file.madeAt,
});
