import { fold } from '../../base/text';
import { defineFamily, IN_WORDS } from '../family';

export const text = defineFamily<string>({
  name: 'text',
  columns: { text: (value) => fold(value), sort: (value) => value },
  order: 'sort',
  tests: ['text'],
  formats: ['text'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  operand: 'words',
  quoted: true,
  possible: { by: 'words' },
  groups: true,
  wordsOfNumbers: true,
});
