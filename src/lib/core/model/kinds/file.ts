import sign from 'lucide/dist/esm/icons/file.mjs';
import { z } from 'zod';
import { file as family } from '../families/file';
import { fileAddress } from '../media';
import { defineKind, pickOne } from './kind';

export const file = defineKind({
  name: 'file',
  label: 'File',
  sign,
  family,
  forFields: true,
  control: 'media',
  settings: z.object({}),
  settingControls: [],
  value: () => z.number({ error: 'This is a file from the library.' }).int().positive(),
  isEmpty: (value) => !value,
  gone: (value, reader) => !reader.media(value),
  text: (value, _settings, reader) => {
    const media = reader.media(value);
    return media ? media.alt || media.name : '';
  },
  url: (value, reader) => {
    const media = reader.media(value);
    return media ? fileAddress(media) : '';
  },
  schema: () => ({ type: 'integer', minimum: 1, description: 'Number of a file in the library' }),
  pointsAt: 'media',
  invent: (make) => pickOne(make, make.files),
});
