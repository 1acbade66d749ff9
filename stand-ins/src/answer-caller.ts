import { createHmac, randomBytes } from 'node:crypto';

/** Whom answers go to, and what they are signed with. */
export interface AnswersTo {
  readonly secret: string;
  readonly address: () => string;
}

/** Tries while nobody hears, and the wait after the first, ms. */
const MOST_TRIES = 8;
const FIRST_WAIT = 250;

/**
 * Tells a shop something of one's own accord, signed, again while it does not hear.
 * @returns the status it answered, 0 when it never did
 */
export async function callWithAnswer(
  { secret, address }: AnswersTo,
  what: object,
  time = new Date().toISOString(),
  nonce = randomBytes(12).toString('base64url'),
): Promise<number> {
  const body = JSON.stringify(what);
  const signature = createHmac('sha256', secret).update(`${time}.${nonce}.${body}`).digest('hex');
  for (let tries = 1; ; tries++) {
    const response = await fetch(address(), {
      method: 'POST',
      headers: {
        'Content-Type': 'application/json',
        'X-Answer-Time': time,
        'X-Answer-Number': nonce,
        'X-Answer-Signature': signature,
      },
      body,
    }).catch(() => null);
    if (response && response.status < 500) return response.status;
    if (tries === MOST_TRIES) return response?.status ?? 0;
    await new Promise((resolve) => setTimeout(resolve, FIRST_WAIT * tries));
  }
}
