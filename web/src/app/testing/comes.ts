import type { HttpRequest } from '@angular/common/http';
import type { HttpTestingController, TestRequest } from '@angular/common/http/testing';

/** A call that is made a while later: after typing rests, or once the browser has answered. */
export async function comes(
  http: HttpTestingController,
  isMeant: (request: HttpRequest<unknown>) => boolean,
): Promise<TestRequest> {
  for (let tries = 0; tries < 6000; tries++) {
    const [found] = http.match(isMeant);
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 10));
  }
  throw new Error(`What was waited for was never asked: ${isMeant}`);
}
