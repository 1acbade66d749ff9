import type { Finding } from '@kettle/core/checks';
import type { DesignRoom } from '../designs/room.js';
import type { Caller } from '../floor/basics/caller.js';
import { handlers } from '../floor/http/handler.js';
import { ProblemError } from '../floor/basics/problem-error.js';
import type { PressRoom } from './room.js';

/** What an answer says of a print that is being measured: no other finding is no good news yet. */
const NOT_MEASURED: Finding = {
  code: 'not-measured',
  severity: 'tells',
  title: 'Not measured yet',
  sentence:
    'What this print can hold is being measured: lines, gaps, letters, specks, fades, ink and colours are not among these findings yet. Ask again in a moment.',
  layerId: null,
  where: null,
  fix: null,
};

/** What print shops have said of a design. */
interface Shops {
  readonly shopOrders: { findings(who: Caller, designId: string, requirementId: string): Promise<readonly Finding[]> };
}

/** What is measured on prints before they are made, and all that is found of a target. */
export const pressRoutes = ({ measures, designs, shopOrders }: PressRoom & Pick<DesignRoom, 'designs'> & Shops) =>
  handlers({
    'get /api/designs/{id}/measure': async (asked) => {
      const { requirement, version = null } = asked.query;
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to measure for: ?requirement=….');
      return measures.of(asked.who, asked.id, requirement, version);
    },
    'get /api/designs/{id}/findings': async (asked) => {
      const { requirement, version } = asked.query;
      if (requirement === null)
        throw new ProblemError(422, 'requirement-missing', 'Say which requirement to check against: ?requirement=….');
      const { who, id } = asked;
      const known = await measures.known(who, id, requirement, version ?? null);
      const measured = known === 'nothing' ? null : known;
      return [
        ...(await designs.findings(who, id, requirement, version, measured)),
        ...(known === null ? [NOT_MEASURED] : []),
        // What a print shop has said of it stands beside what is found here.
        ...(await shopOrders.findings(who, id, requirement)),
      ];
    },
  });
