import { defineFamily, IN_WORDS, PRESENCE } from '../family';

export const colour = defineFamily<string>({
  ...PRESENCE,
  name: 'colour',
  columns: { text: (value) => value, sort: (value) => value },
  order: 'sort',
  slots: [...IN_WORDS, 'colour'],
  role: 'words',
  severalRole: 'words',
});
