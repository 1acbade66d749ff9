import { StartError } from '../floor/basics/start-error.js';

/** What whoever starts the program can do about a failure, or null when nobody foresaw it. */
export function sentenceOf(error: unknown): string | null {
  if (error instanceof StartError) return error.message;
  switch ((error as NodeJS.ErrnoException).code) {
    case 'EADDRINUSE':
      return `Port ${process.env['KETTLE_PORT']} is in use by another program. Choose another with KETTLE_PORT, or leave it out to have any free one.`;
    case 'EACCES':
      return `This is not allowed here: ${(error as Error).message}`;
    case 'EADDRNOTAVAIL':
      return `This machine has no address ${process.env['KETTLE_HOST']}. Set KETTLE_HOST to one of its own.`;
    case 'ENOSPC':
      return 'The disk is full. Free some room and start again; nothing that was saved is lost.';
    case 'ECONNREFUSED':
      return 'The database at KETTLE_DB_URL does not answer. Start it first.';
    case 'ER_ACCESS_DENIED_ERROR':
      return 'The database at KETTLE_DB_URL refuses this user or password.';
  }
  return null;
}
