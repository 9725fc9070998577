import { z } from 'zod';
import { writeInstant } from '../../formats/write';
import { defineKind } from './kind';

export const dateTime = defineKind({
  name: 'datetime',
  label: 'Date and time',
  glyph: '◔',
  family: 'datetime',
  forFields: true,
  control: 'datetime',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.iso.datetime({ offset: true, error: 'This is a moment with its offset, written 2026-05-31T14:30:00+02:00.' }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => writeInstant(value, reader.model.site.locale, reader.model.site.timeZone),
  index: (value) => ({ number: Date.parse(value) }),
});
