import { optionsIn, typeOfNode } from './schema-node';
import sign from 'lucide/dist/esm/icons/list-checks.mjs';
import { z } from 'zod';
import { choice as family } from '../families/choice';
import { Gone, goneWords, keyFromCell, labelOf, oneOf, Options, optionSchema } from './choice';
import { defineKind, pickOne } from './kind';
import { Limits, limitControls } from './limits';

export const choices = defineKind({
  name: 'choices',
  label: 'Choices',
  sign,
  family,
  forFields: true,
  control: 'choices',
  starts: ({ options = [] }) => ({ options }),
  unset:
    'Give the options after the change; values that match one by its words are kept, the others would be lost when you save.',
  settings: z.object({ options: Options, gone: Gone, ...Limits }),
  settingControls: [{ name: 'options', label: 'Options', as: 'options', help: 'One on each line.' }, ...limitControls],
  many: () => true,
  limits: (settings) => settings,
  value: (settings) => oneOf(settings),
  tidy: (values, { options, gone = [] }) =>
    [...options, ...gone].map((option) => option.key).filter((key) => values.includes(key)),
  isEmpty: (value) => value === '',
  text: (value, settings) => labelOf(value, settings),
  called: (value, settings) => goneWords(value, settings),
  schema: ({ options }) => optionSchema(options),
  fromSchema: (node) => {
    const options = typeOfNode(node) === 'array' && node.items ? optionsIn(node.items) : undefined;
    return options && { options, least: node.minItems, most: node.maxItems };
  },
  fromCell: (cell, { options }) => keyFromCell(cell, options),
  invent: (make, { options }) => pickOne(make, options)?.key,
});
