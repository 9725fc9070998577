import { fold } from '../../base/text';
import { defineFamily, IN_WORDS } from '../family';

type Led = string | { url: string };
const url = (value: Led): string => (typeof value === 'object' ? value.url : value);

/** What leads somewhere outside of the records: web, mail and telephone addresses; compared by the address. */
export const link = defineFamily<Led>({
  name: 'link',
  columns: { text: (value) => fold(url(value)), sort: url },
  order: 'sort',
  tests: ['text'],
  formats: ['address'],
  slots: [...IN_WORDS, 'url'],
  role: 'button',
  severalRole: 'button',
  operand: 'words',
  operandProblem: (value) => (typeof value === 'string' ? undefined : 'This is compared with text.'),
  quoted: true,
  possible: { by: 'words' },
  groups: true,
});
