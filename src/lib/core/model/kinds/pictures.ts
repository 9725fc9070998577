import { z } from 'zod';
import { defineKind, pickOne } from './kind';
import { Limits, limitControls } from './limits';

export const pictures = defineKind({
  name: 'pictures',
  label: 'Pictures',
  glyph: '▦',
  family: 'picture',
  forFields: true,
  control: 'media',
  settings: z.object(Limits),
  settingControls: limitControls,
  many: () => true,
  limits: (settings) => settings,
  value: () => z.number({ error: 'This is a picture from the library.' }).int().positive(),
  isEmpty: (value) => !value,
  gone: (value, reader) => !reader.media(value),
  text: (value, _settings, reader) => reader.media(value)?.alt ?? '',
  index: (value) => ({ number: value }),
  schema: () => ({ type: 'integer', minimum: 1, description: 'Number of a picture in the library' }),
  pointsAt: 'media',
  invent: (make) => pickOne(make, make.pictures),
});
