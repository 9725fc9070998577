/** Something the user can act on: where it is, what is wrong there, and what would be right. */
export interface Problem {
  /** Dotted place within the input, e.g. `values.f_altitude`; empty for the whole. */
  at: string;
  what: string;
  fix?: string;
}

export type Result<T> = { ok: true; value: T } | { ok: false; problems: Problem[] };

export const ok = <T>(value: T): Result<T> => ({ ok: true, value });

export const fail = (...problems: Problem[]): Result<never> => ({ ok: false, problems });

export const problem = (at: string, what: string, fix?: string): Problem => (fix ? { at, what, fix } : { at, what });

interface IssueLike {
  path: PropertyKey[];
  message: string;
  code?: string;
  keys?: readonly string[];
}

/** Turns the issues of a Zod error into problems, with `at` put before each place. */
export function problemsOf(error: { issues: readonly IssueLike[] }, at = ''): Problem[] {
  const sentence = (words: string) => (/[.!?]$/.test(words) ? words : `${words}.`);
  return error.issues.flatMap((issue) => {
    const where = (more: readonly string[] = []) => [at, ...issue.path.map(String), ...more].filter(Boolean).join('.');
    // What nobody knows is told by its name.
    if (issue.code === 'unrecognized_keys' && issue.keys)
      return issue.keys.map((key) => problem(where([key]), 'Nothing here has this name.'));
    return [problem(where(), sentence(issue.message))];
  });
}
