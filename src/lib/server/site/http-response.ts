import { randomUUID } from 'node:crypto';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { log } from '../base/log';

/** What a visitor asks for. */
export interface PageRequest {
  method: string;
  /** The path with its question, as it was sent. */
  address: string;
  /** Scheme and host that whole addresses begin with. */
  origin: string;
  /** A header of the request, by its name in small letters. */
  header(name: string): string | null | undefined;
}

/** An answer to a visitor, before it is put into the form of whoever sends it. */
export interface PageResponse {
  status: number;
  headers: Readonly<Record<string, string>>;
  /** None where the headers say everything. */
  body?: string | Buffer;
}

/** What every answer says beside its own; see hooks.server.ts, which says it of all others. */
export const commonHeaders = (requestId: string, path = ''): Record<string, string> => ({
  // No page of others shares a window, or a process, with ours (HTML standard, 7.1.3; Fetch standard, 3.6). Pictures may be shown elsewhere.
  'cross-origin-opener-policy': 'same-origin',
  'cross-origin-resource-policy': path.startsWith('/media/') ? 'cross-origin' : 'same-origin',
  'x-content-type-options': 'nosniff',
  'referrer-policy': 'same-origin',
  'x-request-id': requestId,
});

/** Sends an answer by itself, without the application's router. `from` is when it was asked for, by this process's clock. */
export function sendResponse(
  request: IncomingMessage,
  response: ServerResponse,
  { status, headers, body }: PageResponse,
  from: number,
): void {
  const requestId = randomUUID();
  const length = body === undefined ? undefined : typeof body === 'string' ? Buffer.byteLength(body) : body.length;
  response.writeHead(status, {
    ...headers,
    ...commonHeaders(requestId),
    ...(length !== undefined && { 'content-length': length }),
  });
  response.end(request.method === 'HEAD' ? undefined : body);
  if (log().isLevelEnabled('info'))
    log().info(
      {
        requestId,
        method: request.method,
        path: request.url?.split('?')[0],
        status,
        ms: Math.round(performance.now() - from),
      },
      'answered',
    );
}
