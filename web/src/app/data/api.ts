import { HttpClient } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import type { AnswerOf, Asking, CallName } from '@kettle/contract';
import type { Observable } from 'rxjs';

/** A call as it goes over the wire. */
interface Request {
  readonly method: string;
  readonly address: string;
  readonly body: unknown;
  readonly headers: Record<string, string>;
}

/** The rest of a call, which may be left out where nothing of it is needed. */
type Rest<N extends CallName> = object extends Asking<N> ? [asking?: Asking<N>] : [asking: Asking<N>];

interface Parts {
  readonly query?: Readonly<Record<string, unknown>>;
  readonly body?: unknown;
  readonly ifMatch?: number;
}

/** Commas part the items of a list. */
const inQuery = (value: unknown): string => encodeURIComponent(String(value)).replaceAll('%2C', ',');

function requestOf(name: CallName, { query = {}, body = null, ifMatch, ...holes }: Parts): Request {
  const [method, path] = name.split(' ');
  const given = Object.entries(query).filter(([, value]) => value !== undefined && value !== null);
  const asked = given.map(([key, value]) => `${key}=${inQuery(value)}`).join('&');
  const isBytes = body instanceof Blob || body instanceof ArrayBuffer;
  return {
    method,
    address:
      path.replace(/\{(\w+)\}/g, (_, hole: string) =>
        encodeURIComponent((holes as Readonly<Record<string, string>>)[hole]),
      ) + (asked && `?${asked}`),
    body,
    headers: {
      ...(ifMatch === undefined ? {} : { 'If-Match': `"${ifMatch}"` }),
      ...(isBytes ? { 'Content-Type': 'application/octet-stream' } : {}),
      ...(body instanceof File ? { 'X-Filename': encodeURIComponent(body.name) } : {}),
    },
  };
}

/**
 * The server's calls, as the contract has them. Nothing else in the interface speaks HTTP.
 * @example api.ask('put /api/designs/{id}', { id, ifMatch: revision, body: document })
 */
@Injectable({ providedIn: 'root' })
export class Api {
  private readonly http = inject(HttpClient);

  ask<N extends CallName>(name: N, ...[asking]: Rest<N>): Observable<AnswerOf<N>> {
    return this.send(name, asking, false);
  }

  /** The same, where the call is to outlive the page. */
  askLast<N extends CallName>(name: N, ...[asking]: Rest<N>): Observable<AnswerOf<N>> {
    return this.send(name, asking, true);
  }

  /** The bytes of a file. */
  bytes<N extends CallName>(name: N, ...[asking]: Rest<N>): Observable<Blob> {
    const { method, address } = requestOf(name, (asking ?? {}) as Parts);
    return this.http.request(method, address, { responseType: 'blob' });
  }

  private send<N extends CallName>(
    name: N,
    asking: Asking<N> | undefined,
    keepalive: boolean,
  ): Observable<AnswerOf<N>> {
    const { method, address, body, headers } = requestOf(name, (asking ?? {}) as Parts);
    return this.http.request<AnswerOf<N>>(method, address, { body, headers, keepalive });
  }
}
