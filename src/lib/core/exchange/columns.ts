import type { ContentRecord } from '../schema/record';
import type { ContentType } from '../schema/model';
import { relationOf } from '../model/field';
import type { Field } from '../schema/field';
import type { ModelIndex } from '../model/model-index';
import { problem, type Problem } from '../base/result';
import { fold } from '../base/text';
import { fromPlain, splitCell, toCell, toPlain, type Finder, type Namer } from './cells';

/** What a column of a file goes into: a part of every record, the terms of a taxonomy, a field, or nothing. */
export type ColumnTarget = string;

const PARTS = ['title', 'slug', 'status', 'author', 'created', 'published'] as const;

export interface FileColumn {
  /** Name in files. */
  name: string;
  target: ColumnTarget;
  /** Words for people. */
  label: string;
}

const LABELS: Record<(typeof PARTS)[number], string> = {
  title: 'Title',
  slug: 'Address part',
  status: 'Status',
  author: 'Author',
  created: 'Created',
  published: 'Published',
};

/** Every column that records of a type have in files, in order. Fields go by their key; `field:` stands before one that is taken. */
export function columnsOf(type: ContentType, model: ModelIndex): FileColumn[] {
  const taxonomies = type.taxonomyIds.flatMap((id) => model.taxonomy(id) ?? []);
  const taken = new Set<string>([...PARTS, ...taxonomies.map((taxonomy) => taxonomy.key)]);
  return [
    ...PARTS.map((name) => ({ name, target: `@${name}`, label: LABELS[name] })),
    ...taxonomies.map((taxonomy) => ({ name: taxonomy.key, target: `@terms:${taxonomy.id}`, label: taxonomy.name })),
    ...type.fields.map((field) => ({
      name: taken.has(field.key) ? `field:${field.key}` : field.key,
      target: field.id,
      label: field.label,
    })),
  ];
}

/** What each column of a file most likely is, by its name: key, label or name, without case and signs. */
export function guessTargets(names: string[], type: ContentType, model: ModelIndex): Record<string, ColumnTarget> {
  const bare = (text: string) => fold(text).replace(/[^\p{L}\p{N}]+/gu, '');
  const columns = columnsOf(type, model);
  const used = new Set<ColumnTarget>();
  const guess: Record<string, ColumnTarget> = {};
  for (const name of names) {
    const found =
      columns.find((column) => column.name === name) ??
      columns.find((column) => bare(column.name) === bare(name) || bare(column.label) === bare(name)) ??
      (['name', 'heading'].includes(bare(name)) ? columns[0] : undefined);
    guess[name] = found && !used.has(found.target) ? found.target : '';
    if (found) used.add(found.target);
  }
  return guess;
}

/** A record as one flat object, by column name: the form of JSON files and of front matter. */
export function recordToPlain(
  record: ContentRecord,
  type: ContentType,
  model: ModelIndex,
  namer: Namer,
): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  for (const { name, target } of columnsOf(type, model)) {
    const value = partOf(record, target, model) ?? fieldOf(record, target, type, (f, v) => toPlain(f, v, namer));
    if (value !== undefined) out[name] = value;
  }
  return out;
}

/** A record as the cells of a table, in the order of its columns. */
export function recordToCells(record: ContentRecord, type: ContentType, model: ModelIndex, namer: Namer): string[] {
  return columnsOf(type, model).map(({ target }) => {
    const part = partOf(record, target, model);
    if (part !== undefined) return Array.isArray(part) ? part.join(' | ') : String(part);
    return fieldOf(record, target, type, (f, v) => toCell(f, v, namer)) ?? '';
  });
}

function fieldOf<T>(
  record: ContentRecord,
  target: ColumnTarget,
  type: ContentType,
  write: (field: Field, value: unknown) => T,
): T | undefined {
  const field = type.fields.find((f) => f.id === target);
  const value = record.values[target];
  return field && value !== undefined ? write(field, value) : undefined;
}

function partOf(record: ContentRecord, target: ColumnTarget, model: ModelIndex): string | string[] | undefined {
  switch (target) {
    case '@title':
      return record.title;
    case '@slug':
      return record.slug;
    case '@status':
      return record.status;
    case '@author':
      return record.authorId === null ? undefined : model.author(record.authorId)?.slug;
    case '@created':
      return record.created;
    case '@published':
      return record.published ?? undefined;
  }
  if (!target.startsWith('@terms:')) return undefined;
  const slugs = record.terms.flatMap((id) => {
    const term = model.term(id);
    return term && `@terms:${term.taxonomyId}` === target ? [term.slug] : [];
  });
  return slugs.length ? slugs : undefined;
}

/** That what a column says of a relation, picture or file is not to be found. */
export const missed = (column: string, field: Field, words: string): Problem =>
  problem(
    column,
    `“${words}” is not to be found for “${field.label}”, or more than one is.`,
    'Write its address part, or # and its number.',
  );

/** What one row of a file says, as the input of a new record; problems say which column they are of. */
export function recordFromPlain(
  row: Record<string, unknown>,
  targets: Record<string, ColumnTarget>,
  type: ContentType,
  model: ModelIndex,
  find: Finder,
  /** Takes what a relation to the own type says of records that are not there yet; it is asked again at the end. */
  later?: (column: string, field: Field, given: unknown) => void,
): { input: Record<string, unknown>; problems: Problem[] } {
  const values: Record<string, unknown> = {};
  const input: Record<string, unknown> = { values };
  const problems: Problem[] = [];
  let terms: string[] | undefined;
  for (const [name, given] of Object.entries(row)) {
    // Columns may be called as anything is that objects have of their own.
    const target = Object.hasOwn(targets, name) ? targets[name] : undefined;
    if (!target || given === undefined || given === null || given === '') continue;
    const words = typeof given === 'string' ? given.trim() : String(given);
    const field = type.fields.find((f) => f.id === target);
    if (field) {
      const misses: string[] = [];
      values[field.id] = fromPlain(field, given, find, misses);
      if (misses.length) delete values[field.id];
      if (misses.length && later && relationOf(field)?.typeIds.includes(type.id)) later(name, field, given);
      else problems.push(...misses.map((miss) => missed(name, field, miss)));
    } else if (target === '@author') {
      const author =
        model.authors.find((a) => a.slug === words) ?? model.authors.find((a) => fold(a.name) === fold(words));
      if (author) input.authorId = author.id;
      else
        problems.push(
          problem(name, `There is no author “${words}”.`, 'Add the author first, or leave the column out.'),
        );
    } else if (target === '@status') input.status = fold(words);
    else if (target.startsWith('@terms:')) {
      const taxonomyId = target.slice('@terms:'.length);
      const list = Array.isArray(given) ? given.map(String) : splitCell(words);
      for (const one of list) {
        const own = model.terms.filter((term) => term.taxonomyId === taxonomyId);
        const named = own.filter((term) => fold(term.name) === fold(one));
        const term = own.find((t) => t.slug === one) ?? (named.length === 1 ? named[0] : undefined);
        if (term) (terms ??= []).push(term.id);
        else
          problems.push(
            problem(
              name,
              `${model.taxonomy(taxonomyId)?.name ?? 'The taxonomy'} has no term “${one}”, or more than one.`,
              'Write its address part.',
            ),
          );
      }
    } else if (target === '@created' || target === '@published')
      input[target.slice(1)] = /^\d{4}-\d{2}-\d{2}$/.test(words)
        ? `${words}T00:00:00Z`
        : words.replace(/^(\S{10}) /, '$1T');
    else input[target.slice(1)] = words;
  }
  if (terms) input.terms = terms;
  return { input, problems };
}

/** Puts the names of a file's columns in place of those of the model, so that a problem is found in the file. */
export function problemInFile(found: Problem, targets: Record<string, ColumnTarget>): Problem {
  const [first = '', second = ''] = found.at.split('.');
  const target =
    first === 'values' ? second : first === 'authorId' ? '@author' : first === 'terms' ? '@terms' : `@${first}`;
  const name = Object.keys(targets).find(
    (column) => targets[column] === target || (target === '@terms' && targets[column]?.startsWith('@terms:')),
  );
  return { ...found, at: name ?? (first === 'values' ? second : first) };
}
