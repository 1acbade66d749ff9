import { picturesRequestSchema, printFilesRequestSchema, type PicturesRequest } from '@kettle/contract';
import type { House } from '../house.js';
import { checkedBody } from './body.js';
import { idOf, sendFile, type Handlers } from './handler.js';

/** What is made, and the runs that make it. */
export const outputRoutes = ({ outputs, blobs, workers, disk }: House): Handlers => ({
  'post /api/designs/{id}/print-files': async (who, request) => {
    disk.demandRoom(true);
    const { requirementIds, revision } = checkedBody<{ requirementIds: string[]; revision?: number }>(
      printFilesRequestSchema,
      request,
    );
    const job = await outputs.askForPrintFiles(who, idOf(request), requirementIds, revision);
    workers.nudge();
    return { jobId: job.id };
  },
  'get /api/designs/{id}/print-files': async (who, request) => outputs.printFilesOf(who, idOf(request)),
  'post /api/designs/{id}/pictures': async (who, request) => {
    disk.demandRoom(true);
    const job = await outputs.askForPictures(
      who,
      idOf(request),
      checkedBody<PicturesRequest>(picturesRequestSchema, request),
    );
    workers.nudge();
    return { jobId: job.id };
  },
  'get /api/designs/{id}/pictures': async (who, request) => outputs.picturesOf(who, idOf(request)),
  'get /api/jobs/{id}': async (who, request) => outputs.job(who, idOf(request)),
  'delete /api/jobs/{id}': async (who, request) => outputs.cancel(who, idOf(request)),
  'get /api/print-files/{id}': async (who, request) => outputs.printFile(who, idOf(request)),
  'get /api/print-files/{id}/content': async (who, request, response) => {
    const file = await outputs.printFile(who, idOf(request));
    return sendFile(response, await blobs.localPath(file.sha256), {
      type: 'image/png',
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
