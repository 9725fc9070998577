import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { pagesNear } from '../../src/lib/core/loops/near';

describe('the pages named around one', () => {
  it('are few however many there are, in order, with the first, the last, and those beside it', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 100_000 }), fc.nat(), (pages, at) => {
        const page = 1 + (at % pages);
        const near = pagesNear(page, pages);
        expect(near.length).toBeLessThanOrEqual(7);
        expect(near).toEqual([...new Set(near)].sort((a, b) => a - b));
        for (const wanted of [1, page - 2, page - 1, page, page + 1, page + 2, pages])
          expect(near.includes(wanted)).toBe(wanted >= 1 && wanted <= pages);
      }),
    );
  });
});
