import {
  namingSchema,
  packageRequestSchema,
  picturesRequestSchema,
  printFilesRequestSchema,
  proofSheetRequestSchema,
  runRequestSchema,
  type Naming,
  type PackageRequest,
  type PicturesRequest,
  type RunRequest,
} from '@kettle/contract';
import type { House } from '../house.js';
import { checkedBody } from './body.js';
import { idOf, ownId, sendFile, sendStream, type Handlers } from './handler.js';

/** What is made, and the runs that make it. */
export const outputRoutes = ({ outputs, failures, packages, blobs, disk }: House): Handlers => ({
  'post /api/designs/{id}/print-files': async (who, request) => {
    disk.demandRoom(true);
    const { requirementIds, revision } = checkedBody<{ requirementIds: string[]; revision?: number }>(
      printFilesRequestSchema,
      request,
    );
    const job = await outputs.askForPrintFiles(who, idOf(request), requirementIds, revision);
    return { jobId: job.id };
  },
  'get /api/designs/{id}/print-files': async (who, request) => outputs.printFilesOf(who, idOf(request)),
  'get /api/designs/{id}/failures': async (who, request) => failures.of(who, idOf(request)),
  'post /api/designs/{id}/failures/{failure}/again': async (who, request) => {
    disk.demandRoom(true);
    const job = await failures.again(who, idOf(request), ownId(request.params['failure']));
    return { jobId: job.id };
  },
  'delete /api/designs/{id}/failures/{failure}': async (who, request) =>
    failures.dismiss(who, idOf(request), ownId(request.params['failure'])),
  'post /api/designs/{id}/proof-sheets': async (who, request) => {
    disk.demandRoom(true);
    const asked = checkedBody<Parameters<typeof outputs.askForProofSheet>[2]>(proofSheetRequestSchema, request);
    const job = await outputs.askForProofSheet(who, idOf(request), asked);
    return { jobId: job.id };
  },
  'get /api/outputs/{id}': async (who, request) => outputs.output(who, idOf(request)),
  'get /api/outputs/{id}/content': async (who, request, response) => {
    const { sha256, filename, mediaType } = await outputs.output(who, idOf(request));
    return sendFile(response, await blobs.localPath(sha256), {
      type: mediaType,
      name: filename,
      tag: sha256,
      attachment: true,
    });
  },
  'post /api/designs/{id}/pictures': async (who, request) => {
    disk.demandRoom(true);
    const job = await outputs.askForPictures(
      who,
      idOf(request),
      checkedBody<PicturesRequest>(picturesRequestSchema, request),
    );
    return { jobId: job.id };
  },
  'get /api/designs/{id}/pictures': async (who, request) => outputs.picturesOf(who, idOf(request)),
  'get /api/jobs/{id}': async (who, request) => outputs.job(who, idOf(request)),
  'delete /api/jobs/{id}': async (who, request) => outputs.cancel(who, idOf(request)),
  'post /api/runs': async (who, request) => {
    disk.demandRoom(true);
    const job = await outputs.run(who, checkedBody<RunRequest>(runRequestSchema, request).targets);
    return { jobId: job.id };
  },
  'get /api/jobs/{id}/steps': async (who, request) => outputs.steps(who, idOf(request)),
  'post /api/jobs/{id}/pause': async (who, request) => outputs.pause(who, idOf(request)),
  'post /api/jobs/{id}/resume': async (who, request) => outputs.resume(who, idOf(request)),
  'get /api/naming': async (who) => outputs.naming(who),
  'put /api/naming': async (who, request) => outputs.setNaming(who, checkedBody<Naming>(namingSchema, request)),
  'get /api/packages': async (who) => packages.list(who),
  'post /api/packages': async (who, request) =>
    packages.pack(who, checkedBody<PackageRequest>(packageRequestSchema, request)),
  'get /api/packages/{id}': async (who, request) => packages.detail(who, idOf(request)),
  'delete /api/packages/{id}': async (who, request) => packages.remove(who, idOf(request)),
  'get /api/packages/{id}/content': async (who, request, response) => {
    const { filename, stream, length } = await packages.content(who, idOf(request));
    return sendStream(response, stream, { type: 'application/zip', name: filename, length });
  },
  'get /api/print-files/{id}': async (who, request) => outputs.printFile(who, idOf(request)),
  'get /api/print-files/{id}/content': async (who, request, response) => {
    const file = await outputs.printFile(who, idOf(request));
    return sendFile(response, await blobs.localPath(file.sha256), {
      type: file.mediaType,
      name: file.filename,
      tag: file.sha256,
      attachment: true,
    });
  },
  'get /api/pictures/{id}': async (who, request) => outputs.judgedPicture(who, idOf(request)),
  'get /api/pictures/{id}/content': async (who, request, response) => {
    const picture = await outputs.picture(who, idOf(request));
    return sendFile(response, await blobs.localPath(picture.sha256), {
      type: picture.mediaType,
      name: picture.filename,
      tag: picture.sha256,
      attachment: request.query['view'] === undefined,
    });
  },
});
