import { importSchema, requirementSchema } from '@kettle/contract';
import type { RequirementFields } from '@kettle/core';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { checkedBody, matchedRevision } from './body.js';
import { idOf, SENT, type Handlers } from './handler.js';

/** What channels demand. */
export const requirementRoutes = ({ requirements, library, designs, profiles, disk }: House): Handlers => ({
  'get /api/requirements': async (who) => requirements.list(who.owner),
  'post /api/requirements': async (who, request) => {
    disk.demandRoom(false);
    const fields = checkedBody<RequirementFields>(requirementSchema, request);
    await profiles.demand(who, fields);
    return requirements.add(who.owner, fields);
  },
  'get /api/requirements/export': async (who, request, response) => {
    const as = request.query['as'] === 'json' ? 'json' : 'csv';
    const channel = request.query['channel'];
    const { name, text } = await library.export(who, as, typeof channel === 'string' ? channel : null);
    response.attachment(name);
    response.type(as === 'json' ? 'application/json' : 'text/csv; charset=utf-8').send(text);
    return SENT;
  },
  'post /api/requirements/import': async (who, request) => {
    disk.demandRoom(false);
    const { text, apply } = checkedBody<{ text: string; apply: boolean }>(importSchema, request);
    return library.import(who, text, apply);
  },
  'get /api/requirements/{id}': async (who, request) => designs.requirement(who, idOf(request)),
  'put /api/requirements/{id}': async (who, request) => {
    const fields = checkedBody<RequirementFields>(requirementSchema, request);
    await designs.requirement(who, idOf(request));
    await profiles.demand(who, fields);
    const changed = await requirements.change(who.owner, idOf(request), matchedRevision(request), fields);
    if (!changed)
      throw new ProblemError(
        412,
        'stale-revision',
        'This requirement was changed elsewhere in the meantime. Nothing was overwritten; look at the newer one first.',
      );
    return changed;
  },
  'delete /api/requirements/{id}': async (who, request) => {
    const requirement = await designs.requirement(who, idOf(request));
    const users = await designs.namesWith(who, requirement.id);
    if (users.length) {
      const has = users.length === 1 ? `“${users[0]}” still has` : `${users.length} designs still have`;
      throw new ProblemError(409, 'in-use', `${has} this requirement as a target. Take it off there first.`);
    }
    await requirements.remove(who.owner, requirement.id);
  },
});
