import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { handlers, SENT } from './handler.js';

/** What channels demand. */
export const requirementRoutes = ({ requirements, library, designs, profiles }: House) =>
  handlers({
    'get /api/requirements': async ({ who }) => requirements.list(who.owner),
    'post /api/requirements': async ({ who, body }) => {
      await profiles.demand(who, body);
      return requirements.add(who.owner, body);
    },
    'get /api/requirements/export': async ({ who, query, response }) => {
      const as = query.as === 'json' ? 'json' : 'csv';
      const { name, text } = await library.export(who, as, query.channel ?? null);
      response.attachment(name);
      response.type(as === 'json' ? 'application/json' : 'text/csv; charset=utf-8').send(text);
      return SENT;
    },
    'post /api/requirements/import': async ({ who, body }) => library.import(who, body.text, body.apply),
    'get /api/requirements/{id}': async ({ who, id }) => designs.requirement(who, id),
    'put /api/requirements/{id}': async (asked) => {
      const { who, body, id } = asked;
      await designs.requirement(who, id);
      await profiles.demand(who, body);
      const changed = await requirements.change(who.owner, id, asked.ifMatch, body);
      if (!changed)
        throw new ProblemError(
          412,
          'stale-revision',
          'This requirement was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
        );
      return changed;
    },
    'delete /api/requirements/{id}': async ({ who, id }) => {
      const requirement = await designs.requirement(who, id);
      const users = await designs.namesWith(who, requirement.id);
      if (users.length) {
        const has = users.length === 1 ? `“${users[0]}” still has` : `${users.length} designs still have`;
        throw new ProblemError(409, 'in-use', `${has} this requirement as a target. Take it off there first.`);
      }
      await requirements.remove(who.owner, requirement.id);
    },
  });
