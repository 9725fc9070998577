import { dump, load, YAMLException } from 'js-yaml';
import { fail, ok, problem, type Result } from '../base/result';

/** Name under which the text below the front matter stands among the columns. */
export const BODY = 'body';

/** References to what stands elsewhere in the front matter (YAML 1.2.2, 7.1); more swell into what no memory holds. */
const MOST_ALIASES = 50;

const FENCE = /^\uFEFF?---[ \t]*\r?\n(?:([\s\S]*?)\r?\n)?(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/;

/** A text file with YAML 1.2 between two lines of `---`, and Markdown below. */
export function parseFrontMatter(text: string): Result<Record<string, unknown>> {
  const fence = FENCE.exec(text);
  if (!fence) {
    if (/^\uFEFF?---[ \t]*\r?\n/.test(text))
      return fail(problem('1', 'The front matter does not end.', 'Put a line with --- after it.'));
    return ok({ [BODY]: withoutLastEnd(text.replace(/^\uFEFF/, '')) });
  }
  let data: unknown;
  try {
    data = load(fence[1] === undefined ? '' : `${fence[1]}\n`, { maxAliases: MOST_ALIASES }) ?? null;
  } catch (error) {
    if (!(error instanceof YAMLException)) throw error;
    return fail(
      problem(
        // Its lines are counted from 0, and the first is that of the fence.
        String((error.mark?.line ?? 0) + 2),
        `The front matter is not YAML: ${error.reason ?? error.message}`,
        'Mend that line.',
      ),
    );
  }
  if (data !== null && (typeof data !== 'object' || Array.isArray(data)))
    return fail(problem('2', 'The front matter is no list of names and values.', 'Write “name: value” on each line.'));
  // One empty line parts the text from the fence; what else there is belongs to it.
  const body = withoutLastEnd(text.slice(fence[0].length).replace(/^[ \t]*\r?\n/, ''));
  return ok({ ...(data as Record<string, unknown> | null), ...(body.trim() ? { [BODY]: body } : {}) });
}

/** A file ends with a line end (POSIX.1-2017, 3.206), which is no part of its text. */
const withoutLastEnd = (text: string): string => text.replace(/\r?\n$/, '');

export function writeFrontMatter(data: Record<string, unknown>, body: string): string {
  return `---\n${dump(data, { lineWidth: -1, noRefs: true, skipInvalid: true })}---\n${body ? `\n${body}\n` : ''}`;
}
