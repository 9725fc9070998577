import fc from 'fast-check';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Group, Rule } from '../../src/lib/core/schema/rule';
import type { Tree } from '../../src/lib/core/schema/element';
import type { Path } from '../../src/lib/core/schema/path';
import type { Target } from '../../src/lib/core/schema/target';
import { classOf } from '../../src/lib/core/render/compile';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { record } from './world';

/**
 * Sites made up at random, in which every element can be found in the HTML that visitors get: each has a line of own CSS, and
 * with it a class of its own. What is on a page is read from there, and what the studio says of it is held against that.
 */

/** The id of the part that may stand in any of them. */
export const SHARED = 'shared';

const maybe = <T>(one: fc.Arbitrary<T>) => fc.option(one, { nil: undefined });

const ask = (from: string): fc.Arbitrary<Rule> => {
  const path = (step: string): Path => ({ from, steps: [step] });
  return fc.oneof(
    fc.constantFrom<Rule>({ test: 'yesno.yes', path: path('open') }, { test: 'yesno.no', path: path('open') }),
    fc
      .constantFrom('good', 'fair', 'poor')
      .map((operand): Rule => ({ test: 'choice.is', path: path('state'), operand })),
    fc
      .constantFrom('name', 'story', 'height', 'keeper', 'ways', 'seasons')
      .map((step): Rule => ({ test: 'empty', path: path(step) })),
    fc.constantFrom('name', 'height', 'ways').map((step): Rule => ({ test: 'filled', path: path(step) })),
    fc.integer({ min: 0, max: 3 }).map((operand): Rule => ({ test: 'order.ge', path: path('height'), operand })),
  );
};
const ruleOver = (from: string): fc.Arbitrary<Group> =>
  fc.record({
    group: fc.constantFrom<Group['group']>('all', 'any', 'none'),
    rules: fc.array(
      fc.oneof(
        { weight: 3, arbitrary: ask(from) },
        {
          weight: 1,
          arbitrary: fc.record({
            group: fc.constantFrom<Group['group']>('all', 'any', 'none'),
            rules: fc.array(ask(from), { maxLength: 2 }),
          }),
        },
      ),
      { minLength: 1, maxLength: 2 },
    ),
  });

/** An element before it has a name; `from` is where its values come from. */
type Sketch = (from: string, next: () => string) => Nested;

const text = fc.oneof(
  fc.constant<Sketch>((_, next) => ({ kind: 'text', id: next(), slots: { text: { fixed: 'Words' } } })),
  fc.constant<Sketch>((_, next) => ({ kind: 'text', id: next(), slots: { text: { fixed: '' } } })),
  fc
    .constantFrom('name', 'story', 'height', '@title')
    .map((step): Sketch => (from, next) => ({ kind: 'text', id: next(), slots: { text: boundTo(from, [step]) } })),
);
const holding = (kind: string, children: fc.Arbitrary<Sketch[]>): fc.Arbitrary<Sketch> =>
  children.map((inner) => (from, next) => ({ kind, id: next(), children: inner.map((child) => child(from, next)) }));

const sketch: fc.Arbitrary<Sketch> = fc.letrec<{ any: Sketch }>((tie) => {
  const children = fc.array(tie('any'), { maxLength: 3 });
  const bare = fc.oneof(
    { weight: 4, arbitrary: text },
    { weight: 3, arbitrary: holding('box', children) },
    { weight: 2, arbitrary: holding('alternatives', children) },
    { weight: 2, arbitrary: fc.constant<Sketch>((_, next) => ({ kind: 'part', id: next(), props: { part: SHARED } })) },
    {
      weight: 2,
      arbitrary: fc
        .record({ inner: children, typed: fc.boolean(), own: maybe(ruleOver('loop:')) })
        .map(({ inner, typed, own }): Sketch => (from, next) => {
          const id = next();
          const here = `loop:${id}`;
          return {
            kind: 'loop',
            id,
            props: {
              source:
                typed || from !== 'record'
                  ? { from: 'query', typeIds: ['house'] }
                  : { from: 'relation', path: { from, steps: ['ways', 'houses'] } },
              ...(own && {
                filter: JSON.parse(JSON.stringify(own).replaceAll('"loop:"', JSON.stringify(here))) as Group,
              }),
              limit: 3,
            },
            children: inner.map((child) => child(here, next)),
          };
        }),
    },
  );
  return {
    any: fc.tuple(bare, maybe(ruleOver('FROM'))).map(([make, rule]): Sketch => (from, next) => ({
      ...make(from, next),
      ...(rule && { rule: JSON.parse(JSON.stringify(rule).replaceAll('"FROM"', JSON.stringify(from))) as Group }),
    })),
  };
}).any;

const marked = (nested: Nested): Nested => ({
  ...nested,
  name: nested.id,
  css: '& { color: red }',
  children: nested.children?.map(marked),
});

/** A template's tree for houses; ids of its elements begin with `prefix`, and the first of them is on every page of it. */
export const treeOfHouses = (prefix: string): fc.Arbitrary<Tree> =>
  fc.array(sketch, { minLength: 1, maxLength: 4 }).map((parts) => {
    let count = 0;
    const next = () => `${prefix}${++count}`;
    const always: Nested = { kind: 'text', id: next(), slots: { text: { fixed: 'Always' } } };
    return treeFrom(
      marked({ kind: 'box', id: next(), children: [always, ...parts.map((part) => part('record', next))] }),
    );
  });

/** What a template for houses or ways serves, or leaves out. */
export const target: fc.Arbitrary<Target> = fc.oneof(
  fc.constantFrom<Target>({ on: 'everything' }, { on: 'type', typeId: 'way' }),
  fc.constant<Target>({ on: 'type', typeId: 'house' }),
  fc.constantFrom('north', 'hill', 'south').map((termId): Target => ({ on: 'term', termId })),
  fc.constantFrom('north', 'hill').map((termId): Target => ({ on: 'term', termId, typeId: 'house' })),
  fc.subarray([1, 2, 3, 4, 5], { minLength: 1 }).map((ids): Target => ({ on: 'records', typeId: 'house', ids })),
  ruleOver('record').map((rule): Target => ({ on: 'rule', typeId: 'house', rule })),
);

/** What a template for archives serves. */
export const archiveTarget: fc.Arbitrary<Target> = fc.oneof(
  fc.constantFrom('house', 'way').map((typeId): Target => ({ on: 'type', typeId })),
  fc.constantFrom('north', 'hill', 'south').map((termId): Target => ({ on: 'term', termId })),
  fc.constantFrom<Target>({ on: 'everything' }, { on: 'taxonomy', taxonomyId: 'area' }),
);

/** A tree for archives: its own list, two to a page, with something in each turn that a rule may hide. */
export const treeOfArchives = (prefix: string): fc.Arbitrary<Tree> =>
  fc.tuple(maybe(ruleOver('FROM')), maybe(ruleOver('FROM'))).map(([own, other]) => {
    const list = `${prefix}3`;
    const over = (rule: Group | undefined) =>
      rule && {
        rule: JSON.parse(JSON.stringify(rule).replaceAll('"FROM"', JSON.stringify(`loop:${list}`))) as Group,
      };
    return treeFrom(
      marked({
        kind: 'box',
        id: `${prefix}2`,
        children: [
          { kind: 'text', id: `${prefix}1`, slots: { text: { fixed: 'Always' } } },
          {
            kind: 'loop',
            id: list,
            props: { source: { from: 'archive' }, perPage: 2 },
            children: [
              { kind: 'text', id: `${prefix}4`, slots: { text: boundTo(`loop:${list}`, ['@title']) }, ...over(own) },
              { kind: 'part', id: `${prefix}5`, props: { part: SHARED }, ...over(other) },
            ],
          },
        ],
      }),
    );
  });

const house = (id: number) =>
  fc
    .record({
      name: maybe(fc.constantFrom('Ash', 'Birch')),
      story: maybe(fc.constant('Long.')),
      height: maybe(fc.integer({ min: 0, max: 3 })),
      open: maybe(fc.boolean()),
      state: maybe(fc.constantFrom('good', 'fair', 'poor')),
      ways: maybe(fc.subarray([91, 92], { minLength: 1 })),
      terms: fc.subarray(['north', 'peak', 'south']),
      status: fc.constantFrom('published' as const, 'published' as const, 'published' as const, 'draft' as const),
    })
    .map(({ status, terms, ...values }) => record(id, 'house', values, { status, terms }));

/** A few houses with what they lead to; ways know their houses. */
export const housesAndWays: fc.Arbitrary<ContentRecord[]> = fc
  .tuple(house(1), house(2), house(3), house(4), house(5))
  .map((houses) => [
    ...houses,
    ...[91, 92].map((id) =>
      record(id, 'way', {
        houses: houses.filter(({ values }) => (values.ways as number[] | undefined)?.includes(id)).map((one) => one.id),
      }),
    ),
  ]);

/** How many times each element is on a page, by its class in the HTML. */
export function seenIn(html: string, tree: Tree): Map<string, number> {
  const found = new Map<string, number>();
  for (const [, list = ''] of html.matchAll(/ class="([^"]*)"/g))
    for (const one of list.split(' ')) found.set(one, (found.get(one) ?? 0) + 1);
  return new Map(Object.values(tree.elements).map((element) => [element.id, found.get(classOf(element)) ?? 0]));
}
