import { newId } from '../../base/ids';
import sign from 'lucide/dist/esm/icons/waypoints.mjs';
import { z } from 'zod';
import { relation as family } from '../families/relation';
import { defineKind, neverEmpty, pickOne } from './kind';
import { Limits, limitControls } from './limits';

export const relation = defineKind({
  name: 'relation',
  label: 'Relation',
  sign,
  family,
  forFields: true,
  control: 'records',
  starts: (_from, { types }) => ({
    relationId: newId('rel'),
    side: 'a',
    many: true,
    typeIds: types[0] ? [types[0].id] : [],
  }),
  settings: z.object({
    /** The one fact both sides are views of; two fields with the same relation and different sides belong together. */
    relationId: z.string().min(1),
    side: z.enum(['a', 'b']),
    many: z.boolean(),
    typeIds: z.array(z.string()).min(1, { error: 'A relation says which content types it leads to.' }),
    ...Limits,
  }),
  settingControls: [
    { name: 'typeIds', label: 'Leads to', as: 'types' },
    { name: 'many', label: 'Several records', as: 'switch' },
    { name: 'relationId', label: 'On the other side', as: 'side' },
    ...limitControls,
  ],
  many: ({ many }) => many,
  limits: ({ least, most, many }) => (many ? { least, most } : { most: 1 }),
  value: () => z.number({ error: 'This is a record, by its number.' }).int().positive(),
  isEmpty: neverEmpty,
  gone: (value, reader) => !reader.record(value),
  text: (value, _settings, reader) => reader.record(value)?.title ?? '',
  url: (value, reader) => {
    const record = reader.record(value);
    return record ? reader.addressOf(record) : '';
  },
  schema: () => ({ type: 'integer', minimum: 1, description: 'Number of a record' }),
  pointsAt: 'record',
  invent: (make, { typeIds }) => pickOne(make, make.records(typeIds)),
});
