import { defineFamily, IN_WORDS, PRESENCE } from '../family';

export const icon = defineFamily<string>({
  ...PRESENCE,
  name: 'icon',
  columns: { text: (value) => value, sort: (value) => value },
  order: 'sort',
  slots: [...IN_WORDS, 'icon'],
  role: 'icon',
  severalRole: 'icon',
});
