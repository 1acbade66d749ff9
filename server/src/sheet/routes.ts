import { handlers, ownId } from '../floor/http/handler.js';
import type { SheetRoom } from './room.js';

/** Most rows that are asked for by name at once. */
const MOST_NAMED = 500;

/** The job sheet. */
export const sheetRoutes = ({ sheet }: SheetRoom) =>
  handlers({
    'get /api/sheet': async ({ who, query }) => {
      const { from, count, designs } = query;
      if (designs === undefined) return sheet.sheet(who, from, count);
      return { rows: await sheet.rows(who, designs.split(',').slice(0, MOST_NAMED).map(ownId)) };
    },
  });
