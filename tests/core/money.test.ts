import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { decimalOf, decimalsOf, moneyAt, moneyNumber, parseMoney, writeMoney } from '../../src/lib/core/base/money';
import { compileSlot } from '../../src/lib/core/bindings/slots';
import { formatNamed } from '../../src/lib/core/formats';
import { kindOf, parseValue } from '../../src/lib/core/model/field';
import { money as family } from '../../src/lib/core/model/families/money';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { compileLoop } from '../../src/lib/core/loops/loop';
import { compileTree } from '../../src/lib/core/render/compile';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { analyse } from '../../src/lib/core/rules/analyse';
import { compileRule } from '../../src/lib/core/rules/compile';
import { operatorNamed } from '../../src/lib/core/rules/operators';
import { all, test } from '../support/rules';
import { makeEnv } from '../../src/lib/core/paths/env';
import { LoopSettingsSchema } from '../../src/lib/core/schema/loop';
import { envOf, field, houseScopes, index, own as ownPath, record } from '../support/world';

const own = field('fee', 'money', { currency: 'EUR' });
const accepted = (value: unknown, settings = {}) => {
  const result = parseValue({ ...own, settings: { ...own.settings, ...settings } }, value, 'v');
  return result.ok ? result.value : result.problems[0]?.what;
};
const cell = (text: string) => accepted(kindOf(own)?.kind.fromCell?.(text, kindOf(own)?.settings));

const CURRENCIES = ['EUR', 'CHF', 'JPY', 'KWD', 'GBP'];
const amount = fc
  .tuple(fc.integer({ min: -199_999_999_999, max: 199_999_999_999 }), fc.constantFrom(...CURRENCIES))
  .map(([units, currency]) => writeMoney({ units, currency }));

describe('amounts of money', () => {
  // ISO 4217, table A.1, minor units; from memory.
  it.each([
    ['EUR', 2],
    ['JPY', 0],
    ['KRW', 0],
    ['KWD', 3],
    ['TND', 3],
    ['CHF', 2],
  ])('of %s have %d decimals', (currency, decimals) => {
    expect(decimalsOf(currency)).toBe(decimals);
    expect(accepted(`1.${'1'.repeat(decimals + 1)} ${currency}`)).toMatch(
      `This is an amount with ${decimals} decimals at most`,
    );
  });

  it.each([
    ['12.5 EUR', '12.50 EUR'],
    ['0012 EUR', '12.00 EUR'],
    ['-0 EUR', '0.00 EUR'],
    ['5 JPY', '5 JPY'],
  ])('%s is written in one way, as %s', (text, one) => expect(accepted(text)).toBe(one));

  it.each([
    ['12.50', 'This is an amount with its currency, such as 12.50 EUR.'],
    ['12,50 EUR', 'This is an amount with its currency, such as 12.50 EUR.'],
    ['12.50 XQZ', 'There is no currency XQZ: a currency is a code of ISO 4217, such as EUR.'],
    ['2000000000.00 EUR', 'This is an amount with 2 decimals at most, below 2,000,000,000 EUR.'],
    [`${'1'.repeat(100_000)} EUR`, 'This is an amount with its currency, such as 12.50 EUR.'],
  ])('%.30s is none, and it is said what would be one', (text, words) => expect(accepted(text)).toBe(words));

  it('of another currency are refused where the field has one only', () => {
    expect(accepted('5 CHF', { only: true })).toBe('Amounts here are of EUR.');
  });

  it.each([
    ['12.5', '12.50 EUR'],
    ['€1,200.50', '1200.50 EUR'],
    ['1’200 CHF', '1200.00 CHF'],
    ['-£3', '-3.00 GBP'],
    ['¥ 500', '500 JPY'],
    ['usd 7', '7.00 USD'],
    ['12,50 €', '12.50 EUR'],
    ['12,5', '12.50 EUR'],
    ['1.200,50 €', '1200.50 EUR'],
    ['1 200 000 €', '1200000.00 EUR'],
    ['1,200,000', '1200000.00 EUR'],
    ['1.005 KWD', '1.005 KWD'],
  ])('are read in cells of tables: %s', (text, one) => expect(cell(text)).toBe(one));
  it.each(['free', '€5 CHF', '--5', '5 EUR each', '1.2.3', '1,200 €', '1.200 €', '12,34,56', '1,5.0', '1,005 KWD'])(
    'are not guessed at: %s',
    (text) => expect(cell(text)).toMatch(/^This is an amount/),
  );

  it('are read back from what they are written as, and from the number that orders them', () => {
    fc.assert(
      fc.property(amount, (text) => {
        const read = parseMoney(text)!;
        expect(writeMoney(read)).toBe(text);
        expect(Number.isSafeInteger(moneyNumber(read))).toBe(true);
        expect(moneyAt(moneyNumber(read))).toEqual(read);
      }),
    );
  });

  it('read as Intl.NumberFormat writes currencies (ECMA-402)', () => {
    fc.assert(
      fc.property(amount, fc.constantFrom('name', 'code', 'symbol'), (text, style) => {
        const { currency } = parseMoney(text)!;
        const theirs = new Intl.NumberFormat(index.site.locale, {
          style: 'currency',
          currency,
          currencyDisplay: style as 'name',
        }).format(Number(decimalOf(parseMoney(text)!)));
        const context = { site: index.site, settings: {}, today: '' };
        expect(formatNamed('money')!.write(text, { style, decimals: 'all', grouping: true }, context)).toBe(theirs);
      }),
    );
    const write = (text: string, options: object) =>
      formatNamed('money')!.write(
        text,
        { style: 'symbol', decimals: 'all', grouping: true, ...options },
        {
          site: index.site,
          settings: {},
          today: '',
        },
      );
    expect(write('1200.00 EUR', { decimals: 'needed' })).toBe('€1,200');
    expect(write('1200.50 EUR', { decimals: 'needed', grouping: false })).toBe('€1200.50');
    expect(write('1200.50 EUR', { style: 'amount' })).toBe('1,200.50');
  });

  it('add up exactly, in integers as large as they need', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: -99_999_999, max: 99_999_999 }), { minLength: 1, maxLength: 40 }),
        (cents) => {
          const sum = family.takes!.sum!(cents.map((units) => writeMoney({ units, currency: 'EUR' })));
          const theirs = cents.reduce((total, one) => total + BigInt(one), 0n);
          expect(parseMoney(String(sum))!.units).toBe(Number(theirs));
        },
      ),
    );
    // Binary fractions would come to 0.30000000000000004.
    expect(family.takes!.sum!(['0.10 EUR', '0.20 EUR'])).toBe('0.30 EUR');
  });
});

const houses = ['12.50 EUR', '9.00 CHF', undefined, '7.00 EUR', '100 JPY'].map((fee, i) =>
  record(i + 1, 'house', fee === undefined ? {} : { fee }),
);

describe('tests of money', () => {
  const holds = (name: string, operand: unknown) =>
    houses.flatMap((house) => {
      const compiled = compileRule(test(name, 'fee', operand), houseScopes, index);
      return compiled.holds(envOf([house])) ? [house.values.fee ?? 'none'] : [];
    });

  it('compare amounts of one currency, and never those of two', () => {
    expect(holds('money.ge', '7 EUR')).toEqual(['12.50 EUR', '7.00 EUR']);
    expect(holds('money.gt', '7.00 EUR')).toEqual(['12.50 EUR']);
    expect(holds('money.lt', '10.00 CHF')).toEqual(['9.00 CHF']);
    expect(holds('money.eq', '100 JPY')).toEqual(['100 JPY']);
    expect(holds('money.ne', '100 JPY')).toEqual(['12.50 EUR', '9.00 CHF', 'none', '7.00 EUR']);
    expect(holds('money.between', ['5.00 EUR', '7.00 EUR'])).toEqual(['7.00 EUR']);
    expect(holds('money.between', ['5.00 EUR', '7.00 JPY'])).toEqual([]);
    expect(holds('money.currency', '0.00 EUR')).toEqual(['12.50 EUR', '7.00 EUR']);
  });

  it('hold for just those for which plain arithmetic says so', () => {
    const kinds = {
      ge: (a: bigint, b: bigint) => a >= b,
      gt: (a: bigint, b: bigint) => a > b,
      le: (a: bigint, b: bigint) => a <= b,
      lt: (a: bigint, b: bigint) => a < b,
      eq: (a: bigint, b: bigint) => a === b,
    };
    fc.assert(
      fc.property(
        amount,
        amount,
        fc.constantFrom(...(Object.keys(kinds) as (keyof typeof kinds)[])),
        (left, right, name) => {
          const operator = operatorNamed(`money.${name}`)!;
          const type = { kind: kindOf(own)!.kind, settings: {}, many: false, label: '', typeIds: [] };
          const env = envOf([houses[0]!]);
          const ours = operator.test(operator.seen!(left, type, env), operator.prepare!(right, type), env, type);
          const plain = (text: string) => BigInt(text.replace(/\D/g, '')) * (text.startsWith('-') ? -1n : 1n);
          expect(ours).toBe(left.slice(-3) === right.slice(-3) && kinds[name](plain(left), plain(right)));
        },
      ),
    );
  });

  it('are told to contradict each other where no amount can meet both', () => {
    const never = (...rules: ReturnType<typeof test>[]) =>
      analyse(compileRule(all(...rules), houseScopes, index), envOf([houses[0]!])).never;
    expect(never(test('money.gt', 'fee', '10.00 EUR'), test('money.lt', 'fee', '5.00 EUR'))).toBe(true);
    expect(never(test('money.gt', 'fee', '10.00 EUR'), test('money.lt', 'fee', '15.00 CHF'))).toBe(true);
    expect(never(test('money.gt', 'fee', '10.00 EUR'), test('money.lt', 'fee', '15.00 EUR'))).toBe(false);
  });
});

describe('what is taken of several amounts', () => {
  const deposits = (...amounts: string[]) => ({ seasons: amounts.map((deposit) => ({ deposit })) });
  const written = (take: 'sum' | 'average' | 'smallest', ...amounts: string[]) => {
    const bound = { path: ownPath('seasons', 'deposit'), take, formats: [], fallbacks: [], before: '', after: '' };
    const slot = compileSlot({ bound }, 'inline', houseScopes, index);
    expect(slot.problems).toEqual([]);
    return slot.inline(envOf([record(1, 'house', deposits(...amounts))]));
  };

  it('is one of each currency', () => {
    expect(written('sum', '0.10 EUR', '0.20 EUR')).toBe('€0.30');
    expect(written('sum', '2.00 EUR', '5.00 CHF', '1.50 EUR')).toBe('CHF\u00a05.00 and €3.50');
    expect(written('average', '1.00 EUR', '2.00 EUR', '5 JPY')).toBe('€1.50 and JP¥5');
    expect(written('smallest', '2.00 EUR', '5.00 CHF', '1.50 EUR')).toBe('CHF\u00a05.00 and €1.50');
  });

  it('orders lists by currency, then by amount', () => {
    const records = [
      record(1, 'house', deposits('2.00 EUR', '9.00 EUR')),
      record(2, 'house', deposits('5.00 CHF')),
      record(3, 'house'),
      record(4, 'house', deposits('1.50 EUR')),
    ];
    const ids = (take: 'smallest' | 'largest') => {
      const settings = { source: { from: 'archive' }, order: [{ steps: ['seasons', 'deposit'], take, down: false }] };
      const scopes = { archive: { on: 'type' as const, typeIds: ['house'] }, loops: [] };
      const loop = compileLoop('l', 'House', LoopSettingsSchema.parse(settings), scopes, index);
      const pool = memoryPool(records, [], false);
      const env = makeEnv({ model: index, pool, today: '', archive: { of: 'type', typeId: 'house', page: 1 } });
      expect(loop.problems).toEqual([]);
      return pool.list(loop, env).items.map(({ id }) => id);
    };
    expect(ids('smallest')).toEqual([2, 4, 1, 3]);
    expect(ids('largest')).toEqual([2, 4, 1, 3]);
  });
});

describe('a chart of amounts', () => {
  const seasons = ['2.00 EUR', '5.00 CHF', '4.00 EUR'].map((deposit, i) => ({ season: `s${i}`, deposit }));
  const html = (how: { studio?: boolean }) => {
    const tree = treeFrom({
      kind: 'chart',
      props: { value: 'deposit' },
      slots: { rows: boundTo('record', ['seasons']) },
    });
    return compileTree(tree, houseScopes, index, how).draw(envOf([record(1, 'house', { seasons })]));
  };

  it('draws those of one currency, and says in the studio what it leaves out', () => {
    expect(html({})).toContain('s0 2\u00a0EUR, s2 4\u00a0EUR');
    expect(html({})).not.toMatch(/CHF|another currency/);
    expect(html({ studio: true })).toContain('Not drawn beside EUR: 1 of another currency');
  });
});
