import { fieldsIn } from '../model/settings';
import sign from 'lucide/dist/esm/icons/chart-column.mjs';
import { z } from 'zod';
import { drawChart } from '../draw/chart';
import { kindOf } from '../model/model';
import { writeValue } from '../formats/write-value';
import { withoutMarkup } from './common';
import { CAPTION, CUT, face, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

type Row = Record<string, unknown>;

export const chart = defineElement({
  name: 'chart',
  label: 'Chart from rows',
  about: 'The numbers of rows as bars or a line, drawn in the page itself.',
  sign,
  group: 'Values',
  holds: false,
  fills: true,
  props: z.object({
    as: z.enum(['bars', 'line']).default('bars'),
    label: z.string().max(40).default(''),
    value: z.string().max(40).default(''),
  }),
  controls: [
    { name: 'as', label: 'Drawn as', as: 'pick', options: pick('bars', 'Bars', 'line', 'A line') },
    { name: 'value', label: 'Number', as: 'subfield', slot: 'rows', fits: 'number' },
    { name: 'label', label: 'Names', as: 'subfield', slot: 'rows' },
  ],
  slots: {
    rows: { label: 'Rows', shape: 'rows', required: true },
    caption: { label: 'Caption', shape: 'inline' },
  },
  boxes: [face('& svg', [...SURFACE, 'ratio'], { css: CUT }), CAPTION],
  never: [...WORDS, 'text', 'hyphens', 'wrap'],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [source, caption] = [slot('rows'), slot('caption')];
    const open = `<figure${attributes('chart')}>`;
    const none = studio && !source.bound ? blank('Chart without rows') : '';
    return (env) => {
      const found = source.found(env);
      const fields = fieldsIn(found?.type.settings);
      const numbers = fields.filter((field) => kindOf(field)?.kind.family.figure);
      const value = numbers.find((field) => field.id === props.value) ?? numbers[0];
      const label = fields.find((field) => field.id === props.label) ?? fields.find((field) => field !== value);
      if (!found || !value) return studio && found ? blank('These rows have no number to draw') : none;
      const named = label && kindOf(label);
      const { kind, settings } = kindOf(value) ?? {};
      let unit: string | undefined;
      let others = 0;
      const points = (Array.isArray(found.value) ? (found.value as Row[]) : [found.value as Row]).flatMap((row) => {
        const entry = row[value.id];
        const figure = entry === undefined || entry === null ? undefined : kind?.family.figure?.(entry, settings);
        // What is of another unit than the first, such as an amount of another currency, cannot be drawn beside it.
        if (!figure) return [];
        if (unit !== undefined && figure.unit !== unit) {
          others++;
          return [];
        }
        unit = figure.unit;
        const type = named && { ...named, label: '', typeIds: [] };
        return [{ value: figure.value, label: type ? writeValue(row[label.id], type, env) : '' }];
      });
      const words = caption.inline(env);
      const drawn = drawChart(points, {
        as: props.as,
        locale: env.model.site.locale,
        unit,
        title: withoutMarkup(words) || value.label,
      });
      const note = studio && others ? blank(`Not drawn beside ${unit ?? ''}: ${others} of another currency`) : '';
      return drawn && `${open}${drawn}${words && `<figcaption>${words}</figcaption>`}</figure>${note}`;
    };
  },
});
