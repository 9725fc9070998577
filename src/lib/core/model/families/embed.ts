import { fold } from '../../base/text';
import { defineFamily, PRESENCE } from '../family';

export const embed = defineFamily<{ src: string }>({
  ...PRESENCE,
  name: 'embed',
  columns: { text: (value) => fold(value.src), sort: (value) => value.src },
  slots: ['blocks', 'url', 'embed'],
  role: 'player',
  severalRole: 'player',
  groups: false,
});
