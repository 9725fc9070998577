import { typeOfNode } from './schema-node';
import sign from 'lucide/dist/esm/icons/hash.mjs';
import { z } from 'zod';
import { number as family } from '../families/number';
import { currencyOf, currencyOptions } from '../../base/currency';
import { groupingOf, numberWriter } from '../../base/write';
import { defineKind, neverEmpty } from './kind';

/** A number as JSON writes it (RFC 8259, 6), with a plus sign allowed. */
const NUMBER = /^[+-]?\d+(\.\d+)?([eE][+-]?\d+)?$/;

interface NumberSettings {
  decimals?: number;
  unit?: string;
  unitOne?: string;
  grouping?: boolean;
}

/** As the field's own text has it; an amount of money as its currency is written everywhere. */
function writerOf({ decimals, ...settings }: NumberSettings, locale: string): (value: number) => string {
  const currency = currencyOf(settings.unit);
  if (currency) return numberWriter(locale, currencyOptions(currency, decimals));
  return numberWriter(locale, { maximumFractionDigits: decimals ?? 10, useGrouping: groupingOf(settings) }, settings);
}

export const number = defineKind({
  name: 'number',
  label: 'Number',
  sign,
  family,
  forFields: true,
  control: 'number',
  settings: z.object({
    unit: z.string().max(20).optional(),
    /** The unit after one of it, where it is a word: “remark” beside “remarks”. */
    unitOne: z.string().max(20).optional(),
    /** Whether thousands stand apart. Where a field does not say so, from five digits on without a unit, so that years stay whole. */
    grouping: z.boolean().optional(),
    decimals: z.number().int().min(0).max(10).optional(),
    min: z.number().optional(),
    max: z.number().optional(),
  }),
  settingControls: [
    { name: 'unit', label: 'Unit', as: 'words', help: 'Written after the number, such as m or km.' },
    { name: 'unitOne', label: 'Word for one', as: 'words', help: 'Where the unit is a word: remark, beside remarks.' },
    { name: 'decimals', label: 'Decimals', as: 'number' },
    {
      name: 'grouping',
      label: 'Group thousands',
      as: 'switch',
      help: 'Off for years, house numbers and postal codes.',
    },
    { name: 'min', label: 'Smallest', as: 'number' },
    { name: 'max', label: 'Largest', as: 'number' },
  ],
  value: ({ decimals, min, max }) => {
    let schema = z.number({ error: 'This is a number.' });
    if (min !== undefined) schema = schema.min(min, { error: `This is at least ${min}.` });
    if (max !== undefined) schema = schema.max(max, { error: `This is at most ${max}.` });
    if (decimals === undefined) return schema;
    const message = decimals === 0 ? 'This is a whole number.' : `This has ${decimals} decimals at most.`;
    return schema.refine((value) => Number(value.toFixed(decimals)) === value, { error: message });
  },
  isEmpty: neverEmpty,
  text: (value, settings, reader) => writerOf(settings, reader.model.site.locale)(value),
  writer: (settings, site) => writerOf(settings, site.locale),
  schema: ({ decimals, min, max }) => ({
    type: decimals === 0 ? 'integer' : 'number',
    ...(decimals ? { multipleOf: Number(`1e-${decimals}`) } : {}),
    ...(min === undefined ? {} : { minimum: min }),
    ...(max === undefined ? {} : { maximum: max }),
  }),
  fromSchema: (node) => {
    const type = typeOfNode(node);
    if (type !== 'integer' && type !== 'number') return undefined;
    const { minimum: min, maximum: max, multipleOf } = node;
    const decimals = type === 'integer' ? 0 : multipleOf ? Math.max(0, Math.round(-Math.log10(multipleOf))) : undefined;
    return { min, max, decimals };
  },
  fromCell: (cell) => (NUMBER.test(cell.trim()) ? Number(cell) : cell),
  toCell: (value) => String(value),
  invent: (make, { decimals = 0, min, max }) => {
    const low = min ?? Math.min(0, max ?? 0);
    const value = low + make.random() * ((max ?? Math.max(low, 0) + 100) - low);
    return Math.min(max ?? Infinity, Math.max(low, Number(value.toFixed(decimals))));
  },
});
