import sign from 'lucide/dist/esm/icons/clock.mjs';
import { z } from 'zod';
import { time as family } from '../families/time';
import { writeTime } from '../../base/write';
import { defineKind } from './kind';

/** A time of day without a date or zone: hours and minutes of RFC 3339's partial-time. */
const TIME = '^([01]\\d|2[0-3]):[0-5]\\d$';

export const time = defineKind({
  name: 'time',
  label: 'Time of day',
  sign,
  family,
  forFields: true,
  control: 'time',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: 'This is a time, written 14:30.' })
      .regex(new RegExp(TIME), { error: 'This is a time from 00:00 to 23:59, written 14:30.' }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => writeTime(value, reader.model.site.locale),
  schema: () => ({ type: 'string', pattern: TIME }),
  fromCell: (cell) => cell.trim().replace(/^(\d\d:\d\d):\d\d$/, '$1'),
  invent: (make) =>
    `${String(6 + Math.floor(make.random() * 16)).padStart(2, '0')}:${String(Math.floor(make.random() * 4) * 15).padStart(2, '0')}`,
});
