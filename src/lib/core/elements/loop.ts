import { z } from 'zod';
import { LoopSettingsSchema } from '../loops/loop';
import { archiveAddress } from '../serving/addresses';
import type { Env, Turn } from '../paths/env';
import { defineElement, pick } from './element';

const props = LoopSettingsSchema.partial({ source: true }).extend({
  arrange: z.enum(['grid', 'list', 'row']).default('grid'),
  columns: z.number().int().min(1).max(6).default(3),
  gap: z.enum(['none', 's', 'm', 'l']).default('m'),
});

export const loop = defineElement({
  name: 'loop',
  label: 'Loop',
  about: 'Repeats what it holds for each record of a list.',
  glyph: '∥',
  group: 'Repeats and pieces',
  holds: true,
  props,
  controls: [
    {
      name: 'arrange',
      label: 'Arrange',
      as: 'pick',
      options: pick('grid', 'In a grid', 'list', 'Below each other', 'row', 'In a row'),
    },
    {
      name: 'columns',
      label: 'Columns',
      as: 'pick',
      options: [1, 2, 3, 4, 5, 6].map((value) => ({ value, label: String(value) })),
    },
    { name: 'gap', label: 'Gap', as: 'pick', options: pick('none', 'None', 's', 'Small', 'm', 'Medium', 'l', 'Large') },
  ],
  slots: { nothing: { label: 'When there is nothing', shape: 'blocks' } },
  loop: ({ source, filter, order, skip, limit, perPage }) => ({
    source: source ?? { from: 'archive' },
    filter,
    order,
    skip,
    limit,
    perPage,
  }),
  draw: ({ props: { arrange, columns, gap }, slot, children, childCount, attributes, studio, blank, loop: made }) => {
    if (!made) return () => '';
    const { depth, id } = made.scope;
    const classes = arrange === 'grid' ? ['grid', `columns-${columns}`] : [arrange === 'list' ? 'stack' : 'row'];
    const open = `<ul${attributes(...classes, `gap-${gap}`, 'loop')}>`;
    const nothing = slot('nothing');
    const emptyLoop = studio && !childCount ? blank('Loop with an empty item: drop a field here') : '';
    return (env) => {
      const list = env.pool.list(made, env);
      const { page, pages, total } = list;
      if (made.perPage && made.source.from === 'archive') env.paging = { page, pages, total };
      if (!list.records.length) {
        const words = nothing.blocks(env);
        return words ? `<div${attributes('nothing')}>${words}</div>` : studio && childCount === 0 ? emptyLoop : '';
      }
      if (emptyLoop) return emptyLoop;
      const before = env.turns[depth];
      const turn: Turn = { record: list.records[0]!, position: (page - 1) * (made.perPage ?? 0), results: total };
      env.turns[depth] = turn;
      let out = '';
      let at = 0;
      for (const record of list.records) {
        turn.record = record;
        turn.position++;
        const inner = children(env);
        if (inner) out += studio ? `<li data-loop="${id}" data-turn="${at}">${inner}</li>` : `<li>${inner}</li>`;
        at++;
      }
      env.turns[depth] = before;
      if (!out) return '';
      return `${open}${out}</ul>${pages > 1 ? drawPages(env, page, pages) : ''}`;
    };
  },
});

/** Links to the pages of an archive: the neighbours by name, and every page near this one by number. */
function drawPages(env: Env, page: number, pages: number): string {
  const base = env.archive?.type.base ?? '';
  const near = [...new Set([1, ...[-2, -1, 0, 1, 2].map((d) => page + d), pages])]
    .filter((n) => n >= 1 && n <= pages)
    .sort((a, b) => a - b);
  let numbers = '';
  for (const [i, n] of near.entries()) {
    if (i && n - (near[i - 1] as number) > 1) numbers += '<li>…</li>';
    numbers +=
      n === page
        ? `<li><a href="${archiveAddress(base, n)}" aria-current="page">${n}</a></li>`
        : `<li><a href="${archiveAddress(base, n)}">${n}</a></li>`;
  }
  const previous = page > 1 ? `<a href="${archiveAddress(base, page - 1)}" rel="prev">Previous page</a>` : '';
  const next = page < pages ? `<a href="${archiveAddress(base, page + 1)}" rel="next">Next page</a>` : '';
  return `<nav class="pages" aria-label="Pages">${previous}<ol>${numbers}</ol>${next}</nav>`;
}
