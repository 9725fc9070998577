import type { Problem } from '../../core/base/result';

/** A request that cannot be carried out, for a reason the asker can act on. Becomes problem details (RFC 9457). */
export class Refusal extends Error {
  constructor(
    readonly status: 400 | 401 | 412 | 429 | 428 | 503 | 507 | 403 | 404 | 409 | 413 | 415 | 422,
    readonly title: string,
    readonly problems: Problem[] = [],
    readonly more: Record<string, unknown> = {},
  ) {
    super(title);
  }
}

/** Refuses a state that is not the one that a writer means; asked of what stands under the lock. */
export type Guard = (current: unknown) => void;

export const notFound = (what: string): Refusal => new Refusal(404, `There is no ${what}.`);
