import '../../src/lib/core/base/icons/all';
import type { ContentRecord, Media } from '../../src/lib/core/schema/record';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { plainField } from '../../src/lib/core/model/field';
import { indexModel, type Field } from '../../src/lib/core/model/model';
import type { Model } from '../../src/lib/core/schema/model';
import { makeEnv, type Env } from '../../src/lib/core/paths/env';
import type { Path } from '../../src/lib/core/schema/path';
import type { Scopes } from '../../src/lib/core/paths/scopes';

/** A small model with every kind in it, for tests of the core. */
export const field = (id: string, kind: string, settings: Record<string, unknown> = {}, label = id): Field =>
  plainField(id, label, kind, settings);

/** A content type of nothing but these fields, under the id `box`. */
export const boxType = (fields: Field[], taxonomyIds: string[] = []) => ({
  id: 'box',
  key: 'box',
  name: 'Box',
  plural: 'Boxes',
  base: 'boxes',
  taxonomyIds,
  fields,
});

export const model: Model = {
  menus: [
    {
      id: 'main',
      name: 'Main',
      version: 1,
      entries: [
        { id: 'home', leads: { to: 'front' }, below: [] },
        {
          id: 'all',
          leads: { to: 'type', typeId: 'house' },
          below: [{ id: 'north', leads: { to: 'term', termId: 'north' }, below: [] }],
        },
      ],
    },
  ],
  site: { name: 'Test site', tagline: 'For tests', locale: 'en-GB', timeZone: 'UTC' },
  types: [
    {
      id: 'house',
      key: 'house',
      name: 'House',
      plural: 'Houses',
      base: 'houses',
      taxonomyIds: ['area'],
      fields: [
        field('name', 'text', {}, 'Name'),
        field('story', 'longtext', {}, 'Story'),
        field('height', 'number', { unit: 'm', decimals: 0 }, 'Height'),
        field('open', 'yesno', {}, 'Open'),
        field('built', 'date', {}, 'Built'),
        field('seen', 'datetime', {}, 'Seen'),
        field(
          'state',
          'choice',
          { options: ['good', 'fair', 'poor'].map((key) => ({ key, label: key.toUpperCase() })) },
          'State',
        ),
        field('web', 'link', {}, 'Web'),
        field('photo', 'picture', {}, 'Photo'),
        field('keeper', 'relation', { relationId: 'keeps', side: 'a', many: false, typeIds: ['person'] }, 'Keeper'),
        field('ways', 'relation', { relationId: 'ways', side: 'a', many: true, typeIds: ['way'] }, 'Ways'),
        field('gallery', 'pictures', {}, 'Gallery'),
        field('stars', 'number', { min: 0, max: 5 }, 'Stars'),
        field('film', 'embed', { hosts: [] }, 'Film'),
        field('sign', 'icon', {}, 'Sign'),
        field('tint', 'colour', {}, 'Tint'),
        field('spot', 'place', {}, 'Spot'),
        field('opens', 'time', {}, 'Opens'),
        field('phone', 'phone', {}, 'Phone'),
        field('fee', 'money', { currency: 'EUR' }, 'Fee'),
        field('prose', 'richtext', {}, 'Prose'),
        field(
          'uses',
          'choices',
          { options: ['walk', 'ski', 'rest'].map((key) => ({ key, label: key.toUpperCase() })) },
          'Uses',
        ),
        field(
          'seasons',
          'rows',
          {
            fields: [
              field('season', 'text', {}, 'Season'),
              field('price', 'number', { unit: '£' }, 'Price'),
              field('deposit', 'money', { currency: 'EUR' }, 'Deposit'),
              field('guide', 'relation', { relationId: 'g', side: 'a', many: false, typeIds: ['person'] }, 'Guide'),
              field(
                'beds',
                'rows',
                { fields: [field('bed', 'text', {}, 'Bed'), field('count', 'number', {}, 'Count')] },
                'Beds',
              ),
            ],
          },
          'Seasons',
        ),
      ],
    },
    {
      id: 'person',
      key: 'person',
      name: 'Person',
      plural: 'People',
      base: 'people',
      taxonomyIds: [],
      fields: [
        field('face', 'picture', {}, 'Face'),
        field('age', 'number', {}, 'Age'),
        field('keeps', 'relation', { relationId: 'keeps', side: 'b', many: true, typeIds: ['house'] }, 'Keeps'),
      ],
    },
    {
      id: 'way',
      key: 'way',
      name: 'Way',
      plural: 'Ways',
      base: 'ways',
      taxonomyIds: ['area'],
      fields: [
        field('km', 'number', { unit: 'km' }, 'Length'),
        field('houses', 'relation', { relationId: 'ways', side: 'b', many: true, typeIds: ['house'] }, 'Houses'),
      ],
    },
  ],
  taxonomies: [{ id: 'area', key: 'area', name: 'Area', tree: true }],
  terms: [
    {
      id: 'north',
      taxonomyId: 'area',
      parentId: null,
      name: 'North',
      slug: 'north',
      position: 0,
      description: '',
      pictureId: null,
    },
    {
      id: 'hill',
      taxonomyId: 'area',
      parentId: 'north',
      name: 'Hill',
      slug: 'hill',
      position: 0,
      description: '',
      pictureId: null,
    },
    {
      id: 'peak',
      taxonomyId: 'area',
      parentId: 'hill',
      name: 'Peak',
      slug: 'peak',
      position: 0,
      description: '',
      pictureId: null,
    },
    {
      id: 'south',
      taxonomyId: 'area',
      parentId: null,
      name: 'South',
      slug: 'south',
      position: 1,
      description: '',
      pictureId: null,
    },
  ],
  authors: [{ id: 1, name: 'Ada Writer', slug: 'ada-writer', about: '<p>Writes.</p>', pictureId: null }],
  rules: [],
};

export const index = indexModel(model);

export function record(
  id: number,
  typeId: string,
  values: Record<string, unknown> = {},
  more: Partial<ContentRecord> = {},
): ContentRecord {
  return {
    id,
    typeId,
    title: `${typeId} ${id}`,
    slug: `${typeId}-${id}`,
    status: 'published',
    created: '2026-01-01T10:00:00.000Z',
    changed: '2026-01-02T10:00:00.000Z',
    published: '2026-01-03T10:00:00.000Z',
    values,
    terms: [],
    authorId: null,
    generated: false,
    version: 1,
    ...more,
  };
}

export const picture = (id: number, alt = `Picture ${id}`): Media => ({
  id,
  name: `${id}.webp`,
  mime: 'image/webp',
  width: 1600,
  height: 900,
  alt,
  size: 1000,
  focalX: 0.5,
  focalY: 0.5,
});

export const houseScopes: Scopes = { recordTypeIds: ['house'], loops: [] };

/** An environment over these records, with the first as the page's own. */
export function envOf(records: ContentRecord[], media: Media[] = [], more: Partial<Env> = {}, drafts = false): Env {
  return {
    ...makeEnv({ model: index, pool: memoryPool(records, media, drafts), today: '2026-06-15', record: records[0] }),
    ...more,
  };
}

export const own = (...steps: string[]): Path => ({ from: 'record', steps });
