import type { z } from 'zod';
import type { ContentTypeSchema, TaxonomySchema, TermSchema } from '../../core/schema/model';
import type { TemplateSchema } from '../../core/schema/template';
import type { Group } from '../../core/schema/rule';
import { boundTo, treeFrom } from '../../core/templates/build';

/** Bodies that several operations take, for the document of the API. */

const treeExample = treeFrom({
  kind: 'section',
  children: [{ kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } }],
});

export const typeExample: z.input<typeof ContentTypeSchema> = {
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

export const ruleExample: Group = {
  group: 'all',
  rules: [{ test: 'filled', path: { from: 'record', steps: ['hut_note'] } }],
};

export const servesExample = [{ on: 'type' as const, typeId: 'hut' }];

export const taxonomyExample: z.input<typeof TaxonomySchema> = {
  id: 'region',
  key: 'region',
  name: 'Region',
  tree: true,
};

export const termExample: z.input<typeof TermSchema> = {
  id: 'north',
  taxonomyId: 'region',
  parentId: null,
  name: 'North',
  slug: 'north',
  position: 0,
};

export const templateExample: z.input<typeof TemplateSchema> = {
  id: 'hut_page',
  name: 'Hut page',
  purpose: 'record',
  serves: servesExample,
  order: 0,
  version: 1,
  tree: treeExample,
};
