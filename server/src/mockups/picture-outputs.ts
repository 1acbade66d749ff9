import type { Job, Picture, PictureRequest, PictureRun, PictureStep, PicturesRequest } from '@kettle/contract';
import {
  canonicalJson,
  colourwayOf,
  type AreaPrint,
  type Blank,
  type Colourway,
  type KeptScene,
  type PictureFit,
  type PictureFormat,
} from '@kettle/core/model';
import { fileNameOf, safeName, uniqueNames } from '@kettle/core/naming';
import { changedMeanwhile, type DesignService } from '../designs/designs.js';
import type { SheetStore } from '../designs/sheet-store.js';
import { isOutOfDate } from '../documents/out-of-date.js';
import type { Caller } from '../floor/basics/caller.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { NewStep } from '../floor/queue/job-store.js';
import type { OutputStore, StoredOutput } from '../making/output-store.js';
import type { OutputService } from '../making/outputs.js';
import type { PictureSetService, WantedPicture } from './picture-sets.js';
import { PICTURE, type PictureRecipes } from './picture.js';

/** What it works with. */
export interface PictureOutputDeps {
  readonly designs: DesignService;
  readonly pictureRecipes: PictureRecipes;
  readonly outputs: OutputService;
  readonly outputStore: OutputStore;
  readonly sheetStore: SheetStore;
  readonly pictureSets: PictureSetService;
}

/** Listing pictures: asked for, listed, and compared with the design as it stands now. */
export class PictureOutputService {
  constructor(private readonly deps: PictureOutputDeps) {}

  async askForPictures(who: Caller, designId: string, asked: PicturesRequest): Promise<Job> {
    const design = await this.deps.designs.asLookedAt(who, designId, asked.revision);
    const blank = await this.deps.pictureRecipes.blanks.get(who, asked.blankId);
    for (const areaId of [asked.areaId, ...((asked.also ?? []) as AreaPrint[]).map((one) => one.areaId)])
      if (areaId && !blank.areas.some((area) => area.id === areaId))
        throw new ProblemError(422, 'no-such-area', `${blank.name} has no print area “${areaId}”.`);
    const { colourways, revision: _looked, filename: wished, ...rest } = asked;
    const own = wished?.trim().replace(/\.(?:jpe?g|png|webp)$/i, '');
    await this.deps.pictureRecipes.reader.demandAssetsOf(design);
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
    return this.deps.outputs.queue(who, { kind: 'pictures', design }, steps);
  }

  /** Listing pictures of many designs in one run. @throws ProblemError 409 when there is nothing to be made */
  async runPictures(who: Caller, { of, designs: chosen, size = 2000, format = 'jpeg', fit }: PictureRun): Promise<Job> {
    const listed = new Map(
      (
        await this.deps.sheetStore.some(
          who.owner,
          chosen.map((one) => one.designId),
        )
      ).map((one) => [one.id, one]),
    );
    const blanks = of === 'scenes' ? await this.deps.pictureRecipes.blanks.of(who) : [];
    const steps: NewStep[] = [];
    const taken: string[] = [];
    for (const { designId, revision } of chosen) {
      const design = await this.deps.designs.get(who, designId);
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
        const { wanted } = await this.deps.pictureSets.missing(who, design, sheetDesign);
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
        const stored = await this.deps.outputStore.ofDesign(PICTURE.kind, designId);
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
    return this.deps.outputs.queue(
      who,
      { kind: 'pictures', designIds: [...new Set(chosen.map((one) => one.designId))] },
      ordered,
    );
  }

  async picture(who: Caller, id: string): Promise<StoredOutput> {
    const picture = await this.deps.outputStore.get(who.owner, PICTURE.kind, id);
    if (!picture) throw new ProblemError(404, 'no-such-picture', 'There is no picture with this id.');
    return picture;
  }

  async judgedPicture(who: Caller, id: string): Promise<Picture> {
    const picture = await this.picture(who, id);
    return (await this.judgedPictures(who, picture.designId!, [picture]))[0];
  }

  async picturesOf(who: Caller, designId: string): Promise<Picture[]> {
    return this.judgedPictures(who, designId, await this.deps.outputStore.ofDesign(PICTURE.kind, designId));
  }

  /** Pictures that would be made the same now, with what they follow and hold. */
  async currentPictures(who: Caller, designId: string): Promise<Picture[]> {
    return (
      await this.judgedPictures(who, designId, await this.deps.outputStore.ofDesign(PICTURE.kind, designId))
    ).filter((picture) => !picture.outOfDate);
  }

  private async judgedPictures(who: Caller, designId: string, pictures: readonly StoredOutput[]): Promise<Picture[]> {
    const design = await this.deps.designs.get(who, designId);
    const [requirements, assets] = await Promise.all([
      this.deps.pictureRecipes.reader.requirementsOf(who),
      this.deps.pictureRecipes.reader.assetsOf(design),
    ]);
    return Promise.all(
      pictures.map(async (picture) => {
        const request = requestOf(picture);
        const pack = await this.deps.pictureRecipes.blanks.pack(who, picture.about);
        const now = await this.deps.pictureRecipes.of(who, { design, pack, request, requirements, assets });
        return { ...pictureOf(picture, request), outOfDate: isOutOfDate(picture, now.hash) };
      }),
    );
  }
}

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
