import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/calendar.mjs';
import { z } from 'zod';
import { date as family } from '../families/date';
import { dayOf, isFullDate, writeDate } from '../../base/write';
import { defineKind } from './kind';

export const date = defineKind({
  name: 'date',
  label: 'Date',
  sign,
  family,
  forFields: true,
  control: 'date',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.string({ error: 'This is a date, written 2026-05-31.' }).refine(isFullDate, {
      error: 'This is a day of the calendar, written 2026-05-31.',
    }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => writeDate(value, reader.model.site.locale, 'long'),
  schema: () => ({ type: 'string', format: 'date' }),
  fromSchema: (node) => (isText(node, 'date') ? {} : undefined),
  fromCell: (cell) => cell.trim(),
  invent: (make) => dayOf(make.today + Math.floor(make.random() * 730) - 365),
});
