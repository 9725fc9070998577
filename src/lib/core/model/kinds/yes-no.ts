import { typeOfNode } from './schema-node';
import sign from 'lucide/dist/esm/icons/toggle-left.mjs';
import { z } from 'zod';
import { yesNo as family } from '../families/yes-no';
import { fold } from '../../base/text';
import { defineKind, neverEmpty } from './kind';

export const yesNo = defineKind({
  name: 'yesno',
  label: 'Yes or no',
  sign,
  family,
  forFields: true,
  control: 'yesno',
  settings: z.object({ yes: z.string().max(80).optional(), no: z.string().max(80).optional() }),
  settingControls: [
    { name: 'yes', label: 'Word for yes', as: 'words' },
    { name: 'no', label: 'Word for no', as: 'words' },
  ],
  value: () => z.boolean({ error: 'This is yes or no.' }),
  isEmpty: neverEmpty,
  text: (value, settings) => (value ? settings.yes || 'Yes' : settings.no || 'No'),
  schema: () => ({ type: 'boolean' }),
  fromSchema: (node) => (typeOfNode(node) === 'boolean' ? {} : undefined),
  fromCell: (cell, { yes = 'yes', no = 'no' }) => {
    const word = fold(cell.trim());
    if (['yes', 'true', '1', fold(yes)].includes(word)) return true;
    return ['no', 'false', '0', fold(no)].includes(word) ? false : cell;
  },
  toCell: (value) => (value ? 'yes' : 'no'),
  invent: (make) => make.random() < 0.5,
});
