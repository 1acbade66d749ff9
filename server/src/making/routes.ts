import { handlers, queued, sendFile } from '../floor/http/handler.js';
import type { Floor } from '../floor/floor.js';
import type { MakingRoom } from './room.js';

/** What is made, and the runs that make it. */
export const makingRoutes = ({ outputs, failures, blobs }: Pick<Floor, 'blobs'> & MakingRoom) =>
  handlers({
    'post /api/designs/{id}/print-files': async ({ who, body, id }) =>
      queued(outputs.askForPrintFiles(who, id, body.requirementIds, body.revision)),
    'get /api/designs/{id}/print-files': async ({ who, id }) => outputs.printFilesOf(who, id),
    'get /api/designs/{id}/failures': async ({ who, id }) => failures.of(who, id),
    'post /api/designs/{id}/failures/{failure}/again': async ({ who, id, failure }) =>
      queued(failures.again(who, id, failure)),
    'delete /api/designs/{id}/failures/{failure}': async ({ who, id, failure }) => failures.dismiss(who, id, failure),
    'post /api/designs/{id}/proof-sheets': async ({ who, body, id }) => queued(outputs.askForProofSheet(who, id, body)),
    'get /api/outputs/{id}': async ({ who, id }) => outputs.output(who, id),
    'get /api/outputs/{id}/content': async ({ who, id, response }) => {
      const { sha256, filename, mediaType } = await outputs.output(who, id);
      return sendFile(response, await blobs.localPath(sha256), {
        type: mediaType,
        name: filename,
        tag: sha256,
        attachment: true,
      });
    },
    'get /api/jobs/{id}': async ({ who, id }) => outputs.job(who, id),
    'delete /api/jobs/{id}': async ({ who, id }) => outputs.cancel(who, id),
    'post /api/runs': async ({ who, body }) => queued(outputs.run(who, body.targets)),
    'get /api/jobs/{id}/steps': async ({ who, id }) => outputs.steps(who, id),
    'post /api/jobs/{id}/pause': async ({ who, id }) => outputs.pause(who, id),
    'post /api/jobs/{id}/resume': async ({ who, id }) => outputs.resume(who, id),
    'get /api/naming': async ({ who }) => outputs.naming(who),
    'put /api/naming': async ({ who, body }) => outputs.setNaming(who, body),
    'get /api/print-files/{id}': async ({ who, id }) => outputs.printFile(who, id),
    'get /api/print-files/{id}/content': async ({ who, id, response }) => {
      const file = await outputs.printFile(who, id);
      return sendFile(response, await blobs.localPath(file.sha256), {
        type: file.mediaType,
        name: file.filename,
        tag: file.sha256,
        attachment: true,
      });
    },
  });
