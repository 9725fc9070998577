import { defineFamily, IN_WORDS } from '../family';
import { termFields } from '../term-fields';

const taxonomyOf = (settings: unknown): string => (settings as { taxonomyId: string }).taxonomyId;

/** The terms of a taxonomy that a record is filed under; these stand in a table of their own. */
export const terms = defineFamily<string, { taxonomyId: string }>({
  name: 'terms',
  columns: {},
  tests: ['terms'],
  formats: [],
  slots: [...IN_WORDS, 'terms'],
  role: 'terms',
  severalRole: 'terms',
  operand: 'answers',
  answers: (settings, model) =>
    model
      .termsOf(taxonomyOf(settings))
      .map(({ id, slug, name }) => ({ key: id, word: slug, label: name, depth: model.above(id).length - 1 })),
  facet: {
    by: 'answers',
    counted: 'terms',
    answerAt: () => '',
    keysOf: (value, model) => model.above(String(value)),
    tests: (keys) => [{ test: 'terms.below', operand: keys }],
  },
  possible: { by: 'answers', values: () => [] },
  groups: true,
  groupOrder: (value, _text, model) => {
    const term = model.term(String(value));
    return term ? model.termsOf(term.taxonomyId).indexOf(term) : -1;
  },
  entries: {
    fields: (settings) => termFields(taxonomyOf(settings)),
    row: (value, { model, termAddress }) => {
      const id = String(value);
      const term = model.term(id);
      return (
        term && {
          term: [id],
          name: term.name,
          description: term.description,
          picture: term.pictureId ?? undefined,
          address: { url: termAddress(id), label: term.name },
        }
      );
    },
  },
  told: (value, { model }) => model.term(String(value))?.name,
});
