import { Eta } from 'eta';
import Handlebars from 'handlebars';
import { Liquid } from 'liquidjs';
import { Bench } from 'tinybench';
import type { ContentRecord } from '../src/lib/core/schema/record';
import { writeNumber } from '../src/lib/core/base/write';
import { memoryPool } from '../src/lib/core/loops/memory-pool';
import { indexModel } from '../src/lib/core/model/model';
import { makeEnv } from '../src/lib/core/paths/env';
import { compileTree } from '../src/lib/core/render/compile';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { escapeHtml } from '../src/lib/core/base/text';

/**
 * Draws 1,000 loop items, six bindings and two rules each, side by side with the same output from a function written by
 * hand and from general-purpose template engines. The others get views made beforehand; ours reads the records.
 */
const ITEMS = 1000;
const STATES = ['open', 'closing', 'closed'];
const LABELS: Record<string, string> = { open: 'Open', closing: 'Closing soon', closed: 'Closed' };
const FROM = 'loop:items';

const model = indexModel({
  site: { name: 'Bench', tagline: '', locale: 'en-GB', timeZone: 'UTC' },
  types: [
    {
      id: 'place',
      key: 'place',
      name: 'Place',
      plural: 'Places',
      base: 'places',
      taxonomyIds: [],
      fields: [
        {
          id: 'height',
          key: 'height',
          label: 'Height',
          kind: 'number',
          help: '',
          required: false,
          unique: false,
          tab: '',
          settings: { unit: 'm' },
        },
        {
          id: 'beds',
          key: 'beds',
          label: 'Beds',
          kind: 'number',
          help: '',
          required: false,
          unique: false,
          tab: '',
          settings: {},
        },
        {
          id: 'state',
          key: 'state',
          label: 'State',
          kind: 'choice',
          help: '',
          required: false,
          unique: false,
          tab: '',
          settings: { options: STATES.map((key) => ({ key, label: LABELS[key] })) },
        },
        {
          id: 'line',
          key: 'line',
          label: 'Line',
          kind: 'text',
          help: '',
          required: false,
          unique: false,
          tab: '',
          settings: {},
        },
      ],
    },
  ],
  taxonomies: [],
  terms: [],
  authors: [],
  rules: [],
});

const records: ContentRecord[] = Array.from({ length: ITEMS }, (_, i) => ({
  id: i + 1,
  typeId: 'place',
  title: i % 7 === 0 ? `Peaks & "valleys" <${i}>` : `Place number ${i}`,
  slug: `place-${i}`,
  status: 'published',
  created: '2026-01-01T00:00:00Z',
  changed: '2026-01-01T00:00:00Z',
  published: '2026-01-01T00:00:00Z',
  values: {
    height: 800 + ((i * 37) % 2000),
    beds: (i * 13) % 50,
    state: STATES[i % 3],
    line: `A line about place ${i}.`,
  },
  terms: [],
  authorId: null,
  generated: false,
  version: 1,
}));

const tree = treeFrom({
  kind: 'loop',
  id: 'items',
  props: { source: { from: 'query', typeIds: ['place'] }, columns: 3 },
  children: [
    {
      kind: 'heading',
      props: { level: 2 },
      slots: { text: boundTo(FROM, ['@title']), link: boundTo(FROM, ['@address']) },
    },
    { kind: 'text', slots: { text: boundTo(FROM, ['height'], { before: 'At ' }) } },
    { kind: 'text', slots: { text: boundTo(FROM, ['line']) } },
    {
      kind: 'text',
      props: { tone: 'badge' },
      slots: { text: boundTo(FROM, ['state']) },
      rule: { group: 'all', rules: [{ test: 'choice.isnt', path: { from: FROM, steps: ['state'] }, operand: 'open' }] },
    },
    {
      kind: 'text',
      slots: { text: boundTo(FROM, ['beds'], { after: ' beds' }) },
      rule: { group: 'all', rules: [{ test: 'order.ge', path: { from: FROM, steps: ['beds'] }, operand: 20 }] },
    },
  ],
});
const compiled = compileTree(tree, { loops: [] }, model);
if (compiled.looseEnds.length) throw new Error(JSON.stringify(compiled.looseEnds));
const pool = memoryPool(records, []);
const ours = () => compiled.draw(makeEnv({ model, pool, today: '2026-01-01' }));

interface View {
  title: string;
  url: string;
  height: number;
  line: string;
  state: string;
  isOpen: boolean;
  beds: number;
  many: boolean;
}
const views: View[] = records.map((record) => {
  const { height, beds, state, line } = record.values as { height: number; beds: number; state: string; line: string };
  return {
    title: record.title,
    url: `/places/${record.slug}`,
    height,
    line,
    state: LABELS[state] as string,
    isOpen: state === 'open',
    beds,
    many: beds >= 20,
  };
});
const metres = (n: number) => writeNumber(n, 'en-GB', { maximumFractionDigits: 10 }, { unit: 'm' });
const count = (n: number) => writeNumber(n, 'en-GB', { maximumFractionDigits: 10 });

function byHand(): string {
  let out = '<ul class="grid columns-3 gap-m loop">';
  for (const v of views) {
    out += `<li><h2><a href="${escapeHtml(v.url)}">${escapeHtml(v.title)}</a></h2><p class="text">At ${escapeHtml(metres(v.height))}</p><p class="text">${escapeHtml(v.line)}</p>`;
    if (!v.isOpen) out += `<p class="text tone-badge">${escapeHtml(v.state)}</p>`;
    if (v.many) out += `<p class="text">${escapeHtml(count(v.beds))} beds</p>`;
    out += '</li>';
  }
  return `${out}</ul>`;
}

const handlebars = Handlebars.create();
handlebars.registerHelper({ metres, count });
const withHandlebars = handlebars.compile(
  '<ul class="grid columns-3 gap-m loop">{{#each items}}<li><h2><a href="{{url}}">{{title}}</a></h2><p class="text">At {{metres height}}</p><p class="text">{{line}}</p>{{#unless isOpen}}<p class="text tone-badge">{{state}}</p>{{/unless}}{{#if many}}<p class="text">{{count beds}} beds</p>{{/if}}</li>{{/each}}</ul>',
);

const eta = new Eta({ autoTrim: false });
const etaTemplate = eta.compile(
  '<ul class="grid columns-3 gap-m loop"><% for (const v of it.items) { %><li><h2><a href="<%= v.url %>"><%= v.title %></a></h2><p class="text">At <%= it.metres(v.height) %></p><p class="text"><%= v.line %></p><% if (!v.isOpen) { %><p class="text tone-badge"><%= v.state %></p><% } %><% if (v.many) { %><p class="text"><%= it.count(v.beds) %> beds</p><% } %></li><% } %></ul>',
);

const liquid = new Liquid({ outputEscape: 'escape' });
liquid.registerFilter('metres', metres);
liquid.registerFilter('count', count);
const liquidTemplate = liquid.parse(
  '<ul class="grid columns-3 gap-m loop">{% for v in items %}<li><h2><a href="{{ v.url }}">{{ v.title }}</a></h2><p class="text">At {{ v.height | metres }}</p><p class="text">{{ v.line }}</p>{% unless v.isOpen %}<p class="text tone-badge">{{ v.state }}</p>{% endunless %}{% if v.many %}<p class="text">{{ v.beds | count }} beds</p>{% endif %}</li>{% endfor %}</ul>',
);

const ways: [string, () => string][] = [
  ['Plum Thread', ours],
  ['written by hand', byHand],
  ['Handlebars', () => withHandlebars({ items: views })],
  ['Eta', () => eta.render(etaTemplate, { items: views, metres, count })],
  ['LiquidJS', () => liquid.renderSync(liquidTemplate, { items: views }) as string],
];

// All must say the same before their speeds can be compared; engines differ in how they spell the quotes.
const spelled = (html: string) =>
  html
    .replace(/&#39;|&#x27;/g, "'")
    .replace(/&#34;|&quot;/g, '"')
    .replace(/&#x3D;/g, '=');
const wanted = spelled(byHand());
for (const [name, draw] of ways)
  if (spelled(draw()) !== wanted)
    throw new Error(`${name} draws something else:\n${spelled(draw()).slice(0, 600)}\n${wanted.slice(0, 600)}`);

const bench = new Bench({ time: 1500, warmupTime: 400 });
for (const [name, draw] of ways) bench.add(name, draw);
await bench.run();
const medians = new Map(
  bench.tasks.map((task) => [task.name, task.result && 'latency' in task.result ? task.result.latency.p50 : NaN]),
);
const own = medians.get('Plum Thread') as number;
console.log(`Drawing ${ITEMS} loop items, six bindings and two rules each (median of one drawing)`);
for (const [name] of ways) {
  const median = medians.get(name) as number;
  console.log(
    `  ${name.padEnd(16)} ${median.toFixed(3).padStart(8)} ms   ${(median / own).toFixed(2).padStart(6)} × Plum Thread`,
  );
}
