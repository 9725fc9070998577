import { isFull, isUnreachable } from '../database/connect';
import { Refusal } from '../base/refusal';

/** Problem details (RFC 9457), with the problems that the asker can act on. */
export const problemAnswer = (
  status: number,
  title: string,
  more: Record<string, unknown> = {},
  headers: Record<string, string> = {},
): Response =>
  new Response(JSON.stringify({ type: 'about:blank', title, status, ...more }), {
    status,
    headers: { 'content-type': 'application/problem+json', ...headers },
  });

/** A refusal, or a database that is away, as problem details; whatever else went wrong is thrown on. */
export function refusalAnswer(error: unknown, instance?: string): Response {
  const at = instance === undefined ? {} : { instance };
  if (error instanceof Refusal) {
    const { status, title, problems, more } = error;
    const headers: Record<string, string> = {
      // RFC 6750, 3: how a program says who it is.
      ...(status === 401 && { 'www-authenticate': 'Bearer' }),
      ...(typeof more.retryAfter === 'number' && { 'retry-after': String(more.retryAfter) }),
    };
    return problemAnswer(status, title, { ...at, ...(problems.length && { problems }), ...more }, headers);
  }
  if (isFull(error))
    return problemAnswer(507, 'The disk is full. Nothing was changed; tell whoever runs this site, and try again.', at);
  if (isUnreachable(error))
    return problemAnswer(503, 'The database cannot be reached. Nothing was changed; try again in a moment.', at);
  throw error;
}
