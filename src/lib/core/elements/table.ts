import { fieldsIn } from '../model/settings';
import sign from 'lucide/dist/esm/icons/table.mjs';
import { z } from 'zod';
import { kindOf, type Field } from '../model/model';
import type { Env } from '../paths/env';
import { writeValue } from '../formats/write-value';
import { altOf, drawImage, imagePlace, withoutMarkup } from './common';
import { atMost, PAGE_ROOM } from '../styles/available-width';
import { escapeHtml } from '../base/text';
import { box, PADDING, pointed, WORDS } from '../styles/boxes';
import { defineElement } from './element';

type Row = Record<string, unknown>;

/** One cell: its text, its pictures, or for rows within rows a line for each. */
function cell(field: Field, row: Row, env: Env): string {
  const known = kindOf(field);
  const value = row[field.id];
  if (!known || value === undefined) return '';
  const { kind, settings, many } = known;
  const pictures = kind.family.slots.includes('picture') || kind.family.slots.includes('pictures');
  if (pictures)
    return [value]
      .flat()
      .flatMap((id) => {
        const media = env.pool.media(id as number);
        return media ? drawImage(media, env, { alt: altOf(media), ...SMALL, cut: false, most: 320 }) : [];
      })
      .join('');
  const type = { kind, settings, many, label: field.label, typeIds: [] };
  if (kind.family.leads === 'entry')
    return `<ul>${(value as unknown[]).map((one) => `<li>${escapeHtml(kind.text(one, settings, env.reader))}</li>`).join('')}</ul>`;
  const written = escapeHtml(writeValue(value, type, env));
  const url = !many && kind.family.formats.includes('address') ? escapeHtml(kind.url?.(value, env.reader) ?? '') : '';
  return url ? `<a href="${url}">${written}</a>` : written;
}

const SMALL = imagePlace(atMost(PAGE_ROOM, 8));
const CELL = [...WORDS, ...PADDING, 'text', 'ground', 'border', 'borderColour'];

export const table = defineElement({
  name: 'table',
  label: 'Table from rows',
  about: 'Rows as lines and their sub-fields as columns; a column that is empty in every row is left out.',
  sign,
  group: 'Values',
  holds: false,
  props: z.object({
    columns: z.array(z.string().max(40)).max(60).default([]),
    head: z.boolean().default(true),
    lead: z.boolean().default(true),
  }),
  controls: [
    { name: 'columns', label: 'Columns', as: 'subfields', slot: 'rows' },
    { name: 'head', label: 'With headings', as: 'switch' },
    { name: 'lead', label: 'The first column names its row', as: 'switch' },
  ],
  slots: {
    rows: { label: 'Rows', shape: 'rows', required: true },
    caption: { label: 'Caption', shape: 'inline' },
  },
  brings: { roles: ['rows'], slot: 'rows' },
  never: ['text'],
  boxes: [
    box('head', 'Headings of columns', '& thead th', CELL),
    box('cell', 'Cells', '& tbody td, & tbody th', CELL),
    box('lead', 'First cells', '& tbody th', CELL),
    box('caption', 'Caption', '& caption', [...WORDS, 'text']),
    pointed('link', 'Links in it', '& a'),
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [source, caption] = [slot('rows'), slot('caption')];
    const open = `<div${attributes('table')} role="group" tabindex="0" aria-label="`;
    const none = studio && !source.bound ? blank('Table without rows') : '';
    return (env) => {
      const found = source.found(env);
      const all = fieldsIn(found?.type.settings).filter((f) => kindOf(f));
      const chosen = props.columns.length
        ? props.columns.flatMap((id) => all.find((field) => field.id === id) ?? [])
        : all;
      if (!found || !chosen.length) return none;
      const rows = (Array.isArray(found.value) ? found.value : [found.value]) as Row[];
      const cells = rows.map((row) => chosen.map((field) => cell(field, row, env)));
      const kept = chosen.map((_, at) => at).filter((at) => cells.some((line) => line[at]));
      if (!kept.length) return none;
      const side = (at: number) => (kindOf(chosen[at] as Field)?.kind.family.figures ? ' class="figures"' : '');
      const head = props.head
        ? `<thead><tr>${kept.map((at) => `<th scope="col"${side(at)}>${escapeHtml((chosen[at] as Field).label)}</th>`).join('')}</tr></thead>`
        : '';
      const body = cells
        .map((line) => {
          const parts = kept.map((at, i) =>
            props.lead && i === 0 ? `<th scope="row"${side(at)}>${line[at]}</th>` : `<td${side(at)}>${line[at]}</td>`,
          );
          return `<tr>${parts.join('')}</tr>`;
        })
        .join('');
      const words = caption.inline(env);
      const name = withoutMarkup(words) || escapeHtml(found.type.label.split(' → ').at(-1) ?? '');
      return `${open}${name}"><table>${words && `<caption>${words}</caption>`}${head}<tbody>${body}</tbody></table></div>`;
    };
  },
});
