import fc from 'fast-check';
import { expect, it } from 'vitest';
import { sharing } from '../../src/lib/server/queries/shared';
import type { Selected } from '../../src/lib/server/queries/sql';

/** A list of 300 for each letter, as the database would give its parts, or how many it has. */
const rowsOf = ({ sql, values }: Selected): number[] => {
  if (!sql.endsWith('OFFSET ?')) return [(values[0] as string).charCodeAt(0)];
  const [letter, count, offset] = values as [string, number, number];
  const all = Array.from({ length: 300 }, (_, i) => letter.charCodeAt(0) * 1000 + i);
  return all.slice(offset, offset + count);
};
const letter = fc.constantFrom('a', 'b', 'c');
const part = fc
  .record({ letter, offset: fc.nat(320), count: fc.integer({ min: 1, max: 40 }) })
  .map(({ letter: of, offset, count }): Selected => ({
    what: 'id',
    sql: 'FROM t WHERE l = ? ORDER BY id LIMIT ? OFFSET ?',
    values: [of, count, offset],
  }));
const whole = letter.map((of): Selected => ({ what: 'n', sql: 'FROM t WHERE l = ?', values: [of] }));

it('gives everybody what they asked for, however many share a question', () => {
  let [wantedOf, askedOf] = [0, 0];
  fc.assert(
    fc.property(fc.array(fc.oneof(part, whole), { minLength: 20, maxLength: 40 }), (wanted) => {
      const { asked, own } = sharing(wanted);
      const answers = asked.map(rowsOf);
      expect(own.map(({ at, skip, count }) => answers[at]!.slice(skip, skip + count))).toEqual(wanted.map(rowsOf));
      wantedOf += wanted.length;
      askedOf += asked.length;
    }),
  );
  expect(askedOf).toBeLessThan(wantedOf / 2);
});
