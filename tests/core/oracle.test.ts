import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { combinationsOf, coverageOf, smallestLook } from '../../src/lib/core/coverage/coverage';
import { looksOf } from '../../src/lib/core/coverage/look';
import { holdersOf, ofPlaces } from '../../src/lib/core/coverage/places';
import { ofRecords, ofIterations } from '../../src/lib/core/coverage/subjects';
import { whyOf } from '../../src/lib/core/checks/why';
import { supposing, type Supposed } from '../../src/lib/core/content/suppose';
import { combinationsThatCan, wantedFor } from '../../src/lib/core/coverage/witnesses';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv } from '../../src/lib/core/paths/env';
import { Trace } from '../../src/lib/core/paths/trace';
import { witnessFor, type Witness } from '../../src/lib/core/rules/witness';
import { compileTree } from '../../src/lib/core/render/compile';
import type { Element, Tree } from '../../src/lib/core/schema/element';
import type { Template } from '../../src/lib/core/schema/template';
import { treeFrom } from '../../src/lib/core/templates/build';
import { parentOf } from '../../src/lib/core/templates/tree';
import { drained } from '../support/drained';
import { housesAndWays, seenIn, SHARED, treeOfHouses } from '../support/oracle';
import { houseScopes, index } from '../support/world';

/** The part that stands wherever one is placed; one in itself draws nothing. */
const partOf = (tree: Tree) => (id: string) =>
  id === SHARED
    ? { id, name: 'Shared', purpose: 'part' as const, serves: [{ on: 'type' as const, typeId: 'house' }], tree }
    : undefined;

/** An element with all that it stands in. */
function above(tree: Tree, id: string): Element[] {
  const place = parentOf(tree, id);
  return [tree.elements[id]!, ...(place ? above(tree, place.parent.id) : [])];
}

describe('what is said of a page', () => {
  it('is what its HTML shows: why, fates, coverage, combinations and looks', () => {
    let held = { inParts: 0, inTurns: 0, places: 0 };
    fc.assert(
      fc.property(treeOfHouses('x'), treeOfHouses('p'), housesAndWays, (tree, shared, records) => {
        const given = { model: index, pool: memoryPool(records, [], false), today: '2026-06-15' };
        const parts = partOf(shared);
        const page = compileTree(tree, houseScopes, index, { parts });
        const marked = compileTree(tree, houseScopes, index, { marked: true, parts });
        const houses = records.filter(({ typeId, status }) => typeId === 'house' && status === 'published');
        const coverage = coverageOf(tree, marked, ofRecords(houses), makeEnv(given));
        const look = looksOf(tree, marked, given);
        const pages = houses.map((record) => page.draw(makeEnv({ ...given, record })));
        const seen = pages.map((html) => seenIn(html, tree));
        const seenInPart = pages.map((html) => seenIn(html, shared));
        for (const [at, record] of houses.entries()) {
          const here = seen[at]!;
          const { drawn, hidden, empty } = look(ofRecords([record])[0]!);
          const told = (list: readonly string[]) => [...list].sort();
          const inParts = new Set(drawn.flatMap((id) => (id.includes('>') ? [id.split('>')[1]!] : [])));
          expect(told([...inParts])).toEqual(told([...seenInPart[at]!].flatMap(([id, n]) => (n ? [id] : []))));
          expect(told(drawn.filter((id) => !id.includes('>')))).toEqual(
            told([...here].flatMap(([id, n]) => (n ? [id] : []))),
          );
          expect([...hidden, ...empty].filter((id) => here.get(id))).toEqual([]);
          for (const [i, { id }] of coverage.sections.entries())
            if (!id.includes('>'))
              expect([id, record.id, coverage.shown[i]![at]]).toEqual([id, record.id, here.get(id) ? 1 : 0]);
          for (const [id, { scopes }] of marked.elements) {
            if (scopes.loops.length) continue;
            const why = whyOf(
              tree,
              marked.elements,
              id,
              () => makeEnv({ ...given, record }),
              (one) => drawn.includes(one),
            );
            expect([id, record.id, why.shown]).toEqual([id, record.id, Boolean(here.get(id))]);
          }
        }
        // A part stands where its outermost element is in the page, and shows the records that it stands for there.
        const places = drained(ofPlaces(SHARED, page, ofRecords(houses), given, 1000));
        const stands = seenInPart.reduce((sum, here) => sum + (here.get(shared.root) ?? 0), 0);
        expect(places.length).toBe(stands);
        expect(places.every(({ record }) => record?.typeId === 'house')).toBe(true);
        held = { ...held, places: held.places + places.length };
        for (const inner of Object.keys(shared.elements)) {
          const places = coverage.sections.flatMap(({ id }, i) => (id.split('>')[1] === inner ? [i] : []));
          const counted = places.map((i) => coverage.turns[i]?.drawn ?? coverage.totals[i]!);
          const sum = seenInPart.reduce((all, here) => all + (here.get(inner) ?? 0), 0);
          if (!places.length) continue;
          expect([inner, counted.reduce((a, b) => a + b)]).toEqual([inner, sum]);
          held = { ...held, inParts: held.inParts + Number(sum > 0) };
        }
        for (const [id, { loop }] of marked.elements) {
          if (!loop) continue;
          const turns = drained(ofIterations(id, marked, ofRecords(houses), makeEnv(given), 1000));
          const inside = coverageOf(tree, marked, turns, makeEnv(given), [], id);
          const surely = above(tree, id).every((one) => !one.rule && one.kind !== 'alternatives');
          for (const [i, section] of inside.sections.entries()) {
            if (section.id.includes('>')) continue;
            const sum = seen.reduce((all, here) => all + (here.get(section.id) ?? 0), 0);
            const counted = inside.turns[i]?.drawn ?? inside.totals[i]!;
            held = { ...held, inTurns: held.inTurns + Number(surely && sum > 0) };
            if (surely) expect([id, section.id, counted]).toEqual([id, section.id, sum]);
            else expect(counted).toBeGreaterThanOrEqual(sum);
          }
        }
        for (const [i, { id, inTurns }] of coverage.sections.entries()) {
          if (id.includes('>')) continue;
          const sum = seen.reduce((all, here) => all + (here.get(id) ?? 0), 0);
          expect([id, coverage.turns[i]?.drawn]).toEqual([id, inTurns && sum]);
          expect(coverage.turns[i]?.of ?? sum).toBeGreaterThanOrEqual(sum);
        }
        expect(combinationsOf(coverage).reduce((sum, { count }) => sum + count, 0)).toBe(houses.length);
        const chosen = smallestLook(coverage).map((id) => seen[houses.findIndex((one) => one.id === id)]!);
        for (const { id } of coverage.sections.filter((one) => !one.id.includes('>')))
          for (const there of [true, false])
            if (seen.some((here) => Boolean(here.get(id)) === there))
              expect(chosen.some((here) => Boolean(here.get(id)) === there)).toBe(true);
      }),
      { numRuns: 700 },
    );
    // What was held together came about often enough.
    expect(held.inParts).toBeGreaterThan(50);
    expect(held.inTurns).toBeGreaterThan(5);
    expect(held.places).toBeGreaterThan(200);
  });

  it('of a part names the templates on whose pages it stands, those that hold it within another part too', () => {
    const template = (id: string, purpose: Template['purpose'], ...places: string[]): Template => ({
      id,
      name: id,
      purpose,
      serves: [],
      order: 0,
      version: 1,
      tree: treeFrom({
        kind: 'box',
        id: `${id}1`,
        children: places.map((one, at) => ({ kind: 'part', id: `${id}2${at}`, props: { part: one } })),
      }),
    });
    const all = [
      template('page', 'record', 'outer'),
      template('list', 'archive', 'inner'),
      template('frame', 'frame', 'other'),
      template('outer', 'part', 'inner'),
      template('inner', 'part', 'outer'),
      template('other', 'part'),
    ];
    const names = (id: string) => holdersOf(id, all).map((one) => one.id);
    expect(names('inner')).toEqual(['page', 'list']);
    expect(names('other')).toEqual(['frame']);
    expect(names('page')).toEqual([]);
  });

  it('of witnesses is what their page shows, and of what can never be that no page does', () => {
    fc.assert(
      fc.property(treeOfHouses('x'), housesAndWays, (tree, records) => {
        const pool = memoryPool(records, [], false);
        const given = { model: index, pool, today: '2026-06-15' };
        const marked = compileTree(tree, houseScopes, index, { marked: true });
        const houses = records.filter(({ typeId, status }) => typeId === 'house' && status === 'published');
        const among = { ...given, records: houses, typeIds: ['house'], media: [] };
        const coverage = coverageOf(tree, marked, ofRecords(houses), makeEnv(given));
        /** What became of the elements on the page of a witness. */
        const pageOf = (found: Witness & { is: 'there' | 'made' }) => {
          const supposed: Supposed = found.is === 'made' ? found.supposed : new Map();
          const all = supposing(records, supposed, index, found.record);
          const trace = new Trace();
          const record = all.find(({ id }) => id === found.record.id);
          marked.draw(makeEnv({ ...given, pool: memoryPool(all, [], false), record, trace }));
          return trace.tally();
        };
        for (const [i, { id }] of coverage.sections.entries()) {
          const wanted = wantedFor(tree, marked.elements, id);
          if (typeof wanted === 'string') continue;
          const found = witnessFor(wanted, among);
          if (found.is === 'never') expect([id, coverage.totals[i]]).toEqual([id, 0]);
          if (found.is !== 'there' && found.is !== 'made') continue;
          // Rules let it be there; where nothing in it, or around it, is filled it is left out all the same.
          expect([id, pageOf(found).get(id)?.rule ?? 0]).toEqual([id, 0]);
        }
        const { sections, combinations, more } = combinationsThatCan(tree, marked.elements, makeEnv(given));
        const can = new Set(combinations.map(({ pattern }) => pattern));
        // Rules of every record come to one of the combinations that can be.
        for (const record of houses) {
          const env = makeEnv({ ...given, record });
          const met = combinations.filter(({ wanted }) => wanted.every(({ rule, holds }) => rule.holds(env) === holds));
          expect(more ? met.length <= 1 : met.length === 1).toBe(true);
        }
        expect(can.size).toBe(combinations.length);
        expect(sections.every(({ inTurns }) => !inTurns)).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});
