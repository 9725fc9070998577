import type { Field } from '../../schema/field';
import { defineFamily, IN_WORDS, PRESENCE } from '../family';

export const rows = defineFamily<Record<string, unknown>, { fields: Field[] }>({
  ...PRESENCE,
  name: 'rows',
  columns: {},
  repeats: true,
  slots: [...IN_WORDS, 'rows'],
  role: 'rows',
  severalRole: 'rows',
  groups: false,
  leads: 'entry',
  entries: {
    fields: (settings) => (settings as { fields: Field[] }).fields,
    row: (value) => value as Record<string, unknown>,
  },
});
