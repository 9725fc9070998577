import { collationKey } from '../../base/collation';
import { defineFamily, IN_WORDS } from '../family';

/** Records. Their links stand in a table of their own. */
export const relation = defineFamily<number>({
  name: 'relation',
  columns: { number: (value) => value },
  listed: true,
  tests: ['records'],
  formats: [],
  slots: [...IN_WORDS, 'url'],
  role: 'link',
  severalRole: 'loop',
  operand: 'records',
  operandProblem: (value) => (typeof value === 'number' ? undefined : 'Choose a record.'),
  possible: { by: 'members', other: (index) => -1 - index },
  groups: true,
  groupOrder: (_value, text) => collationKey(text),
  leads: 'record',
  told: (value, reader, origin) => {
    const other = reader.record(Number(value));
    if (!other) return undefined;
    const is = reader.model.type(other.typeId)?.structured?.is ?? 'Thing';
    return { '@type': is, name: other.title, url: origin + reader.addressOf(other) };
  },
});
