import type { ContentType, Model } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { fail, ok, problem, type Problem, type Result } from '../base/result';
import { BY, FEEDS, RESERVED, SEARCH, taxonomyBase } from '../base/reserved';
import { parseUriTemplate, type PatternPart } from './uri-template';

/** What says how a type's addresses are made. */
export type Addressed = Pick<ContentType, 'base' | 'address'>;

/** One part of a pattern between two slashes. */
interface Segment {
  pieces: PatternPart[];
  /** Left out where none of its names has a value. */
  optional: boolean;
}

export interface Pattern {
  segments: Segment[];
  names: string[];
  /** The slug in a path, decoded; undefined where the path is none of this pattern. */
  slugIn(path: string): string | undefined;
  /** Whether the slug alone is the first part, so that it may be none that belongs to something else. */
  slugFirst: boolean;
}

/** A type's pattern as written, or the one that follows from its base. */
export const patternOf = ({ base, address }: Addressed): string => address || `/${base}/{slug}`;

/** Whether records of a type are told by when they were published, as those of a journal are. */
export const isDated = (type: Addressed): boolean => /\{\/?year\b|\{[^}]*\byear\b/.test(patternOf(type));

/** The parts of an address that every type knows, with what they are. */
export const PARTS_OF_ADDRESSES: Record<string, string> = {
  slug: 'the record’s own part',
  year: 'the year in which it was published',
  month: 'the month, in two digits',
  day: 'the day, in two digits',
  author: 'its author',
};
/** Of these a record may have none; a part of the address with nothing else in it is then left out. */
const SHAPES: Record<string, string> = { year: '\\d{4}', month: '\\d{2}', day: '\\d{2}' };

const quoted = (text: string) => text.replace(/[.*+?^${}()|[\]\\/]/g, '\\$&');
const decoded = (text: string) => {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
};

/** Reads a pattern; names are not looked at here. */
export function parsePattern(text: string): Result<Pattern> {
  const parsed = parseUriTemplate(text);
  if (!parsed.ok) return parsed;
  const segments: Segment[] = [{ pieces: [], optional: false }];
  for (const piece of parsed.value) {
    if ('name' in piece) {
      segments.at(-1)?.pieces.push(piece);
      continue;
    }
    for (const [i, literal] of piece.literal.split('/').entries()) {
      if (i) segments.push({ pieces: [], optional: false });
      if (literal) segments.at(-1)?.pieces.push({ literal: decoded(literal) });
    }
  }
  const [first, ...rest] = segments;
  if (first?.pieces.length || !rest.length)
    return fail(problem('', 'An address begins with a slash.', 'Begin the pattern with /.'));
  // A slash at the end is settled: records have none.
  if (rest.length > 1 && !rest.at(-1)?.pieces.length) rest.pop();
  if (rest.some(({ pieces }) => !pieces.length))
    return fail(problem('', 'Two slashes follow each other.', 'Take one of them out.'));
  for (const segment of rest)
    segment.optional = segment.pieces.every((piece) => 'name' in piece && piece.name !== 'slug');
  const names = rest.flatMap(({ pieces }) => pieces.flatMap((piece) => ('name' in piece ? [piece.name] : [])));
  let slugAt = 0;
  let group = 0;
  const source = rest.map(({ pieces, optional }) => {
    const inner = pieces
      .map((piece) => {
        if ('literal' in piece) return quoted(piece.literal);
        group++;
        if (piece.name === 'slug') slugAt = group;
        return piece.name === 'slug' ? '([^/]+)' : `(${SHAPES[piece.name] ?? '[^/]+'})${pieces.length > 1 ? '?' : ''}`;
      })
      .join('');
    return optional ? `(?:/${inner})?` : `/${inner}`;
  });
  const whole = new RegExp(`^${source.join('')}$`, 'u');
  const [only, ...others] = rest[0]?.pieces ?? [];
  return ok({
    segments: rest,
    names,
    slugIn: (path) => whole.exec(path)?.[slugAt],
    slugFirst: Boolean(only && 'name' in only && !others.length && only.name === 'slug'),
  });
}

const known = new Map<string, Pattern | undefined>();

/** A type's pattern, ready to be used; undefined for one that cannot be read, whose records have no address. */
export function compiledPattern(type: Addressed): Pattern | undefined {
  const text = patternOf(type);
  if (!known.has(text)) {
    if (known.size > 500) known.clear();
    const parsed = parsePattern(text);
    known.set(text, parsed.ok ? parsed.value : undefined);
  }
  return known.get(text);
}

/** The names that a type's pattern may have, with what each is. */
export function partsFor(type: Pick<ContentType, 'taxonomyIds'>, model: ModelIndex): Record<string, string> {
  const taxonomies = type.taxonomyIds.flatMap((id) => model.taxonomy(id) ?? []);
  return {
    ...PARTS_OF_ADDRESSES,
    ...Object.fromEntries(taxonomies.map(({ key, name }) => [key, `its first term of ${name}`])),
  };
}

/** First parts of addresses that are taken: by the application, by archives, by feeds. */
export function takenFirstParts(model: Pick<Model, 'types' | 'taxonomies'>): Set<string> {
  return new Set([
    ...RESERVED,
    ...FEEDS,
    ...model.types.map(({ base }) => base),
    ...model.taxonomies.map(({ key }) => taxonomyBase(key)),
  ]);
}

/** What is wrong with a type's addresses, beside the other types of the model. */
export function patternProblems(type: ContentType, model: ModelIndex): Problem[] {
  const text = patternOf(type);
  const parsed = parsePattern(text);
  if (!parsed.ok) return parsed.problems.map((p) => ({ ...p, at: 'address' }));
  const { names, segments } = parsed.value;
  const wrong = (what: string, fix?: string) => [problem('address', what, fix)];
  if (text.length > 200) return wrong('A pattern has 200 characters at most.');
  if (/[?#]/.test(text))
    return wrong('A question or a mark within the page cannot stand in a pattern.', 'Take ? and # out.');
  const slugs = names.filter((name) => name === 'slug').length;
  if (!slugs) return wrong('The pattern has no {slug}, so two records could not be told apart.', 'Put {slug} into it.');
  if (slugs > 1) return wrong('The pattern has {slug} twice.', 'Take one of them out.');
  const allowed = partsFor(type, model);
  const unknown = names.find((name) => !Object.hasOwn(allowed, name));
  if (unknown)
    return wrong(
      `There is no part “{${unknown}}” in the addresses of ${type.plural.toLowerCase()}.`,
      `There are ${Object.keys(allowed)
        .map((name) => `{${name}}`)
        .join(', ')}.`,
    );
  const others = model.types.filter((one) => one.id !== type.id);
  const [first] = segments[0]?.pieces ?? [];
  if (first && 'literal' in first && segments[0]?.pieces.length === 1) {
    const archives = [BY, SEARCH, ...model.taxonomies.map(({ key }) => taxonomyBase(key))];
    if (RESERVED.has(first.literal) || archives.includes(first.literal))
      return wrong(`Addresses under /${first.literal}/ belong to something else.`, 'Begin the pattern differently.');
  }
  for (const other of others) {
    const theirs = compiledPattern(other);
    const shared = theirs && sharedAddress(parsed.value, theirs);
    if (shared)
      return wrong(
        `${shared} could be ${type.name.toLowerCase()} or ${other.name.toLowerCase()}: the patterns of both fit it.`,
        `Give them different fixed parts; that of ${other.plural.toLowerCase()} is ${patternOf(other)}.`,
      );
  }
  return [];
}

/** An address that two patterns fit, as an example; undefined where there is none. */
export function sharedAddress(a: Pattern, b: Pattern): string | undefined {
  for (const left of spelledOut(a.segments))
    for (const right of spelledOut(b.segments)) {
      if (left.length !== right.length) continue;
      const parts = left.map((one, i) => sharedPart(one, right[i] as Segment));
      if (parts.every((part) => part !== undefined)) return `/${parts.join('/')}`;
    }
  return undefined;
}

/** A pattern with and without each of the parts that may be left out. */
function spelledOut(segments: readonly Segment[]): Segment[][] {
  return segments.reduce<Segment[][]>(
    (all, one) => all.flatMap((line) => (one.optional ? [line, [...line, one]] : [[...line, one]])),
    [[]],
  );
}

function sharedPart(a: Segment, b: Segment): string | undefined {
  const fixed = (one: Segment) =>
    one.pieces.every((piece) => 'literal' in piece)
      ? one.pieces.map((piece) => ('literal' in piece ? piece.literal : '')).join('')
      : undefined;
  const [left, right] = [fixed(a), fixed(b)];
  if (left !== undefined && right !== undefined) return left === right ? left : undefined;
  const shape = ({ pieces }: Segment) =>
    new RegExp(
      `^${pieces.map((piece) => ('literal' in piece ? quoted(piece.literal) : `(?:${SHAPES[piece.name] ?? '[^/]+'})`)).join('')}$`,
      'u',
    );
  if (left !== undefined) return shape(b).test(left) ? left : undefined;
  if (right !== undefined) return shape(a).test(right) ? right : undefined;
  // Two parts with names in them: one example of either is tried with the other.
  const example = ({ pieces }: Segment) =>
    pieces
      .map((piece) =>
        'literal' in piece ? piece.literal : piece.name === 'year' ? '2026' : SHAPES[piece.name] ? '10' : '2026',
      )
      .join('');
  const [ofA, ofB] = [example(a), example(b)];
  if (shape(b).test(ofA)) return ofA;
  return shape(a).test(ofB) ? ofB : undefined;
}
