import { plainField } from '../field';
import { defineFamily, IN_WORDS } from '../family';

interface Settings {
  options?: { key: string; label: string }[];
  gone?: { key: string; label: string }[];
}
const optionsOf = (settings: unknown) => (settings as Settings).options ?? [];
/** With those that are gone, which records may still have. */
const allOf = (settings: unknown) => [...optionsOf(settings), ...((settings as Settings).gone ?? [])];

/** One of some options, or several; ordered as the options are. */
export const choice = defineFamily<string, Settings>({
  name: 'choice',
  columns: {
    text: (value) => value,
    number: (value, settings) => allOf(settings).findIndex((option) => option.key === value),
  },
  order: 'number',
  tests: ['choice', 'choices'],
  formats: ['choice'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'list',
  keyed: true,
  operand: 'answers',
  answers: (settings) => optionsOf(settings).map(({ key, label }) => ({ key, word: key, label, depth: 0 })),
  branch: (key) => ({ test: 'choice.is', operand: key }),
  facet: {
    by: 'answers',
    counted: 'number',
    answerAt: (at, settings) => allOf(settings)[at]?.key ?? '',
    keysOf: (value) => [String(value)],
    tests: (keys, many) => [{ test: many ? 'choices.any' : 'choice.oneof', operand: keys }],
  },
  possible: { by: 'answers', values: (settings) => allOf(settings).map(({ key }) => key) },
  groups: true,
  entries: {
    fields: (settings) => [plainField('value', 'Choice', 'choice', settings as Record<string, unknown>)],
    row: (value) => ({ value }),
  },
});
