import { createHash } from 'node:crypto';
import type {
  ChosenTargets,
  Job,
  JobStep,
  Naming,
  Output,
  Picture,
  PictureRequest,
  PictureRun,
  PictureStep,
  PicturesRequest,
  PrintFile,
  PrintFileStep,
  ProofSheetStep,
} from '@kettle/contract';
import {
  canonicalJson,
  colourwayOf,
  fileNameOf,
  nameBy,
  readTargetKey,
  versionsOf,
  safeName,
  uniqueNames,
  USUAL_PATTERN,
  type AreaPrint,
  type Blank,
  type CertificateRow,
  type Cloth,
  type Colourway,
  type KeptScene,
  type PictureFit,
  type PictureFormat,
  type Requirement,
  fileKind,
  fileTypeFor,
} from '@kettle/core';
import type { Caller } from '../caller.js';
import { recipeOfPicture, PICTURE } from '../making/picture.js';
import { PROOF_SHEET } from '../making/proof-sheet.js';
import { PRINT_FILE } from '../making/print-file.js';
import type { Workshop } from '../making/workshop.js';
import { ProblemError } from '../safety/problem-error.js';
import type { SettingStore } from '../stores/settings.js';
import type { JobStore, NewBatch, NewStep, StepsOfRun } from '../stores/jobs.js';
import type { OutputStore, StoredOutput } from '../stores/outputs.js';
import type { StoredDesign } from '../stores/stored-design.js';
import { hindranceOf, targetOf, type DesignService } from './designs.js';
import type { SheetStore } from '../stores/sheet.js';
import type { PictureSetService, WantedPicture } from './picture-sets.js';
import type { AssetsById } from '../render/derive.js';
import { judgedTargets, type Judge } from './judge.js';

/** Most steps that may wait in the queue, and most that one run may add. */
const MOST_WAITING = 5000;

/** Print files and pictures: asked for, listed, and compared with the design as it stands now. */
export class OutputService {
  constructor(
    private readonly designs: DesignService,
    private readonly workshop: Workshop,
    private readonly jobs: JobStore,
    private readonly outputs: OutputStore,
    private readonly judge: Judge,
    private readonly settings: SettingStore,
    private readonly sheet: SheetStore,
    private readonly pictureSets: PictureSetService,
  ) {}

  async askForPrintFiles(
    who: Caller,
    designId: string,
    requirementIds: readonly string[],
    revision?: number,
  ): Promise<Job> {
    const design = await this.asLookedAt(who, designId, revision);
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
      const design = await this.designs.get(who, designId);
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
    const [known, { pattern }] = await Promise.all([this.workshop.knownAssetsOf(design), this.naming(who)]);
    const wanted = requirementIds.length
      ? [...new Set(requirementIds)]
      : design.outline.targets.map((target) => target.requirementId);
    const steps: (NewStep & { readonly code?: string })[] = [];
    for (const requirementId of wanted) {
      const requirement = await this.workshop.requirement(who, requirementId);
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
      ? hindranceOf(await this.designs.findingsOf(design, requirement, assets, version), requirement, version)
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
    return (await this.settings.get<Naming>(who.owner, 'naming')) ?? { pattern: USUAL_PATTERN };
  }

  async setNaming(who: Caller, naming: Naming): Promise<Naming> {
    await this.settings.put(who.owner, 'naming', naming);
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
    const design = await this.asLookedAt(who, designId, revision);
    const requirement = await this.workshop.requirement(who, requirementId);
    await this.workshop.demandAssetsOf(design);
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
    const made = await this.outputs.any(who.owner, id);
    if (!made) throw new ProblemError(404, 'no-such-output', 'There is nothing that was made with this id.');
    const { kind, designId, filename, mediaType, sha256, bytes, accepted, madeAt } = made;
    return { id, kind, designId, filename, mediaType, sha256, bytes, accepted, madeAt };
  }

  async askForPictures(who: Caller, designId: string, asked: PicturesRequest): Promise<Job> {
    const design = await this.asLookedAt(who, designId, asked.revision);
    const blank = await this.workshop.blanks.get(who, asked.blankId);
    for (const areaId of [asked.areaId, ...((asked.also ?? []) as AreaPrint[]).map((one) => one.areaId)])
      if (areaId && !blank.areas.some((area) => area.id === areaId))
        throw new ProblemError(422, 'no-such-area', `${blank.name} has no print area “${areaId}”.`);
    const { colourways, revision: _looked, filename: wished, ...rest } = asked;
    const own = wished?.trim().replace(/\.(?:jpe?g|png|webp)$/i, '');
    await this.workshop.demandAssetsOf(design);
    const steps = colourways.map((colourway: Colourway): NewStep => {
      const payload: PictureStep = {
        designId,
        revision: design.revision,
        request: { ...rest, colourway } as PictureRequest,
        filename: safeName(
          own
            ? `${own}${colourways.length > 1 ? `-${fileNameOf(colourway.name)}` : ''}`
            : fileNameOf(`${design.outline.name} ${blank.name} ${colourway.name} ${sizeWords(asked)}`),
          asked.format === 'jpeg' ? 'jpg' : (asked.format as string),
        ),
      };
      return { kind: PICTURE.kind, engine: PICTURE.engine, payload };
    });
    return this.queue(who, { kind: 'pictures', design }, steps);
  }

  /** Listing pictures of many designs in one run. @throws ProblemError 409 when there is nothing to be made */
  async runPictures(who: Caller, { of, designs: chosen, size = 2000, format = 'jpeg', fit }: PictureRun): Promise<Job> {
    const listed = new Map(
      (
        await this.sheet.some(
          who.owner,
          chosen.map((one) => one.designId),
        )
      ).map((one) => [one.id, one]),
    );
    const blanks = of === 'scenes' ? await this.workshop.blanks.of(who) : [];
    const steps: NewStep[] = [];
    const taken: string[] = [];
    for (const { designId, revision } of chosen) {
      const design = await this.designs.get(who, designId);
      const changed = changedMeanwhile(design, revision);
      const add = ({ name, blankName, request }: WantedPicture, kept?: string): void => {
        const words = `${design.outline.name} ${name || blankName} ${request.colourway.name} ${sizeWords(request)}`;
        const filename = uniqueNames([
          ...taken,
          kept ?? safeName(fileNameOf(words), request.format === 'jpeg' ? 'jpg' : request.format),
        ]).at(-1)!;
        taken.push(filename);
        const payload: PictureStep = { designId, revision: design.revision, request, filename };
        const step = { kind: PICTURE.kind, engine: PICTURE.engine, payload };
        steps.push(changed ? { ...step, failed: changed } : step);
      };
      if (of === 'set') {
        const sheetDesign = listed.get(designId);
        if (!sheetDesign) continue;
        const { wanted } = await this.pictureSets.missing(who, design, sheetDesign);
        for (const one of wanted) add(one);
      } else if (of === 'scenes') {
        for (const scene of design.outline.scenes ?? []) {
          const blank = blanks.find((one) => one.id === scene.blankId);
          if (blank)
            add({
              name: scene.name,
              blankName: blank.name,
              request: sceneRequest(scene, blank, { size, format, fit }),
            });
        }
      } else {
        const stored = await this.outputs.ofDesign(PICTURE.kind, designId);
        const judged = await this.judgedPictures(who, designId, stored);
        const again = new Map<string, { readonly request: PictureRequest; readonly filename: string }>();
        // One that was made again already is not made a third time.
        const current = new Set<string>();
        stored.forEach((picture, i) => {
          const request = requestOf(picture);
          if (judged[i].outOfDate) again.set(canonicalJson(request), { request, filename: picture.filename });
          else current.add(canonicalJson(request));
        });
        // What is made again keeps its name.
        for (const [key, { request, filename }] of again)
          if (!current.has(key)) add({ name: '', blankName: request.blankId, request }, filename);
      }
    }
    if (!steps.length)
      throw new ProblemError(
        409,
        'nothing-to-make',
        of === 'set'
          ? 'Every picture of these sets is made and current.'
          : of === 'scenes'
            ? 'These designs keep no scenes. Keep one, then press again.'
            : 'No picture of these designs is out of date.',
      );
    // What is seen alike is drawn one after the other: a blank is made ready once for all designs, and in one colour
    // only the print of the next design is new.
    const seenAs = ({ payload }: NewStep): string => {
      const { blankId, crop } = (payload as PictureStep).request;
      return `${blankId} ${canonicalJson(crop ?? {})}`;
    };
    const colouredAs = (step: NewStep): string =>
      `${seenAs(step)} ${(step.payload as PictureStep).request.colourway.hex}`;
    const firstOf = (by: (step: NewStep) => string): Map<string, number> =>
      new Map(steps.map((step, i) => [by(step), i] as const).reverse());
    const [seen, coloured] = [firstOf(seenAs), firstOf(colouredAs)];
    const ordered = steps.toSorted(
      (a, b) =>
        seen.get(seenAs(a))! - seen.get(seenAs(b))! || coloured.get(colouredAs(a))! - coloured.get(colouredAs(b))!,
    );
    return this.queue(who, { kind: 'pictures', designIds: [...new Set(chosen.map((one) => one.designId))] }, ordered);
  }

  /** Puts steps into the queue. @throws ProblemError 429 when too many wait there already */
  async queue(who: Caller, batch: NewBatch, steps: StepsOfRun): Promise<Job> {
    const waiting = await this.jobs.waiting();
    if (waiting + (typeof steps === 'function' ? 1 : steps.length) > MOST_WAITING) {
      throw new ProblemError(
        429,
        'queue-full',
        `${waiting} files are waiting to be made already. Wait until some are done, or cancel a run that is not needed.`,
      );
    }
    return this.jobs.addBatch(who.owner, batch, steps);
  }

  /** The design, if it is still the one that was looked at when something was asked for. */
  private async asLookedAt(who: Caller, designId: string, revision: number | undefined): Promise<StoredDesign> {
    const design = await this.designs.get(who, designId);
    const changed = changedMeanwhile(design, revision);
    if (changed) throw new ProblemError(409, 'changed-meanwhile', changed);
    return design;
  }

  async job(who: Caller, id: string): Promise<Job> {
    const job = await this.jobs.get(who.owner, id);
    if (!job) throw new ProblemError(404, 'no-such-job', 'There is no job with this id.');
    return job;
  }

  async cancel(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.jobs.cancel(id);
    return this.job(who, id);
  }

  async pause(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.jobs.pause(id);
    return this.job(who, id);
  }

  async resume(who: Caller, id: string): Promise<Job> {
    await this.job(who, id);
    await this.jobs.resume(id);
    return this.job(who, id);
  }

  /** Each file of a run. Payloads that another version wrote are left out. */
  async steps(who: Caller, id: string): Promise<JobStep[]> {
    await this.job(who, id);
    return (await this.jobs.steps(id)).flatMap(({ payload, ...step }) => {
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
    const file = await this.outputs.get(who.owner, PRINT_FILE.kind, id);
    if (!file) throw new ProblemError(404, 'no-such-print-file', 'There is no print file with this id.');
    return (await this.judged(who, file.designId!, [file]))[0];
  }

  async printFilesOf(who: Caller, designId: string): Promise<PrintFile[]> {
    await this.designs.get(who, designId);
    return this.judged(who, designId, await this.outputs.ofDesign(PRINT_FILE.kind, designId));
  }

  /** Print files of a design with the recipes they follow, newest first. */
  async madeOf(who: Caller, designId: string): Promise<PrintFile[]> {
    return this.judged(who, designId, await this.outputs.ofDesign(PRINT_FILE.kind, designId));
  }

  /**
   * Names what would be printed of a design on all of its targets, as it stands: SHA-256 of their recipes, hex. The same as long as
   * nothing that is printed has changed.
   */
  async printOf(who: Caller, designId: string): Promise<string> {
    const design = await this.designs.get(who, designId);
    const requirements = await this.workshop.requirementsOf(who);
    const targets = design.outline.targets.flatMap(({ requirementId }) => {
      const requirement = requirements.find(({ id }) => id === requirementId);
      return requirement ? judgedTargets(targetOf(design.outline, requirementId), requirement) : [];
    });
    const judged = await this.judge.judge(design, targets, await this.workshop.assetsOf(design));
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
    const design = await this.designs.get(who, designId);
    const assets = await this.workshop.assetsOf(design);
    const asked = new Set(files.map((file) => readTargetKey(file.about).requirementId));
    const targets = (await this.workshop.requirementsOf(who))
      .filter((one) => asked.has(one.id))
      .flatMap((requirement) => judgedTargets(targetOf(design.outline, requirement.id), requirement));
    const judgements = await this.judge.judge(design, targets, assets);
    return files.map((file) => {
      const { requirementId } = readTargetKey(file.about);
      const standsFor = targets
        .filter(({ requirement }, i) => requirement.id === requirementId && judgements[i].recipe === file.recipe)
        .map(({ version }) => version);
      return { ...printFileOf(file), standsFor, outOfDate: standsFor.length === 0 };
    });
  }

  async picture(who: Caller, id: string): Promise<StoredOutput> {
    const picture = await this.outputs.get(who.owner, PICTURE.kind, id);
    if (!picture) throw new ProblemError(404, 'no-such-picture', 'There is no picture with this id.');
    return picture;
  }

  async judgedPicture(who: Caller, id: string): Promise<Picture> {
    const picture = await this.picture(who, id);
    return (await this.judgedPictures(who, picture.designId!, [picture]))[0];
  }

  async picturesOf(who: Caller, designId: string): Promise<Picture[]> {
    return this.judgedPictures(who, designId, await this.outputs.ofDesign(PICTURE.kind, designId));
  }

  /** Pictures that would be made the same now, with what they follow and hold. */
  async currentPictures(who: Caller, designId: string): Promise<Picture[]> {
    return (await this.judgedPictures(who, designId, await this.outputs.ofDesign(PICTURE.kind, designId))).filter(
      (picture) => !picture.outOfDate,
    );
  }

  private async judgedPictures(who: Caller, designId: string, pictures: readonly StoredOutput[]): Promise<Picture[]> {
    const design = await this.designs.get(who, designId);
    const [requirements, assets] = await Promise.all([
      this.workshop.requirementsOf(who),
      this.workshop.assetsOf(design),
    ]);
    return Promise.all(
      pictures.map(async (picture) => {
        const request = requestOf(picture);
        const pack = await this.workshop.blanks.pack(who, picture.about);
        const now = await recipeOfPicture(this.workshop, who, { design, pack, request, requirements, assets });
        return { ...pictureOf(picture, request), outOfDate: now.hash !== picture.recipe };
      }),
    );
  }
}

/** Why nothing is made of a revision that was looked at, when it is not the newest any more. */
const changedMeanwhile = (design: StoredDesign, revision: number | undefined): string | null =>
  revision === undefined || revision === design.revision
    ? null
    : `“${design.outline.name}” was changed in the meantime: it is at revision ${design.revision} now, ` +
      `and nothing was made of revision ${revision}. Look at it and press again.`;

const sizeWords = ({ size, fit }: Pick<PictureRequest, 'size' | 'fit'>): string =>
  fit?.frame ? `${fit.frame.width}x${fit.frame.height}` : String(fit?.longest ?? size);

/** A kept scene as a picture that is asked for. */
function sceneRequest(
  { id: _id, name: _name, garment, ...scene }: KeptScene,
  blank: Blank,
  output: { readonly size: number; readonly format: PictureFormat; readonly fit?: PictureFit },
): PictureRequest {
  const colourway = colourwayOf(blank, garment) ?? { name: garment, hex: garment };
  const { fit, ...rest } = output;
  return { ...scene, colourway, ...rest, ...(fit ? { fit } : {}) } as PictureRequest;
}

const requestOf = (picture: StoredOutput): PictureRequest => (picture.record as { request: PictureRequest }).request;

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

const pictureOf = (
  picture: StoredOutput,
  request: PictureRequest,
): Omit<Picture, 'outOfDate'> & { recipe: string; sha256: string } => ({
  id: picture.id,
  designId: picture.designId!,
  blankId: picture.about,
  recipe: picture.recipe,
  sha256: picture.sha256,
  filename: picture.filename,
  bytes: picture.bytes,
  madeAt: picture.madeAt,
  colourway: request.colourway.name,
  garment: request.colourway.hex,
  size: request.size!,
  format: request.format as PictureFormat,
  ...(request.fit ? { fit: request.fit as PictureFit } : {}),
});
