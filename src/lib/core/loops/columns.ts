import type { ContentRecord } from '../schema/record';
import type { Env } from '../paths/env';
import type { CompiledRule, CompiledTest } from '../rules/compile';
import { isGroup } from '../schema/rule';

/** For each of some records 1 where a rule holds, else 0. */
export type RuleColumn = Uint8Array;

/**
 * Rules asked of many records, a column at a time: each value is read once for every record and each test asked once,
 * however many rules share it. The rules stand in the page's own scopes, outside of loops; `env.record` is set to each
 * record in turn, and put back.
 */
export function columnsFor(records: readonly ContentRecord[], env: Env): (rule: CompiledRule) => RuleColumn {
  const values = new Map<string, unknown[]>();
  const forms = new Map<string, Map<unknown, unknown[]>>();
  const tests = new Map<string, RuleColumn>();

  const eachRecord = (body: (i: number) => void): void => {
    const { record: before } = env;
    for (let i = 0; i < records.length; i++) {
      env.record = records[i];
      body(i);
    }
    env.record = before;
  };
  const column = (holds: (env: Env) => boolean): RuleColumn => {
    const out = new Uint8Array(records.length);
    eachRecord((i) => {
      out[i] = holds(env) ? 1 : 0;
    });
    return out;
  };
  const keyOf = ({ path }: CompiledTest) => `${path.path.from} ${path.path.steps.join(' ')}`;

  function read(made: CompiledTest): unknown[] {
    const key = keyOf(made);
    let list = values.get(key);
    if (!list) {
      const own: unknown[] = new Array<unknown>(records.length);
      eachRecord((i) => {
        own[i] = made.path.read(env);
      });
      values.set(key, (list = own));
    }
    return list;
  }

  /** Values in the form that tests compare, empties as undefined. */
  function formsOf(made: CompiledTest): unknown[] {
    const { seen, counts } = made.operator;
    const key = `${keyOf(made)} ${counts ? 'counts' : ''}`;
    const byForm = forms.get(key) ?? new Map<unknown, unknown[]>();
    forms.set(key, byForm);
    let list = byForm.get(seen);
    if (!list) {
      const { type } = made.path;
      list = read(made).map((value) => {
        if (value === undefined || (Array.isArray(value) && !value.length && !counts)) return undefined;
        return seen ? seen(value, type, env) : value;
      });
      byForm.set(seen, list);
    }
    return list;
  }

  function testColumn(made: CompiledTest): RuleColumn {
    // What is compared with another value of the record is asked record by record.
    if (made.test.other) return column(made.holds);
    const key = JSON.stringify(made.test);
    const known = tests.get(key);
    if (known) return known;
    const { operator, path } = made;
    const operand = made.operand(env);
    const empty = operator.negative ? 1 : 0;
    const list = formsOf(made);
    const out = new Uint8Array(list.length);
    for (let i = 0; i < list.length; i++) {
      const value = list[i];
      out[i] = value === undefined ? empty : operator.test(value, operand, env, path.type) ? 1 : 0;
    }
    tests.set(key, out);
    return out;
  }

  function asked(rule: CompiledRule): RuleColumn {
    if (rule.test) return testColumn(rule.test);
    if (rule.named && rule.parts[0]) return asked(rule.parts[0]);
    if (!isGroup(rule.rule)) return column(rule.holds);
    const out = new Uint8Array(records.length);
    const { group } = rule.rule;
    if (!rule.parts.length) return out.fill(1);
    const [first, ...others] = rule.parts.map(asked) as [RuleColumn, ...RuleColumn[]];
    out.set(first);
    for (const other of others)
      if (group === 'all') for (let i = 0; i < out.length; i++) out[i]! &= other[i]!;
      else for (let i = 0; i < out.length; i++) out[i]! |= other[i]!;
    if (group === 'none') for (let i = 0; i < out.length; i++) out[i]! ^= 1;
    return out;
  }
  // What cannot be read in full hides its element.
  return (rule) => (rule.problems.length ? new Uint8Array(records.length) : asked(rule));
}
