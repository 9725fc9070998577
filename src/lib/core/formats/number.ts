import { z } from 'zod';
import { defineFormat } from './format';
import { writeNumber } from './write';

export const number = defineFormat({
  name: 'number',
  label: 'Number',
  families: ['number'],
  options: z.object({
    decimals: z.number().int().min(0).max(10).default(0),
    grouping: z.boolean().default(true),
    unit: z.boolean().default(true),
  }),
  controls: [
    { name: 'decimals', label: 'Decimals', as: 'number' },
    { name: 'grouping', label: 'Group thousands', as: 'switch' },
    { name: 'unit', label: 'With its unit', as: 'switch' },
  ],
  write: (value, { decimals, grouping, unit }, context) =>
    writeNumber(
      Number(value),
      context.site.locale,
      { minimumFractionDigits: decimals, maximumFractionDigits: decimals, useGrouping: grouping },
      unit ? context.unit : undefined,
    ),
});
