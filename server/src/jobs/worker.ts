import { mkdir, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { certify } from '@kettle/core';
import { isDatabaseAway } from '../database/database.js';
import type { Log } from '../log.js';
import { DiedError, StoppedError, type RenderPool } from '../render/render-pool.js';
import { machineSentence, ProblemError } from '../safety/problem-error.js';
import type { BlankService } from '../services/blanks.js';
import type { OutputService, PictureStep, PrintFileStep } from '../services/outputs.js';
import type { BlobStore } from '../stores/blobs.js';
import { newId } from '../stores/ids.js';
import { MOST_ATTEMPTS, type ClaimedJob, type JobStore } from '../stores/jobs.js';
import type { PictureStore } from '../stores/pictures.js';
import type { PrintFileStore } from '../stores/print-files.js';

/** How often a claim is renewed and a cancel noticed. */
const HEARTBEAT_MS = 1000;
/** How often an idle worker looks for work. */
const LOOK_MS = 200;

const GIVEN_UP = `This was tried ${MOST_ATTEMPTS} times, and each time the process that draws it ended before it was done. That is most often a lack of memory: look at the largest picture of the design, or make files one after the other. The design is safe.`;

/** Works out what a step is to be made of. */
export type Orders = Pick<OutputService, 'printFileOrder' | 'pictureOrder'>;

/** Takes steps from the queue one by one. Any number of workers, in any number of processes, may share one database. */
export class Worker {
  private readonly name = `${hostname()} ${process.pid} ${newId()}`;
  private stopping = false;
  private readonly halt = new AbortController();
  private running: Promise<void> = Promise.resolve();
  private wake: () => void = () => undefined;

  constructor(
    private readonly jobs: JobStore, private readonly blobs: BlobStore, private readonly printFiles: PrintFileStore, private readonly pictures: PictureStore,
    private readonly blanks: BlankService, private readonly outputs: Orders, private readonly pool: RenderPool, private readonly cache: string, private readonly log: Log,
  ) {}

  start(): void { this.running = this.loop(); }

  /** Looks for work at once instead of at the next turn. */
  nudge(): void { this.wake(); }

  /** Ends at once: the step in hand goes back to the queue, and its drawing is stopped. */
  async stop(): Promise<void> {
    this.stopping = true;
    this.halt.abort();
    this.wake();
    await this.running;
  }

  private async loop(): Promise<void> {
    while (!this.stopping) {
      let job: ClaimedJob | null = null;
      try {
        job = await this.jobs.claim(this.name);
        if (job) await this.work(job);
      } catch (error) {
        // A database that is away comes back; the lease hands the step to whoever asks first.
        if (!isDatabaseAway(error)) this.log.error({ err: error }, 'the worker met what it did not foresee');
      }
      if (!job) await new Promise<void>((resolve) => { const timer = setTimeout(resolve, LOOK_MS); this.wake = () => { clearTimeout(timer); resolve(); }; });
    }
  }

  private async work(job: ClaimedJob): Promise<void> {
    if (job.attempts > MOST_ATTEMPTS) {
      await this.jobs.fail(job.id, this.name, GIVEN_UP);
      return;
    }
    const stop = new AbortController();
    const halt = (): void => stop.abort();
    this.halt.signal.addEventListener('abort', halt);
    if (this.halt.signal.aborted) halt();
    const beat = setInterval(() => {
      this.jobs.heartbeat(job.id, this.name).then((mine) => { if (!mine) stop.abort(); }, () => undefined);
    }, HEARTBEAT_MS);
    try {
      await this.jobs.finish(job.id, this.name, await this.make(job, stop.signal));
    } catch (error) {
      await this.broke(job, error);
    } finally {
      clearInterval(beat);
      this.halt.signal.removeEventListener('abort', halt);
    }
  }

  /** What becomes of a step that did not come to its end. */
  private async broke(job: ClaimedJob, error: unknown): Promise<void> {
    if (error instanceof StoppedError) {
      // Cancelled steps are no longer this worker's: giving them back changes nothing.
      await this.jobs.giveBack(job.id, this.name, false);
      return;
    }
    if (isDatabaseAway(error)) throw error;
    if (error instanceof DiedError) {
      this.log.warn({ job: job.id, attempt: job.attempts }, 'the process that draws a step died');
      if (job.attempts >= MOST_ATTEMPTS) await this.jobs.fail(job.id, this.name, GIVEN_UP); else await this.jobs.giveBack(job.id, this.name, true);
      return;
    }
    const sentence = machineSentence(error) ?? (error instanceof ProblemError ? error.message : null);
    if (!sentence) this.log.error({ err: error, job: job.id }, 'a step met what it did not foresee');
    await this.jobs.fail(job.id, this.name, sentence ?? 'Something went wrong in making this file. The design is safe; try again.');
  }

  private make(job: ClaimedJob, signal: AbortSignal): Promise<string> {
    switch (job.kind) {
      case 'print-file': return this.makePrintFile(job.payload as PrintFileStep, signal);
      case 'picture': return this.makePicture(job.payload as PictureStep, signal);
      default: throw new ProblemError(422, 'unknown-job', `This worker does not know how to make “${job.kind}”. Start the newest version.`);
    }
  }

  private async makePrintFile(step: PrintFileStep, signal: AbortSignal): Promise<string> {
    const { designId, filename } = step;
    const { requirement, hash, recipe } = await this.outputs.printFileOrder(step);
    const known = await this.printFiles.byRecipe(designId, hash);
    if (known) {
      if (known.filename !== filename) await this.printFiles.rename(known.id, filename);
      return known.id;
    }
    return this.withOut(async (out) => {
      const { facts } = await this.pool.run('printFile', { recipe, files: await this.files(recipe.layers), out }, { signal });
      const certificate = certify(facts, requirement);
      const blob = await this.blobs.put(out);
      const file = await this.printFiles.add({
        designId, requirementId: requirement.id, recipe: hash, ...blob, filename, certificate, accepted: certificate.every((row) => row.ok),
      });
      return file.id;
    });
  }

  private async makePicture(step: PictureStep, signal: AbortSignal): Promise<string> {
    const { designId, filename, request } = step;
    const blank = this.blanks.get(request.blankId);
    const { hash, recipe } = await this.outputs.pictureOrder({ ...step, blank });
    const known = await this.pictures.byRecipe(designId, hash);
    if (known) {
      if (known.filename !== filename) await this.pictures.rename(known.id, filename);
      return known.id;
    }
    return this.withOut(async (out) => {
      await this.pool.run('picture', { recipe, blank, folder: this.blanks.folderOf(blank), files: await this.files(recipe.texture.layers), out }, { signal });
      return (await this.pictures.add(designId, request, { recipe: hash, filename, ...await this.blobs.put(out) })).id;
    });
  }

  private async files(layers: readonly { readonly sha256: string | null }[]): Promise<Record<string, string>> {
    const files: Record<string, string> = {};
    for (const { sha256 } of layers) if (sha256) files[sha256] ??= await this.blobs.localPath(sha256);
    return files;
  }

  private async withOut<T>(work: (out: string) => Promise<T>): Promise<T> {
    const folder = join(this.cache, 'outgoing');
    await mkdir(folder, { recursive: true });
    const out = join(folder, newId());
    try {
      return await work(out);
    } finally {
      await rm(out, { force: true });
      await rm(`${out}.part`, { force: true });
    }
  }
}
