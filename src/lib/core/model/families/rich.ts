import { fold, htmlText } from '../../base/text';
import { defineFamily } from '../family';

/** Text with markup; compared and told by its words. */
export const rich = defineFamily<string>({
  name: 'rich',
  columns: { text: (value) => fold(htmlText(value)) },
  tests: ['text'],
  formats: [],
  slots: ['inline', 'blocks'],
  role: 'story',
  severalRole: 'words',
  operand: 'words',
  operandProblem: (value) => (typeof value === 'string' ? undefined : 'This is compared with text.'),
  possible: { by: 'words' },
  groups: false,
  told: (value) => htmlText(String(value)) || undefined,
});
