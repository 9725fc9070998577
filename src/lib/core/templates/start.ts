import { boundsIn, unitIn } from '../model/settings';
import { kindOf, roleOfField } from '../model/field';
import type { Field } from '../schema/field';
import type { ContentType } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { isDated } from '../addresses/patterns';
import type { ArchiveScope } from '../addresses/archives';
import { boundTo, treeFrom, type Nested } from './build';
import type { Tree } from '../schema/element';

/** How a list of these types begins: the newest first where all of them are told by their day, else by title. */
export const startOrder = (types: readonly ContentType[]): { steps: string[]; down: boolean }[] =>
  types.length && types.every(isDated) ? [{ steps: ['@published'], down: true }] : [{ steps: ['@title'], down: false }];

/** A fact on one line: its label, then the value; gone together where the value is empty. */
const fact = (field: Field, from: string): Nested => ({
  kind: 'text',
  name: field.label,
  slots: { text: boundTo(from, [field.id], { before: `${field.label}: ` }) },
});

/** A heading of level 2 over what it is about, both gone where the value is empty. */
const titled = (field: Field, from: string, ...children: Nested[]): Nested => ({
  kind: 'box',
  name: field.label,
  props: { as: 'section', gap: 's' },
  rule: { group: 'all', rules: [{ test: 'filled', path: { from, steps: [field.id] } }] },
  children: [{ kind: 'heading', props: { level: 2 }, slots: { text: { fixed: field.label } } }, ...children],
});

/** What stands for a record: its first picture, else its first pictures. */
const leadPicture = (fields: readonly Field[]): Field | undefined =>
  fields.find((field) => roleOfField(field) === 'picture') ?? fields.find((field) => roleOfField(field) === 'pictures');

/** A rating is a number with small bounds and halves or whole steps, such as 0 to 5. */
function isRating(field: Field): boolean {
  const { min, max } = boundsIn(field.settings);
  const { unit } = unitIn(field.settings);
  return (
    Boolean(kindOf(field)?.kind.family.slots.includes('number')) && min === 0 && max !== undefined && max <= 10 && !unit
  );
}

/**
 * A record page worth keeping, from what a type has: the lead picture, title and terms on top, facts in two columns,
 * running text, then everything else under a heading of its own that goes with it where there is nothing.
 */
export function recordTree(type: ContentType, model: ModelIndex): Tree {
  const from = 'record';
  const bound = (field: Field, more?: Parameters<typeof boundTo>[2]) => boundTo(from, [field.id], more);
  const fields = type.fields.filter((field) => kindOf(field));
  const lead = leadPicture(fields);
  const facts: Nested[] = [];
  const story: Nested[] = [];
  const rest: Nested[] = [];
  const calls: Nested[] = [];
  for (const field of fields) {
    const role = roleOfField(field);
    if (field === lead && role === 'picture') continue;
    if (isRating(field))
      facts.push({
        kind: 'rating',
        name: field.label,
        props: { of: boundsIn(field.settings).max },
        slots: { value: bound(field), label: { fixed: field.label } },
      });
    else if (role === 'story') story.push({ kind: 'text', name: field.label, slots: { text: bound(field) } });
    else if (role === 'picture' || role === 'pictures')
      rest.push(titled(field, from, { kind: role, slots: { source: bound(field) } }));
    else if (role === 'player') rest.push({ kind: 'embed', name: field.label, slots: { source: bound(field) } });
    else if (role === 'rows') rest.push(titled(field, from, { kind: 'table', slots: { rows: bound(field) } }));
    else if (role === 'map')
      rest.push(titled(field, from, { kind: 'map', slots: { place: bound(field), caption: bound(field) } }));
    else if (role === 'icon') facts.push({ kind: 'icon', name: field.label, slots: { icon: bound(field) } });
    else if (role === 'button')
      calls.push({ kind: 'button', name: field.label, slots: { label: { fixed: field.label }, link: bound(field) } });
    else if (role === 'link')
      facts.push({
        kind: 'link',
        name: field.label,
        slots: { label: bound(field, { before: `${field.label}: ` }), link: bound(field) },
      });
    else if (role === 'loop') rest.push(titled(field, from, { kind: 'list', slots: { items: bound(field) } }));
    else if (role) facts.push(fact(field, from));
  }
  const terms = type.taxonomyIds.flatMap((id): Nested[] => {
    const taxonomy = model.taxonomy(id);
    if (!taxonomy) return [];
    return [{ kind: 'terms', slots: { terms: boundTo(from, [`@terms:${id}`]), label: { fixed: taxonomy.name } } }];
  });
  const some = (nested: Nested): Nested[] => (nested.children?.length ? [nested] : []);
  return treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Title',
        props: { as: 'header', gap: 's' },
        children: [{ kind: 'heading', props: { level: 1 }, slots: { text: boundTo(from, ['@title']) } }, ...terms],
      },
      ...(lead && roleOfField(lead) === 'picture'
        ? [{ kind: 'picture', name: lead.label, props: { shape: 'wide' }, slots: { source: bound(lead) } }]
        : []),
      ...some({ kind: 'columns', name: 'Facts', props: { share: 'facts', gap: 's' }, children: facts }),
      ...story,
      ...some({ kind: 'box', name: 'What to do', props: { flow: 'row', gap: 'm' }, children: calls }),
      ...rest,
    ],
  });
}

/**
 * An archive worth keeping: what it lists and what is said of it; then for one type cards with the lead picture, the
 * title that leads on and the beginning of the text, for several a line on each with the name of its type.
 */
export function archiveTree(scope: ArchiveScope, model: ModelIndex): Tree {
  const types = scope.typeIds.flatMap((id) => model.type(id) ?? []);
  const only = types.length === 1 ? types[0] : undefined;
  const taxonomy = scope.taxonomyId ? model.taxonomy(scope.taxonomyId) : undefined;
  const described = scope.on !== 'date' && scope.on !== 'search';
  return treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('archive', ['@title']) } },
      ...(described ? [{ kind: 'text', slots: { text: boundTo('archive', ['@description']) } }] : []),
      ...(scope.on === 'search' ? [{ kind: 'search', props: { shown: true } }] : []),
      ...(taxonomy?.tree ? [termsBelow(taxonomy.id, taxonomy.name)] : []),
      only ? cards(only) : lines(scope),
    ],
  });
}

/** The terms right below that of the archive, each leading to its own. */
const termsBelow = (taxonomyId: string, name: string): Nested => ({
  kind: 'loop',
  id: 'below',
  name: `${name} below`,
  props: {
    source: { from: 'terms', taxonomyId, which: 'below', path: { from: 'archive', steps: ['@term'] } },
    arrange: 'row',
    gap: 's',
  },
  children: [
    {
      kind: 'link',
      props: { look: 'quiet' },
      slots: { label: boundTo('loop:below', ['name']), link: boundTo('loop:below', ['address']) },
    },
  ],
});

function cards(type: ContentType): Nested {
  const id = 'items';
  const at = `loop:${id}`;
  const picture = type.fields.find((field) => roleOfField(field) === 'picture');
  const text = type.fields.find((field) => roleOfField(field) === 'story');
  const begins = { formats: [{ format: 'cut', options: { count: 25, by: 'words' } }] };
  return {
    kind: 'loop',
    id,
    name: type.name,
    props: {
      source: { from: 'archive' },
      order: startOrder([type]),
      perPage: picture ? 12 : 20,
      arrange: picture ? 'grid' : 'list',
      gap: picture ? 'l' : 's',
    },
    slots: { nothing: { fixed: 'There is nothing here yet.' } },
    children: [
      ...(picture
        ? [
            {
              kind: 'picture',
              props: { shape: 'landscape' },
              slots: { source: boundTo(at, [picture.id]), link: boundTo(at, ['@address']) },
            },
          ]
        : []),
      {
        kind: 'heading',
        props: { level: 2, size: 's' },
        slots: { text: boundTo(at, ['@title']), link: boundTo(at, ['@address']) },
      },
      ...(text ? [{ kind: 'text', props: { size: 's' }, slots: { text: boundTo(at, [text.id], begins) } }] : []),
    ],
  };
}

function lines({ on }: ArchiveScope): Nested {
  const at = 'loop:items';
  const nothing = on === 'search' ? 'Nothing was found.' : 'There is nothing here yet.';
  return {
    kind: 'loop',
    id: 'items',
    name: 'Entry',
    props: {
      source: { from: 'archive' },
      order: [{ steps: ['@title'], down: false }],
      perPage: 20,
      arrange: 'list',
      gap: 'm',
    },
    slots: { nothing: { fixed: nothing } },
    children: [
      { kind: 'text', props: { size: 's', tone: 'quiet' }, slots: { text: boundTo(at, ['@type']) } },
      {
        kind: 'heading',
        props: { level: 2, size: 's' },
        slots: { text: boundTo(at, ['@title']), link: boundTo(at, ['@address']) },
      },
      { kind: 'text', props: { size: 's' }, slots: { text: boundTo(at, ['@excerpt']) } },
    ],
  };
}

/** A part before anything is placed in it, and a frame with the site's name, the page and a line below. */
export const frameTree = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Frame',
    props: { gap: 'none' },
    children: [
      {
        kind: 'section',
        name: 'Head of the page',
        props: { pad: 's', gap: 's' },
        children: [
          {
            kind: 'link',
            name: 'Site name',
            props: { look: 'quiet' },
            slots: { label: boundTo('site', ['@name']), link: boundTo('site', ['@home']) },
          },
        ],
      },
      { kind: 'slot' },
      {
        kind: 'section',
        name: 'Foot of the page',
        props: { pad: 'm', ground: 'tint', gap: 's' },
        children: [
          { kind: 'text', props: { size: 's', tone: 'quiet' }, slots: { text: boundTo('site', ['@tagline']) } },
        ],
      },
    ],
  });
