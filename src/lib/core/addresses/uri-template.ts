import { fail, ok, problem, type Result } from '../base/result';

/** A URI Template of level 1 in pieces: text that stays, and names that values are put in for. */
export type PatternPart = { literal: string } | { name: string };

/** RFC 6570, 2.3: letters, digits, underscores and escapes, in parts joined by dots. */
const NAME = /^(?:[A-Za-z0-9_]|%[0-9A-Fa-f]{2})+(?:\.(?:[A-Za-z0-9_]|%[0-9A-Fa-f]{2})+)*$/;
/** RFC 6570, 2.1: what may not stand outside of braces. */
// eslint-disable-next-line no-control-regex
const FORBIDDEN = /[\u0000-\u0020"'<>\\^`{|}\u007f]|%(?![0-9A-Fa-f]{2})/;

/** Reads a URI Template of level 1 (RFC 6570, 1.2). Higher levels have operators, which are told as problems. */
export function parseUriTemplate(text: string): Result<PatternPart[]> {
  const pieces: PatternPart[] = [];
  let at = 0;
  while (at < text.length) {
    const open = text.indexOf('{', at);
    const literal = text.slice(at, open < 0 ? undefined : open);
    const wrong = FORBIDDEN.exec(literal)?.[0];
    if (wrong) return fail(problem('', `“${wrong}” cannot stand in an address.`, 'Take it out.'));
    if (literal) pieces.push({ literal });
    if (open < 0) break;
    const close = text.indexOf('}', open);
    if (close < 0)
      return fail(problem('', 'A brace is opened and not closed.', 'Write each part as {name}, such as {slug}.'));
    const name = text.slice(open + 1, close);
    if (!NAME.test(name))
      return fail(
        problem(
          '',
          `“{${name}}” is not the name of a part.`,
          'A name has letters, digits and underscores, such as {slug}.',
        ),
      );
    pieces.push({ name });
    at = close + 1;
  }
  return ok(pieces);
}

/** Escapes all but the unreserved characters of RFC 3986, 2.3. */
export const escapeUnreserved = (text: string): string =>
  encodeURIComponent(text.toWellFormed()).replace(/[!'()*]/g, (c) => `%${c.charCodeAt(0).toString(16).toUpperCase()}`);

/** What may stand in an address as it is: unreserved, reserved, and escapes (RFC 6570, 3.1). */
const KEPT = /%[0-9A-Fa-f]{2}|[A-Za-z0-9\-._~:/?#[\]@!$&'()*+,;=]/g;
const escapeLiteral = (text: string): string => {
  let out = '';
  let at = 0;
  for (const { 0: kept, index } of text.matchAll(KEPT)) {
    out += escapeUnreserved(text.slice(at, index)) + kept;
    at = index + kept.length;
  }
  return out + escapeUnreserved(text.slice(at));
};

/** Simple string expansion (RFC 6570, 3.2.2). Names without a value give nothing. */
export const expandUriTemplate = (
  pieces: readonly PatternPart[],
  values: Readonly<Record<string, string | undefined>>,
): string =>
  pieces
    .map((piece) => ('literal' in piece ? escapeLiteral(piece.literal) : escapeUnreserved(values[piece.name] ?? '')))
    .join('');
