import { looksOf, type Look } from '$lib/core/coverage/look';
import { ofRecords, type Subject } from '$lib/core/coverage/subjects';
import { combinationsThatCan } from '$lib/core/coverage/witnesses';
import { supposing, type Supposed } from '$lib/core/content/suppose';
import { memoryPool } from '$lib/core/loops/memory-pool';
import { makeEnv } from '$lib/core/paths/env';
import { witnessFor } from '$lib/core/rules/witness';
import type { ContentRecord } from '$lib/core/schema/record';
import { amongAll } from '../state/suppose';
import type { Workbench } from '../state/workbench.svelte';

/** One combination of sections that can occur, with a page to look at for it. */
export interface Combined {
  pattern: string;
  /** Names of the sections that are there. */
  names: string[];
  /** Records for which rules come to it, of those that the template is looked at with. */
  there: ContentRecord[];
  record: ContentRecord;
  supposed: Supposed;
  look: Look;
}

export interface CombinedAll {
  list: Combined[];
  /** Combinations of which it could not be told whether they occur. */
  unknown: string[][];
  /** There are more than were gone through. */
  more: boolean;
  done: boolean;
}

/** Every combination that can occur, one after the other, so that others get their turn; `stopped` ends it. */
export async function combineAll(
  wb: Workbench,
  stopped: () => boolean,
  tell: (so: CombinedAll) => void,
): Promise<void> {
  const { tree, index, media } = wb;
  const compiled = wb.plain;
  const env = wb.preview.ruleEnv;
  const given = amongAll(wb);
  const { sections, combinations, more } = combinationsThatCan(tree, compiled.elements, env);
  const names = (pattern: string) => sections.flatMap(({ id }, i) => (pattern[i] === '1' ? [wb.titleOf(id)] : []));
  const list: Combined[] = [];
  const unknown: string[][] = [];
  for (const { pattern, wanted } of combinations) {
    const met = (record: ContentRecord) => {
      const at = makeEnv({ model: index, pool: env.pool, today: env.today, record });
      return wanted.every(({ rule, holds }) => rule.holds(at) === holds);
    };
    const there = given.records.filter(met);
    const found = there[0] ? { is: 'there' as const, record: there[0] } : witnessFor(wanted, given);
    if (found.is === 'there' || found.is === 'made') {
      const supposed: Supposed = found.is === 'made' ? found.supposed : new Map();
      const records = found.is === 'made' ? supposing(wb.records, supposed, index, found.record) : wb.records;
      const pool = found.is === 'made' ? memoryPool(records, media, false) : env.pool;
      const record = records.find(({ id }) => id === found.record.id) ?? found.record;
      const look = looksOf(tree, compiled, { model: index, pool, today: env.today })(ofRecords([record])[0] as Subject);
      list.push({ pattern, names: names(pattern), there, record, supposed, look });
    } else if (found.is === 'unknown') unknown.push(names(pattern));
    tell({ list: [...list], unknown: [...unknown], more, done: false });
    await new Promise((done) => setTimeout(done));
    if (stopped()) return;
  }
  tell({ list, unknown, more, done: true });
}
