import { titleOfArchive, type ArchiveOf, type ArchivePlace } from '../addresses/archives';
import { iterationAt } from '../loops/evaluate';
import { groupItems } from '../loops/group';
import { escapeHtml } from '../base/text';
import { makeEnv, type Env, type Iteration } from '../paths/env';
import type { CompiledTree } from '../render/compile';
import type { Field } from '../schema/field';
import type { ContentRecord } from '../schema/record';

/** What one drawing of a template is about: a page that it answers, or one turn of a loop on such a page. */
export interface Subject {
  /** Of a record its number; else its place in the list, from 1. */
  id: number;
  title: string;
  record?: ContentRecord;
  archive?: ArchivePlace;
  /** The turn, within those around it, outermost first; and the place of each among those of its page, from 0. */
  turns?: (Iteration | undefined)[];
  at?: number[];
  /** For a frame: the address of the page within, and what stands for that. */
  address?: string;
  content?: string;
}

/** What every drawing has. */
export type RecordContext = Pick<Env, 'model' | 'pool' | 'today'>;

/** The environment in which a subject is drawn. */
export function envOf(
  subject: Subject,
  { model, pool, today }: RecordContext,
  more: Partial<Pick<Env, 'trace'>> = {},
): Env {
  const { record, archive, turns, address, content } = subject;
  const env = makeEnv({ model, pool, today, record, archive, address, content, ...more });
  if (turns) env.turns = [...turns];
  return env;
}

export const ofRecords = (records: readonly ContentRecord[]): Subject[] =>
  records.map((record) => ({ id: record.id, title: record.title, record }));

/** The pages of archives, each archive’s one after the other; `most` of them at most. How many an archive has is known by drawing it. */
export function* ofArchives(
  archives: readonly ArchiveOf[],
  compiled: CompiledTree,
  ground: RecordContext,
  most: number,
): Generator<number, Subject[]> {
  const out: Subject[] = [];
  for (const of of archives) {
    const title = of.of === 'front' ? 'Front page' : titleOfArchive(of, ground.model);
    const first = envOf({ id: 0, title, archive: { ...of, page: 1 } }, ground);
    compiled.draw(first);
    const pages = first.paging?.pages ?? 1;
    for (let page = 1; page <= pages; page++) {
      if (out.length >= most) return out;
      out.push({ id: out.length + 1, title: page > 1 ? `${title}, page ${page}` : title, archive: { ...of, page } });
    }
    yield out.length;
  }
  return out;
}

/** What a turn is called: its record, or the first words of its row. */
function nameOfTurn({ record, row }: Iteration, fields: readonly Field[] | undefined): string | undefined {
  if (record) return record.title;
  for (const { id } of fields ?? []) {
    const value = row?.[id];
    if (typeof value === 'string' && value) return value.slice(0, 60);
  }
  return undefined;
}

/** The turns of a loop on these pages, in each turn of the loops around it; `most` of them at most. */
export function* ofIterations(
  loopId: string,
  compiled: CompiledTree,
  pages: readonly Subject[],
  ground: RecordContext,
  most: number,
): Generator<number, Subject[]> {
  const made = compiled.elements.get(loopId);
  const out: Subject[] = [];
  if (!made?.loop) return out;
  const chain = [...made.scopes.loops.map(({ id }) => id), loopId].map((id) => compiled.elements.get(id)?.loop);
  for (const page of pages) {
    const visit = (depth: number, env: Env, above: string, places: number[]): void => {
      const loop = chain[depth];
      if (!loop || out.length >= most) return;
      const list = env.pool.list(loop, env);
      const from = (list.page - 1) * (loop.perPage ?? 0) + 1;
      const groups = loop.group ? groupItems(loop, env, list.items, from) : [];
      for (const [at, item] of list.items.entries()) {
        if (out.length >= most) return;
        const turn = iterationAt(loop, item, from + at, list.total);
        const group = groups.find((one) => one.items.some((own) => own.item === item));
        if (group) turn.group = { label: group.label, size: group.items.length };
        env.turns[depth] = turn;
        const title = `${above} › ${nameOfTurn(turn, loop.scope.fields) ?? from + at}`;
        const own = [...places, at];
        if (depth === chain.length - 1)
          out.push({ ...page, id: out.length + 1, title, turns: env.turns.slice(0, depth + 1), at: own });
        else visit(depth + 1, env, title, own);
      }
      env.turns.length = depth;
    };
    visit(0, envOf(page, ground), page.title, []);
    yield out.length;
  }
  return out;
}

/** Pages as a frame stands around them; what a page shows is its title here. */
export function around(pages: readonly (Subject & { address: string })[]): Subject[] {
  return pages.map(({ title, address }, at) => ({
    id: at + 1,
    title,
    address,
    content: `<div class="stack gap-m"><h1>${escapeHtml(title)}</h1></div>`,
  }));
}
