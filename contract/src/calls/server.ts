import { aliveSchema, descriptionSchema, keeperNoteSchema, sessionSchema } from '../answers/server.js';
import { sheetSchema } from '../answers/sheet.js';
import { asked, call, listOf } from './call.js';

/** The server itself, its events, and the job sheet. */
export const SERVER_CALLS = {
  'get /api/health': call({
    summary: 'Answers when the database does',
    answer: aliveSchema,
    problems: [503],
    who: 'anybody',
  }),
  'get /api/live': call({ summary: 'Answers while the process lives', answer: aliveSchema, who: 'anybody' }),
  'get /api/session': call({
    summary: 'Whether this server has a password, and what its keeper should know',
    about:
      'whether the server has a password, what its keeper should know (`notice`: room on the disk), and `heard`: how much clients said that was not read yet, and of which design last',
    answer: sessionSchema,
  }),
  'get /api/openapi.json': call({ summary: 'This description', answer: descriptionSchema }),
  'get /api/keeper': call({
    summary: 'What the keeper ended lately, because nothing named it any more',
    answer: listOf(keeperNoteSchema),
  }),
  'get /api/events': call({ summary: 'Progress of jobs as server-sent events', answer: 'events' }),
  'get /api/sheet': call({
    summary: 'Every design against every requirement with its state, a part of the rows, or the rows of some designs',
    about:
      'every design against every target with its state; `designs=id,id` their rows alone, `from` and `count` a part of all',
    query: { from: asked.whole(0), count: asked.whole(1_000_000), designs: asked.text() },
    answer: sheetSchema,
    problems: [503],
  }),
};
