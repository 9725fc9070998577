import { describe, expect, it } from 'vitest';
import { verdictOf, whyOf, wouldChangeWords } from '../../src/lib/core/checks/why';
import { looksOf } from '../../src/lib/core/coverage/look';
import { ofRecords } from '../../src/lib/core/coverage/subjects';
import { compileTree } from '../../src/lib/core/render/compile';
import type { Rule } from '../../src/lib/core/schema/rule';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { nameOf } from '../../src/lib/core/templates/names';
import { Trace } from '../../src/lib/core/paths/trace';
import { envOf, houseScopes, index, own, record } from '../support/world';

const all = (...rules: Rule[]) => ({ group: 'all' as const, rules });
const open: Rule = { test: 'yesno.yes', path: own('open') };
const text = (id: string, words: string, rule?: ReturnType<typeof all>) => ({
  kind: 'text',
  id,
  slots: { text: { fixed: words } },
  ...(rule && { rule }),
});
const tree = treeFrom({
  kind: 'box',
  id: 'page',
  children: [
    { kind: 'box', id: 'holder', rule: all(open), children: [text('within', 'Within')] },
    { kind: 'text', id: 'name', slots: { text: boundTo('record', ['name'], { fallbacks: [{ text: 'No name' }] }) } },
    { kind: 'text', id: 'story', slots: { text: boundTo('record', ['story']) } },
    { kind: 'alternatives', id: 'either', children: [text('first', 'First', all(open)), text('second', 'Second')] },
    { ...text('broken', 'Broken'), rule: all({ test: 'filled', path: own('deleted') }) },
    { ...text('begun', 'Begun'), rule: all({ test: 'choice.is', path: own('state') }) },
    {
      kind: 'box',
      id: 'hollow',
      name: 'Hollow',
      children: [
        { kind: 'text', id: 'words', slots: { text: { fixed: '' } } },
        { kind: 'text', id: 'named', slots: { text: boundTo('record', ['name']) } },
      ],
    },
    { kind: 'box', id: 'bare' },
    {
      kind: 'loop',
      id: 'list',
      props: { source: { from: 'relation', path: own('ways') } },
      children: [text('way', 'Way')],
    },
    {
      kind: 'alternatives',
      id: 'cases',
      children: [{ kind: 'box', id: 'void', name: 'Void', rule: all(open) }, text('otherwise', 'Otherwise')],
    },
    text('higher', 'Higher', all({ test: 'order.ge', path: own('height'), other: own('stars') })),
  ],
});
const compiled = compileTree(tree, houseScopes, index, { marked: true });

describe('a page among many', () => {
  const look = (values: Record<string, unknown>) => {
    const house = record(1, 'house', values);
    const { pool, today } = envOf([house]);
    return looksOf(tree, compiled, { model: index, pool, today })(ofRecords([house])[0]!);
  };

  it('tells what a rule hides, what nothing fills, and what a fallback stands in for', () => {
    const bare = look({});
    expect(bare).toMatchObject({ id: 1, hidden: ['holder', 'broken', 'begun', 'higher'], fallbacks: ['name'] });
    expect(new Set(bare.empty)).toEqual(new Set(['story', 'words', 'named', 'hollow', 'bare', 'list']));
    expect(bare.html).toContain('No name');
    const full = look({ name: 'Grey', story: 'Long.', open: true });
    expect(full).toMatchObject({ hidden: ['broken', 'begun', 'higher'], fallbacks: [] });
    expect(new Set(full.empty)).toEqual(new Set(['words', 'bare', 'list', 'cases', 'void']));
    expect(full.html).toContain('Within');
  });

  it('is what the canvas draws of the same record', () => {
    const house = record(1, 'house', { name: 'Grey', open: true });
    expect(look(house.values).html).toBe(compiled.draw(envOf([house])));
  });
});

describe('why an element is there or not', () => {
  const asked = (id: string, values: Record<string, unknown>) => {
    const env = envOf([record(1, 'house', values)]);
    const trace = new Trace();
    compiled.draw({ ...env, trace });
    const drawn = trace.drawn();
    const why = whyOf(
      tree,
      compiled.elements,
      id,
      () => env,
      (one) => drawn.has(one),
    );
    return { why, said: verdictOf(why, id, (one) => nameOf(tree.elements[one]!, index)) };
  };

  it.each<[string, Record<string, unknown>, string]>([
    ['holder', {}, 'It is hidden: its rule does not hold.'],
    ['within', {}, 'It is hidden: the rule of Box does not hold.'],
    ['within', { open: true }, 'It appears: the rule of Box holds.'],
    ['holder', { open: true }, 'It appears: its rule holds.'],
    ['story', {}, 'It is left out: none of its values is filled here.'],
    ['story', { story: 'Long.' }, 'It appears: nothing hides it.'],
    ['first', {}, 'It is hidden: its rule does not hold.'],
    ['second', { open: true }, 'It is hidden: the branch First comes before it, and is shown.'],
    ['second', {}, 'It appears: nothing hides it.'],
    ['broken', {}, 'It is hidden: its rule cannot be read.'],
    ['begun', {}, 'It is hidden: its rule is not finished.'],
    ['words', {}, 'It is left out: it has no words.'],
    ['hollow', {}, 'It is left out: everything in it is empty or hidden here: Text and Name.'],
    ['hollow', { name: 'Grey' }, 'It appears: nothing hides it.'],
    ['bare', {}, 'It is left out: it holds nothing.'],
    ['list', {}, 'It is left out: its list has nothing in it here.'],
    ['void', { open: true }, 'It is left out: it holds nothing.'],
    ['cases', { open: true }, 'It is left out: everything in it is empty or hidden here: Void and Otherwise.'],
    ['otherwise', { open: true }, 'It is hidden: the branch Void comes before it, though that holds nothing.'],
  ])('%s of %o: %s', (id, values, words) => {
    expect(asked(id, values).said).toBe(words);
  });

  it('reads a rule that is not finished as such', () => {
    const { told } = asked('begun', { state: 'good' }).why;
    expect(told?.parts[0]).toMatchObject({ words: 'State is … (not finished)', saw: 'GOOD', holds: false });
  });

  it('tells both values of a test that compares two', () => {
    const { why } = asked('higher', { height: 2, stars: 3 });
    expect(wouldChangeWords(why.turn[0]!)).toBe('“Height ≥ Stars” would have to hold; it saw 2\u00a0m and 3.');
    expect(why.told?.parts[0]?.saw).toBe('2\u00a0m and 3');
    expect(wouldChangeWords(asked('higher', { height: 2 }).why.turn[0]!)).toContain('it saw 2\u00a0m and nothing.');
  });

  it('names the least that would turn it round, and cuts what it saw to a line', () => {
    const [turn] = asked('holder', {}).why.turn;
    expect(wouldChangeWords(turn!)).toBe('“Open is yes” would have to hold; it saw nothing.');
    const [back] = asked('second', { open: true }).why.turn;
    expect(back).toMatchObject({ to: false, path: own('open') });
    expect(wouldChangeWords({ words: 'a', to: false, saw: 'x'.repeat(200), path: own('name') })).toBe(
      `“a” would have to fail; it saw ${'x'.repeat(60)} …`,
    );
  });

  it('holds open what is held, whatever its rule or the branch before it says', () => {
    const env = envOf([record(1, 'house', { open: true })]);
    expect(compiled.draw({ ...env, held: new Set(['second']) })).toContain('Second');
    const shut = envOf([record(1, 'house')]);
    expect(compiled.draw({ ...shut, held: new Set(['holder']) })).toContain('Within');
    expect(compileTree(tree, houseScopes, index).draw({ ...shut, held: new Set(['holder']) })).not.toContain('Within');
  });
});
