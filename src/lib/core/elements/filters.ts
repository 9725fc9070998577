import { unitIn } from '../model/settings';
import sign from 'lucide/dist/esm/icons/list-filter.mjs';
import { z } from 'zod';
import { writeNumber } from '../base/write';
import type { CompiledLoop, Facet } from '../loops/compiled';
import { filterChoicesOf, questionOf, wanted, type Wanted } from '../loops/visitors';
import type { FacetCount } from '../paths/pool';
import type { Env } from '../paths/env';
import { problem } from '../base/result';
import { addressOfArchive } from '../addresses/archives';
import { escapeHtml } from '../base/text';
import { box, INLINE, PADDING, STATES, SURFACE } from '../styles/boxes';
import { defineElement, pick } from './element';

const props = z.object({
  /** The loop it is for; without one, the first of which visitors may choose something. */
  loop: z.string().max(60).default(''),
  flow: z.enum(['stack', 'row']).default('stack'),
  button: z.string().max(40).default('Show'),
  /** What the choices are folded behind on narrow screens. */
  more: z.string().max(40).default('Filter and order'),
});

const FIELDS = '& input[type="search"], & input[type="number"], & input[type="date"], & select';

export const filters = defineElement({
  name: 'filters',
  label: 'Filters for visitors',
  about:
    'Where visitors search a list, keep to some of it and choose its order; what they may choose is said in the loop.',
  sign,
  group: 'Repeats and pieces',
  holds: false,
  fills: true,
  props,
  controls: [
    { name: 'loop', label: 'Of the loop', as: 'loop' },
    { name: 'flow', label: 'Choices', as: 'pick', options: pick('stack', 'Below each other', 'row', 'Side by side') },
    { name: 'button', label: 'Words on the button', as: 'words' },
    { name: 'more', label: 'Folded on narrow screens behind', as: 'words' },
  ],
  slots: {},
  needs: (own, loopNamed) =>
    loopNamed(String(own.loop ?? ''))?.visitors
      ? undefined
      : problem(
          'loop',
          'These filters belong to no loop of which visitors may choose something.',
          'Say in the settings of a loop what visitors choose.',
        ),
  boxes: [
    box('field', 'Fields', FIELDS, [...SURFACE, ...PADDING, 'size', 'colour']),
    box('button', 'Button', '& button', [...SURFACE, ...PADDING, ...INLINE, 'change'], { states: STATES }),
    box('label', 'Labels', '& legend, & .filters-search > span, & .filters-sort > span', INLINE),
  ],
  draw: ({ props: own, attributes, studio, blank, loopNamed }) => {
    const open = attributes('filters', `filters-${own.flow}`);
    const none = studio ? blank('Filters without anything to choose: say in a loop what visitors choose') : '';
    return (env) => {
      if (env.still) return '';
      const loop = loopNamed(own.loop);
      const visitors = loop?.visitors;
      if (!visitors || !(visitors.facets.length || visitors.search.length || visitors.sorts.length)) return none;
      const asked = wanted(loop, env);
      const counts = env.pool.facets(loop, env);
      const { total } = env.pool.list(asked.loop, env);
      const search = visitors.search.length
        ? `<label class="filters-search"><span>Search</span><input type="search" name="${visitors.searchKey}"${value(asked.search)}></label>`
        : '';
      const choices = [
        ...visitors.facets.map((facet) => {
          const count = counts.get(facet.key);
          return count ? drawFacet(facet, count, asked, env) : '';
        }),
        drawSorts(loop, asked),
      ].join('');
      // Open where something in it is chosen; wide screens have it open always, see the site's style sheet.
      const more = choices
        ? `<details class="filters-more"${asked.chosen.size || asked.sort ? ' open' : ''}><summary>${escapeHtml(own.more || 'Filter and order')}</summary><div>${choices}</div></details>`
        : '';
      const refused = asked.refused.map((words) => `<p class="filters-refused">${escapeHtml(words)}</p>`).join('');
      const [base, rest] = around(loop, env);
      const all = asked.any ? ` <a href="${escapeHtml(base + questionOf(rest))}">Show all</a>` : '';
      const hidden = Object.entries(rest)
        .flatMap(([key, values]) => values.map((one) => `<input type="hidden" name="${escapeHtml(key)}"${value(one)}>`))
        .join('');
      const found = `<p role="status">${total === 0 ? 'Nothing found' : `${writeNumber(total, env.model.site.locale)} found`}.${all}</p>`;
      return `<search${open}><form method="get" action="${escapeHtml(base || '/')}">${hidden}${search}${more}<div class="filters-do"><button type="submit">${escapeHtml(own.button || 'Show')}</button>${found}</div></form>${refused}</search>`;
    };
  },
});

const value = (text: string): string => (text ? ` value="${escapeHtml(text)}"` : '');

/** Where the form leads, and what is asked of other lists meanwhile. */
function around(loop: CompiledLoop, env: Env): [string, Record<string, readonly string[]>] {
  const { archive, asked, model, address } = env;
  const { visitors, pageKey } = loop;
  const base = loop.source.from === 'archive' && archive ? addressOfArchive(archive, model) : (address ?? '');
  const own = new Set([pageKey, visitors?.searchKey, visitors?.sortKey]);
  for (const { key } of visitors?.facets ?? []) for (const one of [key, `${key}-from`, `${key}-to`]) own.add(one);
  return [base, Object.fromEntries(Object.entries(asked ?? {}).filter(([key]) => !own.has(key)))];
}

/** No visitor looks through more options than these; a page of a hundred thousand would take minutes to arrive. */
const MOST_OPTIONS = 200;

/** The options that are chosen, and of the others those that most is left of. */
const mostOf = <T extends { n: number; on: boolean }>(offered: readonly T[]): Set<T> =>
  new Set([...offered].sort((a, b) => Number(b.on) - Number(a.on) || b.n - a.n).slice(0, MOST_OPTIONS));

function drawFacet(facet: Facet, count: FacetCount, { chosen }: Wanted, env: Env): string {
  const { key, label, path } = facet;
  const legend = `<legend>${escapeHtml(label)}</legend>`;
  const own = chosen.get(key);
  const how = path.type.kind.family.facet;
  if (how?.by === 'range') {
    if (!own && count.low === undefined) return '';
    const { input } = how;
    const { unit } = unitIn(path.type.settings);
    const ends = (at: number | undefined): string => (at === undefined ? '' : how.text(at, env.model.site));
    const end = (name: 'from' | 'to', words: string, at: number | undefined) => {
      const bound = ends(at);
      const hint = bound && input !== 'date' ? ` placeholder="${escapeHtml(bound)}"` : '';
      const limits = bound && input === 'date' ? ` min="${ends(count.low)}" max="${ends(count.high)}"` : '';
      return `<label><span>${words}</span><input type="${input}" name="${key}-${name}"${input === 'number' ? ' step="any"' : ''}${limits}${hint}${value(own?.[name] ?? '')}></label>`;
    };
    const about = unit ? legend.replace('</legend>', ` <small>${escapeHtml(unit)}</small></legend>`) : legend;
    return `<fieldset class="filters-range">${about}${end('from', 'From', count.low)}${end('to', 'To', count.high)}</fieldset>`;
  }
  const chosenOnes = new Set(own?.options);
  // What nothing is left of is not offered, unless it was chosen.
  const offered = filterChoicesOf(path.type, env.model).flatMap((answer) => {
    const [n, on] = [count.options.get(answer.key) ?? 0, chosenOnes.has(answer.key)];
    return n || on ? [{ ...answer, n, on }] : [];
  });
  const most = offered.length > MOST_OPTIONS ? mostOf(offered) : undefined;
  const items = offered.flatMap((one) => {
    const { word, label: name, depth, n, on } = one;
    if (most && !most.has(one)) return [];
    const input = `<input type="checkbox" name="${key}" value="${escapeHtml(word)}"${on ? ' checked' : ''}>`;
    return [
      `<li${depth ? ` class="below-${Math.min(depth, 4)}"` : ''}><label>${input} <span>${escapeHtml(name)}</span> <small>${writeNumber(n, env.model.site.locale)}</small></label></li>`,
    ];
  });
  const left = offered.length - items.length;
  const rest = left
    ? `<p><small>Those with the most; ${writeNumber(left, env.model.site.locale)} more ${left === 1 ? 'is' : 'are'} left out.</small></p>`
    : '';
  return items.length ? `<fieldset>${legend}<ul>${items.join('')}</ul>${rest}</fieldset>` : '';
}

function drawSorts({ visitors }: CompiledLoop, { sort }: Wanted): string {
  if (!visitors?.sorts.length) return '';
  const options = visitors.sorts.map(
    ({ key, label }) => `<option value="${key}"${key === sort ? ' selected' : ''}>${escapeHtml(label)}</option>`,
  );
  return `<label class="filters-sort"><span>Order</span><select name="${visitors.sortKey}"><option value="">The usual one</option>${options.join('')}</select></label>`;
}
