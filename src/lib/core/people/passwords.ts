import { problem, type Problem } from '../base/result';
import { codePointCount } from '../base/text';

/** Lengths in characters (code points), NIST SP 800-63B-4, 3.1.1.2: eight at least, and long ones are taken. From memory. */
export const PASSWORD_LENGTH = { least: 8, most: 128 };

/** The form in which a password is kept and compared: NFKC (NIST SP 800-63B-4, 3.1.1.2, from memory). */
export const settledPassword = (password: string): string => password.normalize('NFKC');

/**
 * What is wrong with a new password: its length, that it is `common`, or that it is one of the `own` words that everybody
 * who knows the account would try. Nothing is asked of which characters there are.
 */
export function passwordProblem(
  password: string,
  common: (folded: string) => boolean,
  own: readonly string[] = [],
): Problem | undefined {
  const { least, most } = PASSWORD_LENGTH;
  const settled = settledPassword(password);
  const length = codePointCount(settled);
  if (length < least)
    return problem('password', `It has ${length} characters.`, `Take ${least} or more; several words do well.`);
  if (length > most) return problem('password', `It has ${length} characters.`, `Take ${most} at most.`);
  const folded = settled.toLowerCase();
  if (common(folded)) return problem('password', 'It is one of those that are tried first.', 'Take another one.');
  if (/^(.)\1*$/u.test(settled)) return problem('password', 'It is one character over and over.', 'Take another one.');
  if (own.some((word) => word.length > 3 && folded === word.toLowerCase()))
    return problem('password', 'It is the name or the address of the account.', 'Take another one.');
  return undefined;
}
