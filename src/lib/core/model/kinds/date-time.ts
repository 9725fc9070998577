import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/calendar-clock.mjs';
import { z } from 'zod';
import { dateTime as family } from '../families/date-time';
import { writeInstant } from '../../base/write';
import { defineKind } from './kind';

export const dateTime = defineKind({
  name: 'datetime',
  label: 'Date and time',
  sign,
  family,
  forFields: true,
  control: 'datetime',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.iso.datetime({ offset: true, error: 'This is a moment with its offset, written 2026-05-31T14:30:00+02:00.' }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => writeInstant(value, reader.model.site.locale, reader.model.site.timeZone),
  schema: () => ({ type: 'string', format: 'date-time', pattern: '^\\d{4}-\\d{2}-\\d{2}T' }),
  // RFC 3339 lets applications part date and time by a space (5.6, note).
  fromSchema: (node) => (isText(node, 'date-time') ? {} : undefined),
  fromCell: (cell) => cell.trim().replace(/^(\d{4}-\d{2}-\d{2}) /, '$1T'),
  invent: (make) =>
    new Date((make.today + Math.floor(make.random() * 365)) * 86_400_000 + Math.floor(make.random() * 96) * 900_000)
      .toISOString()
      .replace('.000Z', 'Z'),
});
