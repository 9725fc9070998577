import { defineFamily, IN_WORDS } from '../family';

export const yesNo = defineFamily<boolean>({
  name: 'yesno',
  columns: { number: (value) => (value ? 1 : 0) },
  order: 'number',
  tests: ['yesno'],
  formats: ['yesno'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  operand: 'none',
  answers: (settings) => {
    const { yes, no } = settings as { yes?: string; no?: string };
    return [
      { key: 'yes', word: 'yes', label: yes || 'Yes', depth: 0 },
      { key: 'no', word: 'no', label: no || 'No', depth: 0 },
    ];
  },
  branch: (key) => ({ test: `yesno.${key}` }),
  facet: {
    by: 'answers',
    counted: 'number',
    answerAt: (at) => (at === 1 ? 'yes' : 'no'),
    keysOf: (value) => [value ? 'yes' : 'no'],
    // Both ticked asks for either, which is not the same as asking for nothing: empties are neither.
    tests: (keys) => [{ test: keys.length > 1 ? 'filled' : `yesno.${keys[0]}` }],
  },
  possible: { by: 'answers', values: () => [true, false] },
  groups: true,
  told: (value) => value,
});
