import { hash, verify } from '@node-rs/argon2';
import pLimit from 'p-limit';
import { codePointCount } from '../../core/base/text';
import { PASSWORD_LENGTH, passwordProblem, settledPassword } from '../../core/people/passwords';
import { Refusal } from '../base/refusal';
import list from './common-passwords.json';
import { perServer } from '../base/server';

/** Argon2id (the library's own choice) with memory in KiB, passes and lanes as OWASP's Password Storage Cheat Sheet gives them (from memory). */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 };

/** Hashes are made two at a time: each takes its memory and a processor, and whoever asks without an account could ask for any number. */
const AT_ONCE = 2;
/** So many wait for their turn; whoever comes then is told to come back. */
const MOST_WAITING = 100;
const queue = perServer(() => pLimit(AT_ONCE));

/** Does some work that hashes when it is its turn; refuses it (503) where too many wait. */
export async function hashing<T>(work: () => Promise<T>): Promise<T> {
  const hashes = queue();
  if (hashes.pendingCount >= MOST_WAITING)
    throw new Refusal(503, 'Too many people sign in just now. Try again in a moment.', [], { retryAfter: 5 });
  return hashes(work);
}

const commonPasswords = perServer(() => new Set(list.passwords.flatMap((line) => line.split(' '))));
const isCommon = (folded: string): boolean => commonPasswords().has(folded);

/** Refuses a new password that would be guessed; `own` are words that everybody who knows the account would try. */
export function checkPassword(password: string, own: readonly string[]): void {
  const wrong = passwordProblem(password, isCommon, own);
  if (wrong) throw new Refusal(422, 'This password cannot be taken.', [wrong]);
}

/** What is kept of a password, as a PHC string. */
export const passwordHash = (password: string): Promise<string> => hashing(() => hash(settledPassword(password), COST));

/** Compared with where there is no password. It waits in no queue, since one that is refused there would tell who has an account. */
const decoy = perServer(() => hash('nobody has this one', COST));

/** Whether a password is the one of a hash. Where there is none, it takes as long and is not. */
export async function passwordFits(stored: string | null | undefined, password: string): Promise<boolean> {
  const settled = settledPassword(password);
  if (codePointCount(settled) > PASSWORD_LENGTH.most) return false;
  const against = stored ?? (await decoy());
  return (await hashing(() => verify(against, settled))) && Boolean(stored);
}
