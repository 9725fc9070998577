import type { Problem } from '$lib/core/result';

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

/** Sends JSON to our own API and gives back what it answers. */
export function send<T>(
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  address: string,
  body?: unknown,
): Promise<T> {
  const json =
    body === undefined ? {} : { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) };
  return ask<T>(address, { method, ...json });
}

async function ask<T>(address: string, request: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(address, request);
  } catch {
    throw new RequestFailed('The server cannot be reached. What you typed is still here.', 0);
  }
  if (response.status === 204) return undefined as T;
  const answer = (await response.json().catch(() => undefined)) as
    (T & { title?: string; message?: string; problems?: Problem[] }) | undefined;
  if (response.ok) return answer as T;
  throw new RequestFailed(
    answer?.title ?? answer?.message ?? `The server answered ${response.status}.`,
    response.status,
    answer?.problems,
    (answer ?? {}) as Record<string, unknown>,
  );
}
