import {
  failureSchema,
  jobSchema,
  jobStepSchema,
  namingTold,
  outputSchema,
  packageDetailSchema,
  packageSchema,
  printFileSchema,
  queuedSchema,
} from '../answers/making.js';
import {
  namingSchema,
  packageRequestSchema,
  printFilesRequestSchema,
  proofSheetRequestSchema,
  runRequestSchema,
} from '../requests.js';
import { call, listOf } from './call.js';

/** What is made, the runs that make it, and packages. */
export const MAKING_CALLS = {
  'post /api/designs/{id}/print-files': call({
    keeps: 'files',
    summary: 'Makes print files',
    about: 'a file for each version of a target; 409 when a file cannot be made',
    body: printFilesRequestSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422],
  }),
  'get /api/designs/{id}/failures': call({
    summary: 'What was asked for of a design and could not be made, newest first',
    answer: listOf(failureSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/failures/{failure}/again': call({
    keeps: 'files',
    summary: 'Asks for it again, of the design as it is now',
    status: 202,
    answer: queuedSchema,
    problems: [404, 429, 507],
  }),
  'delete /api/designs/{id}/failures/{failure}': call({
    summary: 'Takes the word that it could not be made away',
    problems: [404],
  }),
  'get /api/designs/{id}/print-files': call({
    summary: 'Print files of a design, newest first',
    answer: listOf(printFileSchema),
    problems: [404],
  }),
  'post /api/designs/{id}/proof-sheets': call({
    keeps: 'files',
    summary: 'Makes a proof sheet of a target as PDF: at scale, with its measures',
    body: proofSheetRequestSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 409, 422],
  }),
  'get /api/outputs/{id}': call({
    summary: 'What was made, of any kind',
    about: 'whatever was made, of any kind, by the id in its run’s `results`',
    answer: outputSchema,
    problems: [404],
  }),
  'get /api/outputs/{id}/content': call({
    summary: 'The bytes of what was made, of any kind',
    answer: 'binary',
    problems: [404],
  }),
  'post /api/runs': call({
    keeps: 'files',
    summary: 'Makes print files of many designs in one run; what cannot be made is told, the rest goes on',
    about:
      'print files of many designs; no requirements named stands for all. What cannot be made fails at once with its reason, the rest goes on',
    body: runRequestSchema,
    status: 202,
    answer: queuedSchema,
    problems: [404, 422, 429],
  }),
  'get /api/jobs/{id}/steps': call({
    summary: 'Each file of a run: how far it is, and why it failed',
    answer: listOf(jobStepSchema),
    problems: [404],
  }),
  'post /api/jobs/{id}/pause': call({
    summary: 'Holds a run: what is in hand is finished, nothing else is begun',
    answer: jobSchema,
    problems: [404],
  }),
  'post /api/jobs/{id}/resume': call({
    summary: 'Goes on with a run that was held',
    answer: jobSchema,
    problems: [404],
  }),
  'get /api/naming': call({ summary: 'The pattern that files are named by', answer: namingTold }),
  'put /api/naming': call({
    summary: 'Sets the pattern that files are named by',
    body: namingSchema,
    answer: namingTold,
    problems: [422],
  }),
  'get /api/packages': call({ summary: 'What was packed, newest first', answer: listOf(packageSchema) }),
  'post /api/packages': call({
    summary: 'Packs what is made of some targets, and tells what is missing',
    body: packageRequestSchema,
    status: 201,
    answer: packageDetailSchema,
    problems: [404, 409, 422],
  }),
  'get /api/packages/{id}': call({ summary: 'What is in a package', answer: packageDetailSchema, problems: [404] }),
  'delete /api/packages/{id}': call({ summary: 'Forgets a package; its files stay', problems: [404] }),
  'get /api/packages/{id}/content': call({
    summary: 'The package as a ZIP, written while it is read',
    about: 'the ZIP, written while it is read',
    answer: 'binary',
    problems: [404],
  }),
  'get /api/jobs/{id}': call({ summary: 'State of a job', answer: jobSchema, problems: [404] }),
  'delete /api/jobs/{id}': call({
    summary: 'Cancels a job; finished steps are kept',
    answer: jobSchema,
    problems: [404],
  }),
  'get /api/print-files/{id}': call({
    summary: 'A print file’s certificate',
    about: 'its certificate, the `version` it was made for and those it `standsFor` today',
    answer: printFileSchema,
    problems: [404],
  }),
  'get /api/print-files/{id}/content': call({ summary: 'A print file’s bytes', answer: 'binary', problems: [404] }),
};
