import { importPlanSchema, requirementAnswerSchema } from '../answers/requirements.js';
import { importSchema, someRequirementsSchema } from '../requests.js';
import { requirementSchema } from '../requirement-schema.js';
import { asked, call, listOf } from './call.js';

/** What channels demand of print files. */
export const REQUIREMENTS_CALLS = {
  'get /api/requirements': call({ summary: 'All requirements', answer: listOf(requirementAnswerSchema) }),
  'post /api/requirements': call({
    keeps: 'rows',
    summary: 'Makes a requirement',
    body: requirementSchema,
    status: 201,
    answer: requirementAnswerSchema,
    problems: [422],
  }),
  'post /api/requirements/several': call({
    keeps: 'rows',
    summary: 'Makes several requirements, all of them or none',
    body: someRequirementsSchema,
    problems: [422],
  }),
  'get /api/requirements/export': call({
    summary: 'The library, or one channel’s set, as CSV or JSON',
    query: { as: asked.text(), channel: asked.text() },
    answer: 'binary',
  }),
  'post /api/requirements/import': call({
    keeps: 'rows',
    summary: 'What a CSV or JSON of requirements would change; with `apply` it is taken in, wholly or not at all',
    about: 'what a file would change, and with `apply` does, wholly or not at all (422)',
    body: importSchema,
    answer: importPlanSchema,
    problems: [422],
  }),
  'get /api/requirements/{id}': call({ summary: 'One requirement', answer: requirementAnswerSchema, problems: [404] }),
  'put /api/requirements/{id}': call({
    summary: 'Changes a requirement; files made under it become out of date',
    ifMatch: true,
    body: requirementSchema,
    answer: requirementAnswerSchema,
    problems: [404, 412, 422],
  }),
  'delete /api/requirements/{id}': call({ summary: 'Deletes a requirement that no design uses', problems: [404, 409] }),
};
