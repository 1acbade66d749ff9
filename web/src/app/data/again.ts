/** Waits before what could not be had is asked for again, ms; the last one from then on. Has no interface code: workers use it. */
export const AGAIN_MS: readonly number[] = [1000, 2000, 4000, 8000, 15_000, 30_000];

export const waitBefore = (failures: number): number => AGAIN_MS[Math.min(failures, AGAIN_MS.length - 1)];

/** True for the status of a server that is away or being started again; 0 where none was heard of. */
export const isAwayStatus = (status: number): boolean => [0, 502, 503, 504].includes(status);

/** Fetches until the server answers: whoever waits needs to say that it does. */
export async function fetchPatiently(url: string): Promise<Response> {
  for (let failures = 0; ; failures++) {
    const response = await fetch(url).catch(() => null);
    if (response && !isAwayStatus(response.status)) return response;
    await new Promise((resolve) => setTimeout(resolve, waitBefore(failures)));
  }
}
