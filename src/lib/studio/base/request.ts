import type { Problem } from '$lib/core/base/result';
import { tellOthers } from './others';

/** A request that the server would not or could not carry out, in words for the person who made it. */
export class RequestFailed extends Error {
  constructor(
    message: string,
    /** HTTP status; 0 where the server was not reached. */
    readonly status: number,
    readonly problems: Problem[] = [],
    /** Whatever else the server said, such as the record that stands instead. */
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

/** The state that each address was read in, for those who change it afterwards. */
const states = new Map<string, string>();

/** Sends JSON to our own API and gives back what it answers. */
export function send<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  address: string,
  body?: unknown,
): Promise<T> {
  const headers = {
    ...(body === undefined ? {} : { 'content-type': 'application/json' }),
    // The state that was read here, where it was; what has a version says it in what is sent.
    ...(method === 'GET' || method === 'POST' ? {} : { 'if-match': states.get(address) ?? '*' }),
  };
  return ask<T>(address, { method, headers, ...(body === undefined ? {} : { body: JSON.stringify(body) }) });
}

async function ask<T>(address: string, request: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(address, request);
  } catch {
    throw new RequestFailed('The server cannot be reached. What you typed is still here.', 0);
  }
  const etag = response.headers.get('etag');
  if (response.ok && request.method !== 'GET') tellOthers(address);
  if (response.ok && etag && request.method !== 'DELETE') states.set(address, etag);
  else states.delete(address);
  if (response.status === 204) return undefined as T;
  const answer = (await response.json().catch(() => undefined)) as
    (T & { title?: string; message?: string; problems?: Problem[] }) | undefined;
  if (response.ok) return answer as T;
  throw refusedWith(response.status, answer);
}

type Answer = { title?: string; message?: string; problems?: Problem[] } | undefined;

const refusedWith = (status: number, answer: Answer): RequestFailed =>
  new RequestFailed(
    answer?.title ?? answer?.message ?? `The server answered ${status}.`,
    status,
    answer?.problems,
    (answer ?? {}) as Record<string, unknown>,
  );

/** Sends a file; `seen` is told how far it has gone, from 0 to 1. `abort` breaks it off. */
export function sendFile<T>(
  method: 'PUT' | 'POST',
  address: string,
  file: File,
  seen: (part: number) => void,
): { answer: Promise<T>; abort: () => void } {
  // `fetch` tells nothing of how far a request has gone.
  const request = new XMLHttpRequest();
  const answer = new Promise<T>((done, failed) => {
    request.open(method, address);
    request.setRequestHeader('content-type', 'application/octet-stream');
    request.upload.onprogress = (event) => seen(event.total ? event.loaded / event.total : 0);
    request.onerror = () => failed(new RequestFailed('The server cannot be reached. Try again.', 0));
    request.onabort = () => failed(new RequestFailed('Cancelled.', 0));
    request.onload = () => {
      let body: (T & Answer) | undefined;
      try {
        body = JSON.parse(request.responseText) as typeof body;
      } catch {
        // The status says enough.
      }
      if (request.status < 300 && body) done(body);
      else failed(refusedWith(request.status, body));
    };
    request.send(file);
  });
  return { answer, abort: () => request.abort() };
}

/** Problems in words, each with its place. */
const inWords = (title: string | undefined, problems: readonly Problem[] = []): string =>
  [title, ...problems.map((p) => [p.at && `${p.at}:`, p.what, p.fix].filter(Boolean).join(' '))]
    .filter(Boolean)
    .join(' ');

/** What went wrong, in words for a place where no single field can show it. */
export const failureWords = (failure: unknown): string =>
  failure instanceof RequestFailed
    ? inWords(failure.message, failure.problems)
    : failure instanceof Error
      ? failure.message
      : inWords((failure as { title?: string }).title, (failure as { problems?: Problem[] }).problems);
