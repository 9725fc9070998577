import { kindOf, type ContentType, type ModelIndex } from '../model/model';
import { boundTo, treeFrom, type Nested } from './build';
import type { Tree } from './template';

/** A plain readable record page for a type that has no template of its own: each field under its label. */
export function plainRecordTree(type: ContentType, model: ModelIndex): Tree {
  const fields = type.fields.flatMap((field): Nested[] => {
    const family = kindOf(field)?.kind.family;
    if (!family) return [];
    if (family === 'picture')
      return [
        {
          kind: 'picture',
          slots: { source: boundTo('record', [field.id], field.kind === 'pictures' ? { take: 'first' } : {}) },
        },
      ];
    if (['longtext', 'richtext', 'embed'].includes(field.kind))
      return [{ kind: 'text', slots: { text: boundTo('record', [field.id]) } }];
    return [{ kind: 'text', slots: { text: boundTo('record', [field.id], { before: `${field.label}: ` }) } }];
  });
  const terms = type.taxonomyIds.flatMap((id): Nested[] => {
    const taxonomy = model.taxonomy(id);
    return taxonomy
      ? [{ kind: 'text', slots: { text: boundTo('record', [`@terms:${id}`], { before: `${taxonomy.name}: ` }) } }]
      : [];
  });
  const title: Nested = { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } };
  return treeFrom({ kind: 'box', props: { as: 'article' }, children: [title, ...fields, ...terms] });
}

/** A plain archive for a type that has no template of its own: titles that lead to the records, 20 a page. */
export function plainArchiveTree(): Tree {
  return treeFrom({
    kind: 'box',
    children: [
      { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('archive', ['@title']) } },
      {
        kind: 'loop',
        id: 'plain-loop',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@title'], down: false }],
          perPage: 20,
          arrange: 'list',
          gap: 's',
        },
        slots: { nothing: { fixed: 'There is nothing here yet.' } },
        children: [
          {
            kind: 'heading',
            props: { level: 2, size: 's' },
            slots: { text: boundTo('loop:plain-loop', ['@title']), link: boundTo('loop:plain-loop', ['@address']) },
          },
        ],
      },
    ],
  });
}
