import { requirementSchema } from '@kettle/contract';
import type { RequirementFields } from '@kettle/core';
import type { House } from '../house.js';
import { ProblemError } from '../safety/problem-error.js';
import { checkedBody, matchedRevision } from './body.js';
import { idOf, type Handlers } from './handler.js';

/** What channels demand. */
export const requirementRoutes = ({ requirements, designs, disk }: House): Handlers => ({
  'get /api/requirements': async (who) => requirements.list(who.owner),
  'post /api/requirements': async (who, request) => {
    disk.demandRoom(false);
    return requirements.add(who.owner, checkedBody<RequirementFields>(requirementSchema, request));
  },
  'get /api/requirements/{id}': async (who, request) => designs.requirement(who, idOf(request)),
  'put /api/requirements/{id}': async (who, request) => {
    const fields = checkedBody<RequirementFields>(requirementSchema, request);
    await designs.requirement(who, idOf(request));
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
