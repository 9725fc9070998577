import type { z } from 'zod';
import type { ContentTypeSchema, TaxonomySchema, TermSchema } from '../../core/schema/model';
import type { Group } from '../../core/schema/rule';
import { boundTo, treeFrom } from '../../core/templates/build';

/** Bodies that several operations take, for the document of the API. */

export const tree = treeFrom({
  kind: 'section',
  children: [{ kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } }],
});

export const type: z.input<typeof ContentTypeSchema> = {
  id: 'hut',
  key: 'hut',
  name: 'Hut',
  plural: 'Huts',
  base: 'huts',
  taxonomyIds: ['region'],
  fields: [
    { id: 'hut_beds', key: 'beds', label: 'Beds', kind: 'number', settings: { unit: 'beds' } },
    { id: 'hut_note', key: 'note', label: 'Note', kind: 'text' },
  ],
};

export const rule: Group = {
  group: 'all',
  rules: [{ test: 'filled', path: { from: 'record', steps: ['hut_note'] } }],
};

export const serves = [{ on: 'type' as const, typeId: 'hut' }];

export const taxonomy: z.input<typeof TaxonomySchema> = { id: 'region', key: 'region', name: 'Region', tree: true };

export const term: z.input<typeof TermSchema> = {
  id: 'north',
  taxonomyId: 'region',
  parentId: null,
  name: 'North',
  slug: 'north',
  position: 0,
};
