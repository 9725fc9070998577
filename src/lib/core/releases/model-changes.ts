import { hasOptions } from '../model/settings';
import type { Field } from '../schema/field';
import type { ContentType, Taxonomy } from '../schema/model';
import { patternOf } from '../addresses/patterns';
import { taxonomyBase } from '../base/reserved';
import { same } from './canonical';
import type { Change } from './change';
import type { Design } from './design';

const MOST_NAMED = 4;
/** A few names in quotes, and how many more there are. */
const quoted = (names: readonly string[]): string => {
  const more = names.length - MOST_NAMED;
  return (
    names
      .slice(0, MOST_NAMED)
      .map((name) => `“${name}”`)
      .join(', ') + (more > 0 ? ` and ${more} more` : '')
  );
};

/** What pairs of things by their id have: both, or only one side. */
function paired<T extends { id: string }>(before: readonly T[], after: readonly T[]) {
  const was = new Map(before.map((one) => [one.id, one]));
  const kept = new Set(after.map(({ id }) => id));
  return {
    added: after.filter(({ id }) => !was.has(id)),
    gone: before.filter(({ id }) => !kept.has(id)),
    pairs: after.flatMap((now) => {
      const former = was.get(now.id);
      return former ? [{ was: former, now }] : [];
    }),
  };
}

const inOtherOrder = (before: readonly { id: string }[], after: readonly { id: string }[]): boolean => {
  const { pairs } = paired(before, after);
  const kept = new Set(pairs.map(({ now }) => now.id));
  return before.filter(({ id }) => kept.has(id)).some(({ id }, i) => id !== pairs[i]?.now.id);
};

/** What is different between the fields of a type, for those who see its records. */
function fieldChanges(before: readonly Field[], after: readonly Field[]): string[] {
  const { added, gone, pairs } = paired(before, after);
  const labels = (fields: readonly Field[]) => quoted(fields.map(({ label }) => label));
  const renamed = pairs.filter(({ was, now }) => was.label !== now.label);
  const kinds = pairs.filter(({ was, now }) => was.kind !== now.kind).map(({ now }) => now);
  const set = pairs.filter(({ was, now }) => was.kind === now.kind && !same(was.settings, now.settings));
  const [options, others] = [
    set.filter(({ now }) => hasOptions(now.settings)),
    set.filter(({ now }) => !hasOptions(now.settings)),
  ];
  return [
    ...(added.length ? [`Fields added: ${labels(added)}`] : []),
    ...(gone.length ? [`Fields taken away: ${labels(gone)}`] : []),
    ...renamed.slice(0, MOST_NAMED).map(({ was, now }) => `Field “${was.label}” is called “${now.label}”`),
    ...(renamed.length > MOST_NAMED ? [`${renamed.length - MOST_NAMED} more fields renamed`] : []),
    ...(kinds.length ? [`Fields of another kind, whose values are converted already: ${labels(kinds)}`] : []),
    ...(options.length ? [`Other options: ${labels(options.map(({ now }) => now))}`] : []),
    ...(others.length ? [`Other settings: ${labels(others.map(({ now }) => now))}`] : []),
    ...(inOtherOrder(before, after) ? ['Fields in another order'] : []),
  ];
}

/** What is different between two states of the content types and taxonomies, as visitors come to see it. */
export function modelChanges(before: Design, after: Design): Change[] {
  const types = paired(before.types, after.types);
  const taxonomies = paired(before.taxonomies, after.taxonomies);
  const names = new Map([...before.taxonomies, ...after.taxonomies].map(({ id, name }) => [id, name]));
  const filed = ({ taxonomyIds }: ContentType) =>
    taxonomyIds.map((id) => names.get(id) ?? 'a removed taxonomy').join(', ') || 'nothing';
  const one = (
    what: Change['what'],
    how: Change['how'],
    { id }: { id: string },
    name: string,
    details: string[],
  ): Change[] => (details.length || how !== 'changed' ? [{ what, how, id, name, details }] : []);
  return [
    ...types.added.flatMap((type) => one('type', 'new', type, type.plural, [`Archive at /${type.base}/`])),
    ...types.pairs.flatMap(({ was, now }) => [
      ...one('type', 'changed', now, now.plural, [
        ...(was.name === now.name ? [] : [`One is called “${now.name}”; before “${was.name}”`]),
        ...(was.plural === now.plural ? [] : [`Many are called “${now.plural}”; before “${was.plural}”`]),
        ...((was.description ?? '') === (now.description ?? '') ? [] : ['Another description']),
        ...(same(was.taxonomyIds, now.taxonomyIds) ? [] : [`Filed under ${filed(now)}; before ${filed(was)}`]),
        ...fieldChanges(was.fields, now.fields),
      ]),
      ...one('addresses', 'changed', now, now.plural, [
        ...(was.base === now.base ? [] : [`Archive at /${now.base}/; before at /${was.base}/`]),
        ...(patternOf(was) === patternOf(now) ? [] : [`Records at ${patternOf(now)}; before at ${patternOf(was)}`]),
      ]),
      ...one(
        'structured',
        'changed',
        now,
        now.plural,
        same(was.structured, now.structured)
          ? []
          : [now.structured ? `Told to programs as ${now.structured.is}` : 'No longer told to programs'],
      ),
    ]),
    ...types.gone.flatMap((type) => one('type', 'gone', type, type.plural, [`All its pages at /${type.base}/ go`])),
    ...taxonomies.added.flatMap((taxonomy) => one('taxonomy', 'new', taxonomy, taxonomy.name, [])),
    ...taxonomies.pairs.flatMap(({ was, now }) => one('taxonomy', 'changed', now, now.name, taxonomyDetails(was, now))),
    ...taxonomies.gone.flatMap((taxonomy) =>
      one('taxonomy', 'gone', taxonomy, taxonomy.name, ['All its terms’ pages go']),
    ),
    ...(inOtherOrder(before.types, after.types)
      ? one('type', 'changed', { id: '' }, 'Order of content types', [
          after.types.map(({ plural }) => plural).join(', '),
        ])
      : []),
  ];
}

const taxonomyDetails = (was: Taxonomy, now: Taxonomy): string[] => [
  ...(was.name === now.name ? [] : [`Renamed from “${was.name}”`]),
  ...(was.key === now.key ? [] : [`Its terms at /${taxonomyBase(now.key)}/; before at /${taxonomyBase(was.key)}/`]),
  ...(was.tree === now.tree ? [] : [now.tree ? 'Its terms may lie below others' : 'Its terms lie side by side']),
];
