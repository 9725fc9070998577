import { problem, type Problem } from './result';

/** Levels that what is sent may be nested: deeper than any model, and far from where programs run out of stack. */
const MOST_DEPTH = 100;

/** What is wrong with a text before anything is read in it: signs that no text has (Unicode 15.0, 23.4 and 3.2 C1). */
export function unsoundText(text: string): string | undefined {
  if (text.includes('\0')) return 'It has the sign with the number 0 in it, which no text has.';
  return text.isWellFormed() ? undefined : 'It has half of a sign in it (a surrogate without its other).';
}

/**
 * What is wrong with anything that came as JSON, whatever it is meant for: texts that are none, names that objects have of
 * their own, and nesting without end. Undefined where nothing is. Takes no stack, however deep it is.
 */
export function unsoundIn(value: unknown): Problem | undefined {
  const open: { at: string; value: unknown; depth: number }[] = [{ at: '', value, depth: 0 }];
  for (let next = open.pop(); next; next = open.pop()) {
    const { at, value: one, depth } = next;
    if (typeof one === 'string') {
      const wrong = unsoundText(one);
      if (wrong) return problem(at, wrong, 'Take it out.');
    } else if (one && typeof one === 'object') {
      if (depth === MOST_DEPTH) return problem(at.slice(0, 200), `This is nested more than ${MOST_DEPTH} levels deep.`);
      for (const [key, inner] of Object.entries(one)) {
        const inside = at ? `${at}.${key}` : key;
        if (key === '__proto__') return problem(at, 'Nothing may be called “__proto__”.', 'Choose another name.');
        const wrong = unsoundText(key);
        if (wrong) return problem(at, wrong, 'Choose another name.');
        open.push({ at: inside, value: inner, depth: depth + 1 });
      }
    }
  }
  return undefined;
}
