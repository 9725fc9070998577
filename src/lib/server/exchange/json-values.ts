import { Refusal } from '../base/refusal';

/** Longest single value, in characters. */
const LONGEST = 6_000_000;

/**
 * The values of a JSON array, or values one after the other (JSON Lines), without holding the whole. Only strings and
 * brackets are looked at to find where each ends; reading a value is left to `JSON.parse`.
 */
export async function* jsonValues(pieces: AsyncIterable<string>): AsyncGenerator<{ value: unknown; line: number }> {
  let text = '';
  let depth = 0;
  let inString = false;
  let escaped = false;
  let inArray = false;
  let ended = false;
  let begun = false;
  let line = 1;
  let startLine = 1;
  const wrong = (what: string, at = line) =>
    new Refusal(422, 'The file cannot be read.', [
      { at: `line ${at}`, what, fix: 'Check that it is JSON and not cut off.' },
    ]);
  const tooLong = () => wrong(`The object that begins here is larger than ${LONGEST / 1_000_000} MB.`, startLine);
  const parse = () => {
    try {
      return { value: JSON.parse(text) as unknown, line: startLine };
    } catch (error) {
      throw wrong(`This is not JSON: ${(error as Error).message.slice(0, 200)}`, startLine);
    } finally {
      text = '';
    }
  };
  for await (const piece of pieces) {
    let from = text ? 0 : -1;
    for (let i = 0; i < piece.length; i++) {
      const c = piece.charCodeAt(i);
      if (c === 10) line++;
      if (inString) {
        if (escaped) escaped = false;
        else if (c === 92) escaped = true;
        else if (c === 34) inString = false;
        continue;
      }
      if (c === 32 || c === 9 || c === 13 || c === 10 || c === 0xfeff) continue;
      if (ended) throw wrong('Something stands after the end of the list.');
      if (depth === 0) {
        if (c === 91 && !inArray && !begun) {
          inArray = begun = true;
          continue;
        }
        if (c === 93 && inArray) {
          ended = true;
          continue;
        }
        if (c === 44 && inArray) continue;
        if (c !== 123) throw wrong('Here an object should begin.');
        begun = true;
        from = i;
        startLine = line;
      }
      if (c === 34) inString = true;
      else if (c === 123 || c === 91) depth++;
      else if (c === 125 || c === 93) {
        depth--;
        if (depth === 0) {
          text += piece.slice(from, i + 1);
          from = -1;
          if (text.length > LONGEST) throw tooLong();
          yield parse();
        }
      }
    }
    if (from >= 0) text += piece.slice(from);
    if (text.length > LONGEST) throw tooLong();
  }
  if (depth > 0 || inString) throw wrong('The file ends within an object; it may be cut off.', startLine);
  if (inArray && !ended) throw wrong('The file ends before its list does; it may be cut off.');
}
