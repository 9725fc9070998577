import { writeDatePattern } from '../base/write';
import type { Env } from '../paths/env';
import type { Thing } from '../paths/pool';
import { writeValue } from '../formats/write-value';
import { collationKey } from '../base/collation';
import { orderKey, compareKeys, iterationAt } from './evaluate';
import type { CompiledLoop } from './compiled';

/** Items that stand under one head, each with its position in the list, from 1. */
export interface ItemGroup {
  /** '' for items without a value to group by. */
  label: string;
  items: { item: Thing; position: number }[];
}

interface Head {
  id: string;
  label: string;
  order: number | string;
}

/**
 * Parts the items of one page into groups, in the order of the values that they are grouped by; those without a value
 * come last. An item with several values stands in each of their groups. Within a group the list's order holds.
 */
export function groupItems(loop: CompiledLoop, env: Env, items: readonly Thing[], first: number): ItemGroup[] {
  const { group } = loop;
  const all = items.map((item, i) => ({ item, position: first + i }));
  if (!group) return [{ label: '', items: all }];
  const { depth } = loop.scope;
  const before = env.turns[depth];
  const groups = new Map<string, { head: Head; items: ItemGroup['items'] }>();
  const without: ItemGroup['items'] = [];
  for (const one of all) {
    env.turns[depth] = iterationAt(loop, one.item, one.position, 0);
    const read = group.path.read(env);
    const values = Array.isArray(read) ? (read as unknown[]) : read === undefined ? [] : [read];
    const heads = new Map(values.map((value) => headOf(loop, value, env)).map((head) => [head.id, head]));
    for (const head of heads.values()) {
      const found = groups.get(head.id);
      if (found) found.items.push(one);
      else groups.set(head.id, { head, items: [one] });
    }
    if (!heads.size) without.push(one);
  }
  env.turns[depth] = before;
  const sorted = [...groups.values()].sort((a, b) => {
    const order = compareKeys(a.head.order, b.head.order, env.model.site.locale);
    return group.down ? -order : order;
  });
  return [
    ...sorted.map(({ head, items: own }) => ({ label: head.label, items: own })),
    ...(without.length ? [{ label: '', items: without }] : []),
  ];
}

function headOf(loop: CompiledLoop, value: unknown, env: Env): Head {
  const { path, by } = loop.group as NonNullable<CompiledLoop['group']>;
  const { locale } = env.model.site;
  const single = { ...path.type, many: false };
  const text = writeValue(value, single, env);
  if (by === 'letter') {
    const letter = [...text.trim().normalize('NFD')].find((c) => /[\p{L}\p{N}]/u.test(c)) ?? '';
    const label = letter.toLocaleUpperCase(locale);
    return { id: label, label, order: collationKey(label) };
  }
  const { day: dayOf, groupOrder } = path.type.kind.family;
  if ((by === 'month' || by === 'year') && dayOf) {
    const day = dayOf(value, env.model.site);
    const id = day.slice(0, by === 'month' ? 7 : 4);
    return { id, label: by === 'year' ? id : (writeDatePattern(`${id}-01`, locale, 'MMMM y') ?? id), order: id };
  }
  if (groupOrder) return { id: String(value), label: text, order: groupOrder(value, text, env.model) };
  return { id: JSON.stringify(value), label: text, order: orderKey(value, single) };
}
