import { parseDocument, stringify } from 'yaml';
import { fail, ok, problem, type Result } from '../base/result';

/** Name under which the text below the front matter stands among the columns. */
export const BODY = 'body';

const FENCE = /^\uFEFF?---[ \t]*\r?\n(?:([\s\S]*?)\r?\n)?(?:---|\.\.\.)[ \t]*(?:\r?\n|$)/;

/** A text file with YAML 1.2 between two lines of `---`, and Markdown below. */
export function parseFrontMatter(text: string): Result<Record<string, unknown>> {
  const fence = FENCE.exec(text);
  if (!fence) {
    if (/^\uFEFF?---[ \t]*\r?\n/.test(text))
      return fail(problem('1', 'The front matter does not end.', 'Put a line with --- after it.'));
    return ok({ [BODY]: text.trim() });
  }
  const document = parseDocument(fence[1] ?? '', { logLevel: 'silent', uniqueKeys: true });
  const [error] = document.errors;
  if (error)
    return fail(
      problem(
        String((error.linePos?.[0].line ?? 0) + 1),
        `The front matter is not YAML: ${error.message.split('\n')[0]}`,
        'Mend that line.',
      ),
    );
  let data: unknown;
  try {
    data = document.toJS({ maxAliasCount: 50 });
  } catch (failure) {
    return fail(
      problem(
        '1',
        `The front matter cannot be read: ${(failure as Error).message}`,
        'Write it without so many aliases.',
      ),
    );
  }
  if (data !== null && (typeof data !== 'object' || Array.isArray(data)))
    return fail(problem('2', 'The front matter is no list of names and values.', 'Write “name: value” on each line.'));
  const body = text.slice(fence[0].length).trim();
  return ok({ ...(data as Record<string, unknown> | null), ...(body ? { [BODY]: body } : {}) });
}

export function writeFrontMatter(data: Record<string, unknown>, body: string): string {
  return `---\n${stringify(data, { lineWidth: 0 })}---\n${body ? `\n${body.trim()}\n` : ''}`;
}
