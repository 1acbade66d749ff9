import { USUAL_CONVERSION } from '@kettle/core/model';
import type { Caller } from '../floor/basics/caller.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import { handlers, SENT, sendFile } from '../floor/http/handler.js';
import type { RequirementRoom } from './room.js';

/** Who knows which designs have a requirement as a target. */
interface Users {
  readonly designs: { namesWith(who: Caller, requirementId: string): Promise<string[]> };
}

/** What channels demand, and the colour profiles they name. */
export const requirementRoutes = ({ requirements, library, designs, profiles }: RequirementRoom & Users) =>
  handlers({
    'get /api/requirements': async ({ who }) => requirements.list(who.owner),
    'post /api/requirements': async ({ who, body }) => {
      await profiles.demand(who, body);
      return requirements.add(who.owner, body);
    },
    'post /api/requirements/several': async ({ who, body }) => {
      for (const fields of body.requirements) await profiles.demand(who, fields);
      await requirements.takeIn(
        who.owner,
        body.requirements.map((fields) => ({ fields, id: null })),
      );
    },
    'get /api/requirements/export': async ({ who, query, response }) => {
      const as = query.as === 'json' ? 'json' : 'csv';
      const { name, text } = await library.export(who, as, query.channel ?? null);
      response.attachment(name);
      response.type(as === 'json' ? 'application/json' : 'text/csv; charset=utf-8').send(text);
      return SENT;
    },
    'post /api/requirements/import': async ({ who, body }) => library.import(who, body.text, body.apply),
    'get /api/requirements/{id}': async ({ who, id }) => requirements.demand(who.owner, id),
    'put /api/requirements/{id}': async (asked) => {
      const { who, body, id } = asked;
      await requirements.demand(who.owner, id);
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
      const requirement = await requirements.demand(who.owner, id);
      const users = await designs.namesWith(who, requirement.id);
      if (users.length) {
        const has = users.length === 1 ? `“${users[0]}” still has` : `${users.length} designs still have`;
        throw new ProblemError(409, 'in-use', `${has} this requirement as a target. Take it off there first.`);
      }
      await requirements.remove(who.owner, requirement.id);
    },
    'get /api/profiles': async ({ who }) => profiles.list(who),
    'post /api/profiles': async ({ who, request, filename }) => profiles.takeIn(who, request, filename),
    'delete /api/profiles/{id}': async ({ who, id }) => profiles.remove(who, id),
    'get /api/proof': async ({ who, query, response }) => {
      const { profile, intent = USUAL_CONVERSION.intent, blackPoint, paper } = query;
      const conversion = { profile, intent, blackPoint: blackPoint !== 'false' };
      const { path, tag } = await profiles.proof(who, conversion, paper === 'true');
      return sendFile(response, path, { type: 'application/octet-stream', encoding: 'gzip', tag });
    },
  });
