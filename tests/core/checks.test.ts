import { describe, expect, it } from 'vitest';
import { headingOrder } from '../../src/lib/core/checks/headings';
import { looseEndsOf } from '../../src/lib/core/checks/loose-ends';
import { compilePath } from '../../src/lib/core/paths/compile';
import { compileTree } from '../../src/lib/core/render/compile';
import type { Group, Rule } from '../../src/lib/core/schema/rule';
import { branchesFor, missingBranches, noBranches } from '../../src/lib/core/templates/branches';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { envOf, houseScopes, index, own, record } from '../support/world';

const headings = (...levels: number[]) =>
  treeFrom({ kind: 'box', children: levels.map((level) => ({ kind: 'heading', props: { level } })) });
const told = (...levels: number[]) => headingOrder(headings(...levels)).map((end) => [end.what, end.fix]);

describe('loose ends', () => {
  it('are headings that skip a level', () => {
    expect(told(1, 2, 3, 2, 3, 1)).toEqual([]);
    expect(told()).toEqual([]);
    expect(told(2)).toEqual([['The first heading of the page is of level 2.', 'Make it level 1.']]);
    expect(told(1, 2, 4, 4)).toEqual([['A heading of level 4 follows one of level 2.', 'Make it level 3.']]);
  });

  it('are threads that broke', () => {
    const tree = treeFrom({ kind: 'box', children: [{ kind: 'text', slots: { text: boundTo('record', ['gone']) } }] });
    expect(looseEndsOf({ purpose: 'record', serves: [{ on: 'type', typeId: 'house' }], tree }, index)).toHaveLength(1);
  });
});

describe('rules', () => {
  const is = (key: string): Rule => ({ test: 'choice.is', path: own('state'), operand: key });
  const all = (...rules: Rule[]): Group => ({ group: 'all', rules });
  const branch = (rule?: Group): Nested => ({ kind: 'text', slots: { text: { fixed: 'x' } }, rule });
  const told = (nested: Nested) =>
    looseEndsOf({ purpose: 'part', serves: [{ on: 'type', typeId: 'house' }], tree: treeFrom(nested) }, index).map(
      (end) => end.what,
    );
  const compiled = (step: string) => {
    const made = compilePath(own(step), houseScopes, index);
    if (!made.ok) throw new Error(step);
    return made.value;
  };
  const among = (...rules: (Group | undefined)[]): Nested => ({ kind: 'alternatives', children: rules.map(branch) });

  it('that can never hold are told, with the tests that contradict each other', () => {
    expect(told(branch(all(is('good'), { test: 'filled', path: own('name') }, is('poor'))))).toEqual([
      'This can never hold: “State is GOOD” and “State is POOR” contradict each other.',
    ]);
    expect(told(branch(all(is('good'))))).toEqual([]);
  });

  it('of alternatives are told where a branch is never shown, and where a choice has none', () => {
    expect(told(among(all(is('good')), all(is('good'), { test: 'yesno.yes', path: own('open') }), undefined))).toEqual([
      'This branch is never shown: wherever it could be, one before it is.',
    ]);
    expect(told(among(undefined, all(is('good'))))).toEqual([
      'This branch is never shown: wherever it could be, one before it is.',
    ]);
    expect(told(among(all(is('good')), all(is('fair'))))).toEqual(['There is no branch for State “POOR”.']);
    expect(told(among(all(is('good')), undefined))).toEqual([]);
    expect(told(among(all(is('good')), all(is('fair')), all(is('poor'))))).toEqual([]);
  });

  it('of branches made from a choice, or from yes and no, leave no answer out', () => {
    for (const step of ['state', 'open']) {
      const { type } = compiled(step);
      expect(noBranches(type)).toBeUndefined();
      const pieces = branchesFor(own(step), type, index);
      expect(pieces.map((piece) => piece.elements[piece.top]?.name)).toEqual(
        step === 'state' ? ['GOOD', 'FAIR', 'POOR', 'Otherwise'] : ['Yes', 'No', 'Otherwise'],
      );
      const rules = pieces.map((piece) => piece.elements[piece.top]?.rule);
      expect(told(among(...rules))).toEqual([]);
      // Without the last one nothing is told either: an empty value is no answer.
      expect(told(among(...rules.slice(0, -1)))).toEqual([]);
    }
    expect(noBranches(compiled('uses').type)).toContain('a branch for each');
    const { type } = compiled('@type');
    expect(branchesFor(own('@type'), type, index, ['house', 'way'])).toHaveLength(3);
  });

  it('of branches for each answer are told where an answer has none, though there is one for the rest', () => {
    const { type } = compiled('state');
    const pieces = branchesFor(own('state'), type, index);
    const rules = pieces.map((piece) => piece.elements[piece.top]?.rule);
    const [good, fair, , rest] = rules;
    expect(told(among(good, fair, rest))).toEqual([
      'There is no branch for State “POOR”: what has it gets the last branch.',
    ]);
    // One for the rest by design: nothing says that there should be one for each.
    expect(told(among(good, rest))).toEqual([]);
    expect(told({ kind: 'alternatives', children: [branch(good), { kind: 'box', name: 'Rest' }] })).toEqual([
      'This branch has nothing in it: what gets it gets nothing.',
    ]);
    // Made once more, only what is missing is added, in front of the rest.
    const there = [good, fair, rest].map((rule) => ({ rule }));
    const missing = missingBranches(there, own('state'), type, index);
    expect([missing.index, missing.pieces.map(({ top, elements }) => elements[top]?.name)]).toEqual([2, ['POOR']]);
    expect(
      missingBranches(
        rules.map((rule) => ({ rule })),
        own('state'),
        type,
        index,
      ).pieces,
    ).toEqual([]);
    expect(missingBranches([], own('state'), type, index)).toMatchObject({ index: 0, pieces: { length: 4 } });
  });

  it('that cannot be read hide their element, and are told', () => {
    // By itself a negative test of a field that is gone would hold everywhere.
    const gone: Rule = { test: 'choice.isnt', path: own('gone'), operand: 'x' };
    const tree = treeFrom({ kind: 'box', children: [branch({ group: 'any', rules: [gone, is('good')] })] });
    const made = compileTree(tree, houseScopes, index);
    expect(made.draw(envOf([record(1, 'house', { state: 'good' })]))).toBe('');
    expect(made.looseEnds.map((end) => end.what)).toEqual([expect.stringContaining('deleted')]);
  });
});
