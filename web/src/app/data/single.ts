import { type HttpEvent, type HttpInterceptorFn } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import { finalize, share, type Observable } from 'rxjs';

/** Calls that make something and were not answered yet, by what they ask for. */
@Injectable({ providedIn: 'root' })
class UnderWay extends Map<string, Observable<HttpEvent<unknown>>> {}

/**
 * A button that is pressed again while what it asked for is on its way asks for nothing more: a call that makes
 * something is sent once, and both hear its one answer. Files are told apart by whoever sends them.
 */
export const single: HttpInterceptorFn = (request, next) => {
  if (request.method !== 'POST' || request.body instanceof Blob) return next(request);
  const underWay = inject(UnderWay);
  const key = `${request.urlWithParams} ${JSON.stringify(request.body)}`;
  const same = underWay.get(key);
  if (same) return same;
  const call = next(request).pipe(
    finalize(() => underWay.delete(key)),
    share(),
  );
  underWay.set(key, call);
  return call;
};
