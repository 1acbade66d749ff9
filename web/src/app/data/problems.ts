import { HttpErrorResponse } from '@angular/common/http';
import type { Problem } from '@kettle/contract';
import { isAwayStatus } from './again';

/** What was changed last could not be saved, so that nothing can be made of it; its message is a sentence for sellers. */
export class NotSavedError extends Error {
  readonly code = 'not-saved';
}

/** What a failed call means, as the server said it or as far as the browser can tell. */
export function sentenceOf(error: unknown): string {
  if (error instanceof HttpErrorResponse) {
    if (error.status === 0)
      return 'The server cannot be reached just now. What you typed stays on this page; press again when it answers.';
    const problem = problemOf(error);
    if (problem) return problem.detail;
  }
  if (error instanceof NotSavedError) return error.message;
  return 'Something unexpected happened. Nothing that was saved is lost; try again.';
}

export function problemOf(error: unknown): Problem | null {
  const body = error instanceof HttpErrorResponse ? (error.error as unknown) : null;
  const parsed = typeof body === 'string' ? safeParse(body) : body;
  return parsed && typeof parsed === 'object' && 'detail' in parsed && 'code' in parsed ? (parsed as Problem) : null;
}

/** True when the server or its database is away, or sent only a part, so that trying again later makes sense. */
export const isAway = (error: unknown): boolean =>
  error instanceof HttpErrorResponse && (error.status === 200 || isAwayStatus(error.status));

function safeParse(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return null;
  }
}
