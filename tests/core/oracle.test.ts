import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { combinationsOf, coverageOf, smallestLook } from '../../src/lib/core/coverage/coverage';
import { looksOf } from '../../src/lib/core/coverage/look';
import { whyOf } from '../../src/lib/core/checks/why';
import { supposing, type Supposed } from '../../src/lib/core/content/suppose';
import { combinationsThatCan, wantedFor } from '../../src/lib/core/coverage/witnesses';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv } from '../../src/lib/core/paths/env';
import { Trace } from '../../src/lib/core/paths/trace';
import { witnessFor, type Witness } from '../../src/lib/core/rules/witness';
import { compileTree } from '../../src/lib/core/render/compile';
import { housesAndWays, seenIn, treeOfHouses } from '../support/oracle';
import { houseScopes, index } from '../support/world';

describe('what is said of a page', () => {
  it('is what its HTML shows: why, fates, coverage, combinations and looks', () => {
    fc.assert(
      fc.property(treeOfHouses('x'), housesAndWays, (tree, records) => {
        const given = { model: index, pool: memoryPool(records, [], false), today: '2026-06-15' };
        const page = compileTree(tree, houseScopes, index);
        const marked = compileTree(tree, houseScopes, index, { marked: true });
        const houses = records.filter(({ typeId, status }) => typeId === 'house' && status === 'published');
        const coverage = coverageOf(tree, marked, houses, makeEnv(given));
        const look = looksOf(tree, marked, given);
        const seen = houses.map((record) => seenIn(page.draw(makeEnv({ ...given, record })), tree));
        for (const [at, record] of houses.entries()) {
          const here = seen[at]!;
          const { drawn, hidden, empty } = look(record);
          const told = (list: readonly string[]) => [...list].sort();
          expect(told(drawn)).toEqual(told([...here].flatMap(([id, n]) => (n ? [id] : []))));
          expect([...hidden, ...empty].filter((id) => here.get(id))).toEqual([]);
          for (const [i, { id }] of coverage.sections.entries())
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
        for (const [i, { id, inTurns }] of coverage.sections.entries()) {
          const sum = seen.reduce((all, here) => all + (here.get(id) ?? 0), 0);
          expect([id, coverage.turns[i]?.drawn]).toEqual([id, inTurns && sum]);
          expect(coverage.turns[i]?.of ?? sum).toBeGreaterThanOrEqual(sum);
        }
        expect(combinationsOf(coverage).reduce((sum, { count }) => sum + count, 0)).toBe(houses.length);
        const chosen = smallestLook(coverage).map((id) => seen[houses.findIndex((one) => one.id === id)]!);
        for (const { id } of coverage.sections)
          for (const there of [true, false])
            if (seen.some((here) => Boolean(here.get(id)) === there))
              expect(chosen.some((here) => Boolean(here.get(id)) === there)).toBe(true);
      }),
      { numRuns: 700 },
    );
  });

  it('of witnesses is what their page shows, and of what can never be that no page does', () => {
    fc.assert(
      fc.property(treeOfHouses('x'), housesAndWays, (tree, records) => {
        const pool = memoryPool(records, [], false);
        const given = { model: index, pool, today: '2026-06-15' };
        const marked = compileTree(tree, houseScopes, index, { marked: true });
        const houses = records.filter(({ typeId, status }) => typeId === 'house' && status === 'published');
        const among = { ...given, records: houses, typeIds: ['house'], media: [] };
        const coverage = coverageOf(tree, marked, houses, makeEnv(given));
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
