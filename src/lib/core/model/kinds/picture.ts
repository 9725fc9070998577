import sign from 'lucide/dist/esm/icons/image.mjs';
import { z } from 'zod';
import { picture as family } from '../families/picture';
import { mediaAddress } from '../media';
import { defineKind, pickOne } from './kind';

export const picture = defineKind({
  name: 'picture',
  label: 'Picture',
  sign,
  family,
  forFields: true,
  control: 'media',
  settings: z.object({}),
  settingControls: [],
  value: () => z.number({ error: 'This is a picture from the library.' }).int().positive(),
  isEmpty: (value) => !value,
  gone: (value, reader) => !reader.media(value),
  text: (value, _settings, reader) => reader.media(value)?.alt ?? '',
  // A picture without words for those who cannot see it is one all the same.
  called: (value, _settings, reader) => {
    const media = reader.media(value);
    return media && !media.alt ? media.name || 'a picture' : undefined;
  },
  url: (value, reader) => {
    const media = reader.media(value);
    return media ? mediaAddress(media) : '';
  },
  schema: () => ({ type: 'integer', minimum: 1, description: 'Number of a picture in the library' }),
  pointsAt: 'media',
  invent: (make) => pickOne(make, make.pictures),
});
