import type { House } from '../house.js';
import { handlers, queued, sendFile, sendStream } from './handler.js';

/** What is made, and the runs that make it. */
export const outputRoutes = ({ outputs, failures, packages, blobs }: House) =>
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
    'post /api/designs/{id}/pictures': async ({ who, id, body }) => queued(outputs.askForPictures(who, id, body)),
    'get /api/designs/{id}/pictures': async ({ who, id }) => outputs.picturesOf(who, id),
    'get /api/jobs/{id}': async ({ who, id }) => outputs.job(who, id),
    'delete /api/jobs/{id}': async ({ who, id }) => outputs.cancel(who, id),
    'post /api/runs': async ({ who, body }) => queued(outputs.run(who, body.targets)),
    'get /api/jobs/{id}/steps': async ({ who, id }) => outputs.steps(who, id),
    'post /api/jobs/{id}/pause': async ({ who, id }) => outputs.pause(who, id),
    'post /api/jobs/{id}/resume': async ({ who, id }) => outputs.resume(who, id),
    'get /api/naming': async ({ who }) => outputs.naming(who),
    'put /api/naming': async ({ who, body }) => outputs.setNaming(who, body),
    'get /api/packages': async ({ who }) => packages.list(who),
    'post /api/packages': async ({ who, body }) => packages.pack(who, body),
    'get /api/packages/{id}': async ({ who, id }) => packages.detail(who, id),
    'delete /api/packages/{id}': async ({ who, id }) => packages.remove(who, id),
    'get /api/packages/{id}/content': async ({ who, id, response }) => {
      const { filename, stream, length } = await packages.content(who, id);
      return sendStream(response, stream, { type: 'application/zip', name: filename, length });
    },
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
    'get /api/pictures/{id}': async ({ who, id }) => outputs.judgedPicture(who, id),
    'get /api/pictures/{id}/content': async ({ who, id, query, response }) => {
      const picture = await outputs.picture(who, id);
      return sendFile(response, await blobs.localPath(picture.sha256), {
        type: picture.mediaType,
        name: picture.filename,
        tag: picture.sha256,
        attachment: !query.view,
      });
    },
  });
