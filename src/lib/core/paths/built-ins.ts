import type { ContentRecord } from '../schema/record';
import { choice } from '../model/kinds/choice';
import { date } from '../model/kinds/date';
import { dateTime } from '../model/kinds/date-time';
import { link } from '../model/kinds/link';
import { longText } from '../model/kinds/long-text';
import { number } from '../model/kinds/number';
import { picture } from '../model/kinds/picture';
import { richText } from '../model/kinds/rich-text';
import { terms } from '../model/kinds/terms';
import { text } from '../model/kinds/text';
import type { FieldKind } from '../model/kinds/kind';
import { countWords, cutText, localDay, minutesToRead } from '../base/write';
import { whereFound } from '../content/search';
import { kindOf, roleOfField, subFieldsOf } from '../model/field';
import type { Field } from '../schema/field';
import type { ModelIndex } from '../model/model-index';
import { addressOf } from '../addresses/addresses';
import {
  addressOfArchive,
  descriptionOfArchive,
  periodWords,
  titleOfArchive,
  pictureOfArchive,
  type ArchiveOf,
  type ArchivePlace,
  type ArchiveScope,
} from '../addresses/archives';
import type { Env, Iteration } from './env';
import type { Path } from '../schema/path';

/** A value that is there without a field for it. Its name, a step of paths, starts with `@`. */
export interface BuiltIn<Of> {
  name: string;
  label: string;
  kind: FieldKind;
  settings: unknown;
  many: boolean;
  read(of: Of, env: Env): unknown;
}

const one = <Of>(
  name: string,
  label: string,
  kind: FieldKind,
  read: BuiltIn<Of>['read'],
  settings: unknown = {},
): BuiltIn<Of> => ({
  name,
  label,
  kind,
  settings,
  many: false,
  read,
});

/** What every record has. Terms come once for each of the model's taxonomies. */
export function recordBuiltIns(model: ModelIndex): BuiltIn<ContentRecord>[] {
  const known = recordCache.get(model);
  if (known) return known;
  const made: BuiltIn<ContentRecord>[] = [
    one('@title', 'Title', text, (record) => record.title),
    one('@address', 'Address', link, (record, env) => ({ url: addressOf(record, env.model), label: record.title })),
    one('@published', 'Published', dateTime, (record) => record.published ?? undefined),
    one('@created', 'Created', dateTime, (record) => record.created),
    one('@changed', 'Changed', dateTime, (record) => record.changed),
    one('@slug', 'Address part', text, (record) => record.slug),
    one('@excerpt', 'Excerpt', text, (record, env) => excerptOf(record, env)),
    one('@words', 'Words', number, (record, env) => wordsOf(record, env) || undefined),
    one(
      '@minutes',
      'Minutes to read',
      number,
      (record, env) => minutesToRead(wordsOf(record, env), env.model.site.readingPace) || undefined,
    ),
    one('@status', 'Status', choice, (record) => record.status, {
      options: [
        { key: 'draft', label: 'Draft' },
        { key: 'published', label: 'Published' },
        { key: 'scheduled', label: 'Scheduled' },
      ],
    }),
    one('@author', 'Author', text, (record, env) => authorOf(record, env)?.name),
    one('@author_address', 'Address of the author’s archive', link, (record, env) => {
      const author = authorOf(record, env);
      return author && linkTo({ of: 'author', authorId: author.id }, author.name, env);
    }),
    one('@published_month', 'Archive of its month', link, (record, env) => {
      if (!record.published) return undefined;
      const day = localDay(new Date(record.published), env.model.site.timeZone);
      const period = { year: Number(day.slice(0, 4)), month: Number(day.slice(5, 7)) };
      return linkTo({ of: 'date', typeId: record.typeId, ...period }, periodWords(period, env.model), env);
    }),
    one('@author_picture', 'Picture of the author', picture, (record, env) => {
      const id = authorOf(record, env)?.pictureId;
      return id && env.pool.media(id) ? id : undefined;
    }),
    one('@author_about', 'About the author', richText, (record, env) => authorOf(record, env)?.about || undefined),
    one('@type', 'Content type', choice, (record) => record.typeId, {
      options: model.types.map((type) => ({ key: type.id, label: type.name })),
    }),
    ...model.taxonomies.map((taxonomy): BuiltIn<ContentRecord> => ({
      name: `@terms:${taxonomy.id}`,
      label: taxonomy.name,
      kind: terms,
      settings: { taxonomyId: taxonomy.id },
      many: true,
      read: (record, env) => record.terms.filter((id) => env.model.term(id)?.taxonomyId === taxonomy.id),
    })),
  ];
  recordCache.set(model, made);
  return made;
}

const authorOf = (record: ContentRecord, env: Env) =>
  record.authorId === null ? undefined : env.model.author(record.authorId);

/** The plain texts of paragraphs that a record has, in the order of its fields. */
function* storiesOf(record: ContentRecord, env: Env): Generator<string> {
  for (const field of env.model.type(record.typeId)?.fields ?? []) {
    if (roleOfField(field) !== 'story') continue;
    const value = record.values[field.id];
    const known = kindOf(field);
    if (typeof value === 'string' && known && !known.kind.isEmpty(value))
      yield known.kind.text(value, known.settings, env.reader);
  }
}

/** The first 50 words of the first text of paragraphs that the record has (common practice). */
function excerptOf(record: ContentRecord, env: Env): string | undefined {
  const [first] = storiesOf(record, env);
  return first === undefined ? undefined : cutText(first, 50, 'words', env.model.site.locale);
}

/** The words of all texts of paragraphs that a record has. */
function wordsOf(record: ContentRecord, env: Env): number {
  let words = 0;
  for (const text of storiesOf(record, env)) words += countWords(text, env.model.site.locale);
  return words;
}
const recordCache = new WeakMap<ModelIndex, BuiltIn<ContentRecord>[]>();

export const iterationBuiltIns: BuiltIn<Iteration>[] = [
  one('@position', 'Position', number, (turn) => turn.position),
  one('@results', 'Number of results', number, (turn) => turn.results),
  one('@found', 'Where it was found', text, ({ record, search }, env) => {
    const found = record && search && whereFound(record, search, env.model);
    return found && `${found.label}: ${found.text}`;
  }),
  one('@group', 'Group', text, (turn) => turn.group?.label || undefined),
  one('@group_size', 'How many in the group', number, (turn) => turn.group?.size),
];

const linkTo = (of: ArchiveOf, label: string, env: Env) => ({ url: addressOfArchive(of, env.model), label });

/** What every archive has; those of terms, authors and searches have something of their own. All of it without a scope. */
export function archiveBuiltIns(scope?: ArchiveScope): BuiltIn<ArchivePlace>[] {
  const own: BuiltIn<ArchivePlace>[] = [];
  const on = scope?.on;
  if (!on || on === 'type' || on === 'term' || on === 'author')
    own.push(
      one('@description', 'Description', longText, (of, env) => descriptionOfArchive(of, env.model) || undefined),
    );
  if (!on || on === 'term' || on === 'author')
    own.push(
      one('@picture', 'Picture', picture, (of, env) => {
        const id = pictureOfArchive(of, env.model);
        return id && env.pool.media(id) ? id : undefined;
      }),
    );
  if (!on || on === 'term')
    own.push({
      ...one('@term', 'Term', terms, (of) => (of.of === 'term' ? [of.termId] : []), {
        taxonomyId: scope?.taxonomyId ?? '',
      }),
      many: true,
    });
  if (!on || on === 'search')
    own.push(one('@words', 'Words searched for', text, (of) => (of.of === 'search' && of.words.trim()) || undefined));
  return [
    one('@title', 'Archive title', text, (of, env) => titleOfArchive(of, env.model)),
    ...own,
    one('@address', 'Archive address', link, (of, env) => linkTo(of, titleOfArchive(of, env.model), env)),
    one('@page', 'Page number', number, (archive) => archive.page),
  ];
}

export const siteBuiltIns: BuiltIn<Env>[] = [
  one('@name', 'Site name', text, (env) => env.model.site.name),
  one('@tagline', 'Site tagline', text, (env) => env.model.site.tagline),
  one('@home', 'Front page', link, (env) => ({ url: '/', label: env.model.site.name })),
  one('@today', 'Today', date, (env) => env.today),
];

/** Sub-fields of rows by id, at any depth, and what loops over other values have; found once for each state of the model. */
const subfields = new WeakMap<ModelIndex, Map<string, Field>>();
function subfield(id: string, model: ModelIndex): Field | undefined {
  let known = subfields.get(model);
  if (!known) {
    known = new Map();
    const visit = (fields: readonly Field[]) => {
      for (const field of fields) {
        const inner = subFieldsOf(field);
        for (const one of inner ?? []) known?.set(one.id, one);
        if (inner) visit(inner);
      }
    };
    for (const type of model.types) visit(type.fields);
    subfields.set(model, known);
  }
  return known.get(id) ?? OF_VALUES[id];
}
const named = (label: string) => ({ label }) as Field;
const OF_VALUES: Record<string, Field> = {
  picture: named('Picture'),
  alt: named('Alternative text'),
  value: named('Choice'),
  name: named('Name'),
  description: named('Description'),
  term: named('Term'),
  address: named('Address'),
};

/** A path's steps as the model names them, such as `Warden → Title`. */
export function pathWords(path: Path, model: ModelIndex): string {
  const own =
    path.from === 'site'
      ? siteBuiltIns
      : path.from === 'archive'
        ? archiveBuiltIns()
        : path.from.startsWith('loop:')
          ? iterationBuiltIns
          : [];
  const builtIns: { name: string; label: string }[] = [...own, ...recordBuiltIns(model)];
  let inside: Field[] | undefined;
  return path.steps
    .map((step) => {
      const field: Field | undefined =
        (inside ? inside.find((one) => one.id === step) : model.field(step)?.field) ?? subfield(step, model);
      inside = field?.kind ? subFieldsOf(field) : undefined;
      return builtIns.find((b) => b.name === step)?.label ?? field?.label ?? 'a deleted field';
    })
    .join(' → ');
}
