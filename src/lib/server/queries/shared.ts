import type { Selected } from './sql';

/** Rows beyond this are not read for the sake of several parts of a list. */
const LONGEST = 20_000;
/** Of what is read for several parts of a list, they have at least one row in so many. */
const THINNEST = 4;

const PART = / LIMIT \? OFFSET \?$/;

export interface Shared {
  /** What is asked, each once. */
  asked: Selected[];
  /** For each of what was wanted: the place of its question among these, and which of its rows are its own. */
  own: { at: number; skip: number; count: number }[];
}

/** Several selects, with the same ones asked once, and parts of one list that lie near each other read as one. */
export function sharing(wanted: readonly Selected[]): Shared {
  const groups = new Map<string, { select: Selected; members: { at: number; offset: number; count: number }[] }>();
  for (const [at, select] of wanted.entries()) {
    const isPart = PART.test(select.sql);
    const values = isPart ? select.values.slice(0, -2) : select.values;
    const [count, offset] = isPart ? (select.values.slice(-2) as [number, number]) : [Infinity, 0];
    const key = JSON.stringify([select.what, select.sql, values]);
    const group = groups.get(key) ?? { select, members: [] };
    group.members.push({ at, offset, count });
    groups.set(key, group);
  }
  const shared: Shared = { asked: [], own: new Array<Shared['own'][number]>(wanted.length) };
  for (const { select, members } of groups.values()) {
    members.sort((a, b) => a.offset - b.offset);
    for (let from = 0; from < members.length;) {
      const first = members[from]!;
      let end = first.offset + first.count;
      let rows = first.count;
      let to = from + 1;
      for (; to < members.length; to++) {
        const next = members[to]!;
        const further = Math.max(end, next.offset + next.count);
        if (further - first.offset > LONGEST && Number.isFinite(further)) break;
        if (further - first.offset > (rows + next.count) * THINNEST) break;
        end = further;
        rows += next.count;
      }
      const at = shared.asked.length;
      const together = to - from > 1 && Number.isFinite(end);
      shared.asked.push(
        together
          ? { ...select, values: [...select.values.slice(0, -2), end - first.offset, first.offset] }
          : (wanted[first.at] as Selected),
      );
      for (const member of members.slice(from, to))
        shared.own[member.at] = { at, skip: member.offset - first.offset, count: member.count };
      from = to;
    }
  }
  return shared;
}
