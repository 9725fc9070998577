import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { combinationsOf, coverageOf, smallestLook } from '../../src/lib/core/coverage/coverage';
import { looksOf } from '../../src/lib/core/coverage/look';
import { whyOf } from '../../src/lib/core/checks/why';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { makeEnv } from '../../src/lib/core/paths/env';
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
});
