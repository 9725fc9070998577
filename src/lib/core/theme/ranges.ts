/** Ranges of code points as `unicode-range` writes them, such as `U+20-7E,U+A0` (CSS Fonts 4, 4.5). */
export function rangeOf(points: readonly number[]): string {
  const sorted = [...new Set(points)].sort((a, b) => a - b);
  const spans: [number, number][] = [];
  for (const point of sorted) {
    const last = spans.at(-1);
    if (last && point === last[1] + 1) last[1] = point;
    else spans.push([point, point]);
  }
  const hex = (point: number) => point.toString(16).toUpperCase();
  return spans.map(([from, to]) => (from === to ? `U+${hex(from)}` : `U+${hex(from)}-${hex(to)}`)).join(',');
}

/** The code points of such ranges; those of no more than `most`. */
export function pointsOf(range: string, most = 70_000): number[] {
  const points: number[] = [];
  for (const [, from = '', to = from] of range.matchAll(/U\+([0-9A-F]{1,6})(?:-([0-9A-F]{1,6}))?/gi))
    for (let point = parseInt(from, 16); point <= parseInt(to, 16) && points.length < most; point++) points.push(point);
  return points;
}

/** So many signs of a script with thousands stand in a piece; about what one file of its size should be. */
const TOGETHER = 120;

const SCRIPTS = [/\p{Script=Latin}/u, /\p{Script=Greek}/u, /\p{Script=Cyrillic}/u];
const isPlain = (point: number): boolean => point < 0x100 || (point >= 0x2000 && point < 0x2070) || point === 0x20ac;

/**
 * The signs of a typeface in pieces that pages need or not: what nearly every page has (Latin 1, punctuation, €) first,
 * then the rest of Latin, Greek, Cyrillic, and what is left by code point in groups.
 */
export function piecesOf(points: readonly number[]): number[][] {
  const left = new Set([...points].sort((a, b) => a - b));
  const take = (fits: (point: number) => boolean): number[] => {
    const taken = [...left].filter(fits);
    for (const point of taken) left.delete(point);
    return taken;
  };
  const groups = [take(isPlain), ...SCRIPTS.map((script) => take((point) => script.test(String.fromCodePoint(point))))];
  const rest = [...left];
  for (let at = 0; at < rest.length; at += TOGETHER) groups.push(rest.slice(at, at + TOGETHER));
  return groups.filter((group) => group.length);
}
