import { createHash } from 'node:crypto';
import { deleteKeys, freeKey, storedResponse, storeResponse, takeKey } from '../queries/idempotency';
import { Refusal } from '../base/refusal';

/** How long an answer is known, in milliseconds. */
const DAY = 86_400_000;
/** After so long a request that was never answered is taken for one whose process died. */
const LOST = 10 * 60_000;
/** Characters of an answer that is kept; nothing that is made anew has more. */
const MOST = 4_000_000;

const KEY = /^[\x21-\x7e]{1,255}$/;
const hash = (...parts: string[]): string => createHash('sha256').update(parts.join('\n')).digest('hex');

interface IdempotentRequest {
  account: number;
  method: string;
  path: string;
  body: unknown;
  /** What it answers lets somebody in, and is stored nowhere. */
  answersSecret?: boolean;
}

/**
 * Does what a request asks once, however often it comes with the same key from the same account (IETF draft-ietf-httpapi-idempotency-key-header-06,
 * from memory): who asks again gets the same answer, in any process, for a day. 422 where the key came with another request, 409 where the first one
 * is still being worked on. What fails changes nothing, and may be asked again.
 */
export async function once(
  key: string | null,
  { account, method, path, body, answersSecret = false }: IdempotentRequest,
  work: () => Promise<Response>,
): Promise<Response> {
  if (key === null) return work();
  if (!KEY.test(key))
    throw new Refusal(400, 'The key cannot be used.', [
      {
        at: 'Idempotency-Key',
        what: 'It is empty, too long, or has other signs than those of ASCII.',
        fix: 'Send a UUID.',
      },
    ]);
  const name = hash(String(account), key);
  const request = hash(method, path, JSON.stringify(body ?? null));
  if (!(await takeKey(name, request, new Date()))) {
    const stored = await storedResponse(name);
    if (stored && stored.request !== request)
      throw new Refusal(422, 'This key came with another request.', [
        { at: 'Idempotency-Key', what: 'It was used for something else within the last day.', fix: 'Send a new one.' },
      ]);
    if (stored?.status && answersSecret)
      throw new Refusal(409, 'This was done already. What it answered is told once and stored nowhere.');
    if (stored?.status)
      return new Response(stored.body || null, {
        status: stored.status,
        headers: { ...stored.headers, 'idempotency-replayed': 'true' },
      });
    if (stored && Date.now() - stored.created.getTime() < LOST)
      throw new Refusal(409, 'The request with this key is still being worked on.', [], { retryAfter: 1 });
    // Freed meanwhile, or its process died.
    await freeKey(name);
    return once(key, { account, method, path, body, answersSecret }, work);
  }
  try {
    const answer = await work();
    const text = answersSecret ? '' : await answer.clone().text();
    if (text.length <= MOST)
      await storeResponse(name, { status: answer.status, headers: Object.fromEntries(answer.headers), body: text });
    else await freeKey(name);
    return answer;
  } catch (error) {
    await freeKey(name);
    throw error;
  }
}

export const deleteOldKeys = (): Promise<void> => deleteKeys(new Date(Date.now() - DAY));
