import sign from 'lucide/dist/esm/icons/shapes.mjs';
import { z } from 'zod';
import { icon as family } from '../families/icon';
import { iconNames, isIcon } from '../../base/icons';
import { defineKind, pickOne } from './kind';

export const icon = defineKind({
  name: 'icon',
  label: 'Icon',
  sign,
  family,
  forFields: true,
  control: 'icon',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: 'This is an icon of the set.' })
      .refine(isIcon, { error: 'There is no icon of this name in the set.' }),
  isEmpty: (value) => value === '',
  text: (value) => value.replace(/-/g, ' '),
  schema: () => ({ type: 'string', enum: [...iconNames] }),
  fromCell: (cell) => cell.trim(),
  invent: (make) => pickOne(make, iconNames),
});
