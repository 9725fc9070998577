import { defineFamily, IN_WORDS, PRESENCE } from '../family';

export const file = defineFamily<number>({
  ...PRESENCE,
  name: 'file',
  columns: { number: (value) => value },
  slots: [...IN_WORDS, 'url'],
  role: 'link',
  severalRole: 'link',
  groups: false,
});
