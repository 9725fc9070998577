import sign from 'lucide/dist/esm/icons/repeat.mjs';
import { z } from 'zod';
import { NO_PAGE, requestedPage, iterationAt } from '../loops/evaluate';
import { groupItems, type ItemGroup } from '../loops/group';
import { DEEPEST } from '../loops/loop';
import { LoopSettingsSchema } from '../schema/loop';
import type { CompiledLoop } from '../loops/compiled';
import type { ContentRecord } from '../schema/record';
import { questionOf, wanted } from '../loops/visitors';
import { pagesNear } from '../loops/near';
import { addressOfArchive } from '../addresses/archives';
import { searchOf } from '../loops/search';
import type { Env, Iteration } from '../paths/env';
import type { Thing } from '../paths/pool';
import { escapeHtml } from '../base/text';
import { box, face, PADDING, pointed, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, joined, pick, type Draw, type Making } from './element';
import { GAP_BROUGHT } from './common';
import { elementFor } from './sectioning';
import { atMost, columnsWidth, fitting, GAPS, gridWidth } from '../styles/available-width';
import type { IterationRole } from './turn';

const LENGTH = /^(0|(\d+|\d*\.\d+)(px|rem|em|ch|%))$/;

const props = LoopSettingsSchema.partial({ source: true }).extend({
  arrange: z.enum(['grid', 'list', 'row', 'masonry', 'sideways', 'table']).default('grid'),
  columns: z.number().int().min(1).max(6).default(3),
  /** Instead of a number of columns: as many as fit, each at least as wide. */
  least: z
    .string()
    .refine((text) => text === '' || LENGTH.test(text), {
      error: 'A width is a number with px, rem or ch, such as 14rem.',
    })
    .default(''),
  even: z.boolean().default(false),
  gap: z.enum(['none', 's', 'm', 'l']).default('m'),
});
type Props = z.infer<typeof props>;

/** Its items, as they stand in each way it is arranged. */
const ITEM = '& > li, & > ul > li, & > .group > ul > li, & > table > tbody > tr > *';

export const loop = defineElement({
  name: 'loop',
  label: 'Loop',
  about: 'Repeats what it holds for each record of a list, or for each row, picture, choice or term.',
  sign,
  group: 'Repeats and pieces',
  holds: true,
  fills: true,
  props,
  controls: [
    {
      name: 'arrange',
      label: 'Arrange',
      as: 'pick',
      options: pick(
        ...[
          'grid',
          'In a grid',
          'list',
          'Below each other',
          'row',
          'In a row',
          'masonry',
          'In columns of their own height',
        ],
        ...['sideways', 'In a row that scrolls', 'table', 'As a table, a column for each element'],
      ),
    },
    {
      name: 'columns',
      label: 'Columns',
      as: 'pick',
      options: [1, 2, 3, 4, 5, 6].map((value) => ({ value, label: String(value) })),
      when: { name: 'arrange', is: ['grid', 'masonry'] },
    },
    {
      name: 'least',
      label: 'Or as many as fit, each at least',
      as: 'words',
      when: { name: 'arrange', is: ['grid', 'masonry', 'sideways'] },
    },
    {
      name: 'even',
      label: 'Items equally high',
      as: 'switch',
      when: { name: 'arrange', is: ['grid', 'row', 'sideways'] },
    },
  ],
  slots: {
    nothing: { label: 'When there is nothing', shape: 'blocks' },
    between: { label: 'Between the items', shape: 'inline' },
  },
  loop: ({ source, filter, order, skip, limit, perPage, leaveOut, group, visitors }) => ({
    source: source ?? { from: 'archive' },
    filter,
    order,
    skip,
    limit,
    perPage,
    leaveOut,
    group,
    visitors,
  }),
  css: ({ arrange, least }) => (least && arrange !== 'list' ? `--least:${least}` : ''),
  rooms: ({ arrange, columns, least, gap }, room) => {
    const [, figure, unit] = /^([\d.]+)(px|rem|em)$/.exec(least) ?? [];
    const width = figure ? Number(figure) / (unit === 'px' ? 16 : 1) : 0;
    if (arrange === 'sideways') return atMost(room, width || 18);
    if (arrange !== 'grid' && arrange !== 'masonry') return room;
    if (width) return fitting(room, width, GAPS[gap]);
    if (arrange === 'grid') return gridWidth(room, columns, GAPS[gap]);
    const steps = [
      { from: 37.5, of: Math.min(columns, 2) },
      { from: 60, of: columns },
    ];
    return columnsWidth(room, steps, GAPS[gap]);
  },
  boxes: [
    face('&, & > .group > .loop', ['gap']),
    box('item', 'Each item', ITEM, [...SURFACE, ...PADDING, 'gap', 'items', 'text', 'minHeight', 'change'], {
      states: ['hover', 'focus'],
    }),
    box('head', 'Headings of a table', '& > table > thead th', [...WORDS, ...PADDING, 'ground', 'text']),
    box('between', 'What stands between', '& > .between', ['colour', 'size', 'weight']),
    pointed('pages', 'Links to its pages', '& + .pages a'),
  ],
  brought: GAP_BROUGHT,
  draw: (making) => {
    const { props: own, slot, attributes, studio, blank, loop: made, branches } = making;
    if (!made) return () => '';
    const { depth } = made.scope;
    if (depth >= DEEPEST) return () => (studio ? blank(`Loops go ${DEEPEST} deep at most`) : '');
    const parts = partsOf(branches);
    const frame = framing(making, made, own);
    const [nothing, between] = [slot('nothing'), slot('between')];
    const emptyLoop =
      studio && !parts.item.length && !parts.instead.length ? blank('Loop with an empty item: drop a field here') : '';
    const item = joined(parts.item.map((branch) => branch.whole));
    // Most loops have one item for all turns and nothing between them: these are drawn with one turn that moves on.
    const ordinary =
      !made.group &&
      !parts.instead.length &&
      own.arrange !== 'table' &&
      !making.slot('between').bound &&
      !branches.some((branch) => roleOf(branch) === 'between');
    /** Told while designing: a page draws only so many turns, of all its loops together. */
    const stop = (left: number) =>
      studio
        ? blank(`Stopped here, ${left} short: the loops of this page come to more turns than are drawn at once`)
        : '';
    const drawOrdinary = (
      items: readonly Thing[],
      first: number,
      total: number,
      env: Env,
      search: Iteration['search'],
    ): string => {
      const turn = iterationAt(made, items[0] as Thing, first, total, search);
      env.turns[depth] = turn;
      const at = made.scope.fields ? 'row' : 'record';
      let out = '';
      for (let i = 0; i < items.length; i++) {
        (turn as Record<typeof at, Thing>)[at] = items[i] as Thing;
        turn.position = first + i;
        const inner = item(env);
        if (inner) out += `${frame.opens(i)}${inner}</li>`;
      }
      return out;
    };
    return (env) => {
      const asking = made.visitors ? wanted(made, env).loop : made;
      const list = env.pool.list(asking, env);
      const search = searchOf(asking, env);
      const { page, pages, total } = list;
      if (made.perPage && made.source.from === 'archive') env.paging = { page, pages, total };
      const asked = requestedPage(made, env);
      if (asked > pages || asked === NO_PAGE) env.pastEnd = true;
      const items = list.items.length > env.turnsLeft ? list.items.slice(0, env.turnsLeft) : list.items;
      env.turnsLeft -= items.length;
      const cut = items.length < list.items.length;
      if (cut) env.stopped.add(made.id);
      const before = env.turns[depth];
      if (!list.items.length) {
        env.turns[depth] = undefined;
        const words = parts.nothing(env) || nothing.blocks(env);
        env.turns[depth] = before;
        return words ? `<div${attributes('nothing')}>${words}</div>` : emptyLoop;
      }
      if (emptyLoop) return emptyLoop;
      if (!items.length) return stop(list.items.length);
      const first = (page - 1) * (made.perPage ?? 0) + 1;
      let out = '';
      if (ordinary && !between.inline(env)) out = drawOrdinary(items, first, total, env, search);
      else for (const group of groupItems(made, env, items, first)) out += drawGroup(group, env);
      if (!made.scope.fields) for (const item of items) env.shown.add((item as ContentRecord).id);
      env.turns[depth] = before;
      if (!out) return '';
      return (
        frame.whole(out, Boolean(made.group)) +
        (cut ? stop(list.items.length - items.length) : '') +
        (pages > 1 ? drawPages(env, made, page, pages) : '')
      );

      function drawGroup(group: ItemGroup, at: Env): string {
        const size = group.items.length;
        const about = made?.group ? { label: group.label, size } : undefined;
        const since = at.trace?.now ?? 0;
        let out = '';
        let head = '';
        for (const [i, { item, position }] of group.items.entries()) {
          const turn = iterationAt(made as CompiledLoop, item, position, total, search);
          turn.group = about;
          at.turns[depth] = turn;
          if (i === 0 && about) head = parts.group(at);
          const cells = turnOf(parts, at, position, position === total);
          if (!cells.some(Boolean)) continue;
          if (out) out += frame.between(parts.between(at), between.inline(at));
          out += frame.item(cells, (position - 1) % (made?.perPage ?? Infinity));
        }
        if (!out) at.trace?.drop(since);
        return out && frame.group(head, out, about !== undefined, at);
      }
    };
  },
});

type Branch = Making<unknown>['branches'][number];

interface Parts {
  /** The ordinary item, element by element. */
  item: Branch[];
  instead: Branch[];
  group: Draw;
  between: Draw;
  nothing: Draw;
}

const roleOf = (branch: Branch): IterationRole | undefined =>
  branch.kind === 'turn' ? (branch.props.as as IterationRole) : undefined;

function partsOf(branches: Branch[]): Parts {
  const of = (...roles: (IterationRole | undefined)[]) => branches.filter((branch) => roles.includes(roleOf(branch)));
  const drawn = (role: IterationRole) => joined(of(role).map((branch) => branch.whole));
  return {
    item: of(undefined),
    instead: of('first', 'last', 'nth', 'rule'),
    group: drawn('group'),
    between: drawn('between'),
    nothing: drawn('nothing'),
  };
}

/** What one turn draws, element by element: a special one that stands for it, or the ordinary item. */
function turnOf(parts: Parts, env: Env, position: number, last: boolean): string[] {
  const stands = ({ props: { as, every, from } }: Branch): boolean => {
    if (as === 'first') return position === 1;
    if (as === 'last') return last;
    if (as === 'nth') return position >= Number(from) && (position - Number(from)) % Number(every) === 0;
    return true;
  };
  const special = parts.instead.find((one) => stands(one) && one.holds(env));
  if (special) return [special.draw(env)];
  return parts.item.map((one) => one.whole(env));
}

/** The markup around items, groups and the whole, by the way the loop is arranged. */
function framing({ attributes, studio, branches }: Making<Props>, made: CompiledLoop, own: Props) {
  const { id } = made.scope;
  const mark = (at: number) => (studio ? ` data-loop="${id}" data-turn="${at}"` : '');
  const table = own.arrange === 'table';
  const classes = [
    ...{
      grid: ['grid', own.least ? 'fitting' : `columns-${own.columns}`],
      list: ['stack'],
      row: ['row'],
      masonry: ['masonry', own.least ? 'fitting' : `masonry-${own.columns}`],
      sideways: ['sideways'],
      table: ['table'],
    }[own.arrange],
    ...(own.even ? ['even'] : []),
    `gap-${own.gap}`,
    'loop',
  ];
  const columns = branches.filter((branch) => roleOf(branch) === undefined);
  const head = table
    ? `<thead><tr>${columns.map(({ name }) => `<th scope="col">${escapeHtml(name)}</th>`).join('')}</tr></thead>`
    : '';
  const name = escapeHtml(made.scope.name);
  const list = (inner: string, attribute: string): string => {
    if (table)
      return `<div${attribute} role="group" tabindex="0" aria-label="${name}"><table>${head}<tbody>${inner}</tbody></table></div>`;
    if (own.arrange === 'sideways')
      return `<div${attribute} role="group" tabindex="0" aria-label="${name}"><ul>${inner}</ul></div>`;
    return `<ul${attribute}>${inner}</ul>`;
  };
  const plain = ` class="${classes.join(' ')}"`;
  return {
    opens: (at: number) => `<li${mark(at)}>`,
    item: (cells: string[], at: number) =>
      table
        ? `<tr${mark(at)}>${cells.map((cell, i) => (cells.length === 1 && columns.length > 1 ? `<td colspan="${columns.length}">${cell}</td>` : i === 0 ? `<th scope="row">${cell}</th>` : `<td>${cell}</td>`)).join('')}</tr>`
        : `<li${mark(at)}>${cells.join('')}</li>`,
    // A sign between items says nothing to those who listen; elements may.
    between: (drawn: string, sign: string) => {
      if (table || !(drawn || sign)) return '';
      return drawn ? `<li class="between">${drawn}</li>` : `<li class="between" aria-hidden="true">${sign}</li>`;
    },
    group: (heading: string, inner: string, grouped: boolean, env: Env) => {
      if (!grouped) return inner;
      const element = elementFor('section', heading, env);
      return `<${element} class="group">${heading}${list(inner, plain)}</${element}>`;
    },
    whole: (inner: string, grouped: boolean) =>
      grouped ? `<div${attributes('groups', `gap-${own.gap}`)}>${inner}</div>` : list(inner, attributes(...classes)),
  };
}

/** Links to the pages of a loop: the neighbours by name, and every page near this one by number. */
function drawPages(env: Env, made: CompiledLoop, page: number, pages: number): string {
  const address = (n: number): string => {
    const { archive, asked, model } = env;
    if (!made.pageKey)
      return escapeHtml((archive ? addressOfArchive(archive, model, n) : '') + questionOf(asked ?? {}));
    return escapeHtml(questionOf({ ...asked, [made.pageKey]: n > 1 ? [String(n)] : [] }) || (env.address ?? '?'));
  };
  const near = pagesNear(page, pages);
  let numbers = '';
  for (const [i, n] of near.entries()) {
    if (i && n - (near[i - 1] as number) > 1) numbers += '<li>…</li>';
    numbers += `<li><a href="${address(n)}"${n === page ? ' aria-current="page"' : ''}>${n}</a></li>`;
  }
  const previous = page > 1 ? `<a href="${address(page - 1)}" rel="prev">Previous page</a>` : '';
  const next = page < pages ? `<a href="${address(page + 1)}" rel="next">Next page</a>` : '';
  const label = made.pageKey ? `Pages of ${escapeHtml(made.scope.name)}` : 'Pages';
  return `<nav class="pages" aria-label="${label}">${previous}<ol>${numbers}</ol>${next}</nav>`;
}
