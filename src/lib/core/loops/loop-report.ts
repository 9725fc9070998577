import type { ContentRecord } from '../schema/record';
import { ITERATIONS_ON_CANVAS, type Env, type Pool } from '../paths/env';
import type { FacetCounts, LoopList } from '../paths/pool';
import type { CompiledLoop } from './compiled';

/**
 * Lists as they are told by whoever has all records, to a canvas that has some of them only. Both name a list in the same
 * way: by the loop's settings, the page it stands on, and the turns around it.
 */
export interface LoopReport {
  lists: { key: string; ids: number[]; total: number; page: number; pages: number }[];
  facets: { key: string; counts: { key: string; options: [string, number][]; low?: number; high?: number }[] }[];
  /** Of the loop whose story was asked for. */
  stories: { key: string; candidates: number; leftOut: number; removed: number[]; found: number; total: number }[];
  /** Records on the lists, and those that were looked up on the way. */
  records: ContentRecord[];
}

/** Names what a loop yields in one place of one page. */
export function keyOfList(loop: CompiledLoop, env: Env): string {
  const { id, source, filter, order, skip, limit, perPage, leaveOut, search, visitors, scope } = loop;
  return JSON.stringify([
    id,
    source,
    filter?.rule,
    order.map(({ path, take, down }) => [path.path, take, down]),
    skip,
    limit,
    perPage,
    leaveOut,
    search,
    visitors?.facets.map(({ key, step }) => [key, step]),
    env.record?.id,
    env.archive && Object.entries(env.archive).sort(([a], [b]) => (a < b ? -1 : 1)),
    env.today,
    env.turns.slice(0, scope.depth).map((turn) => turn && [turn.record?.id ?? turn.row, turn.position]),
    leaveOut.above && [...env.shown],
  ]);
}

/** Whether a loop asks for a list, and does not go over what is at hand where it stands. */
export const isAnsweredByServer = ({ source }: CompiledLoop): boolean =>
  source.from === 'query' || source.from === 'archive';

/** A pool that notes what it is asked for and reports it, for a canvas. */
export function reporting(pool: Pool): { pool: Pool; report: LoopReport } {
  const report: LoopReport = { lists: [], facets: [], stories: [], records: [] };
  const records = new Map<number, ContentRecord>();
  const note = (record: ContentRecord | undefined): void => {
    if (!record || records.has(record.id)) return;
    records.set(record.id, record);
    report.records.push(record);
  };
  return {
    report,
    pool: {
      media: pool.media,
      record(id) {
        const record = pool.record(id);
        note(record);
        return record;
      },
      list(request, env) {
        const loop = request as CompiledLoop;
        if (!isAnsweredByServer(loop)) return pool.list(loop, env);
        // A list without pages is one page, whichever page of an archive it stands on.
        const first: Env = { ...env, archive: env.archive && { ...env.archive, page: 1 } };
        const list: LoopList = loop.perPage
          ? pool.list(loop, env)
          : { ...pool.list({ ...loop, perPage: ITERATIONS_ON_CANVAS } as CompiledLoop, first), page: 1, pages: 1 };
        for (const item of list.items) note(item as ContentRecord);
        const { total, page, pages } = list;
        const ids = (list.items as ContentRecord[]).map(({ id }) => id);
        report.lists.push({ key: keyOfList(loop, env), ids, total, page, pages });
        return list;
      },
      facets(request, env) {
        const loop = request as CompiledLoop;
        const facets = pool.facets(loop, env);
        if (isAnsweredByServer(loop))
          report.facets.push({
            key: keyOfList(loop, env),
            counts: [...facets].map(([key, { options, low, high }]) => ({ key, options: [...options], low, high })),
          });
        return facets;
      },
    },
  };
}

/** So many answers of each sort are remembered. */
const MOST_REMEMBERED = 400;
/** With more records than these all that was told before goes. */
const MOST_RECORDS = 10_000;

/** What a canvas was told, for as long as nothing has changed that it was told of. */
export class Tellings {
  private readonly lists = new Map<string, LoopReport['lists'][number]>();
  private readonly facets = new Map<string, FacetCounts>();
  private readonly stories = new Map<string, LoopReport['stories'][number]>();
  private readonly records = new Map<number, ContentRecord>();

  /** The same with what was told now; what was told long ago goes. */
  with({ lists, facets, stories, records }: LoopReport): Tellings {
    // Lists and their records go together, or lists would be short of some.
    const before = this.records.size + records.length > MOST_RECORDS ? new Tellings() : this;
    const next = new Tellings();
    const keep = <K, V>(into: Map<K, V>, known: ReadonlyMap<K, V>, added: [K, V][]): void => {
      const own = new Set(added.map(([key]) => key));
      const old = [...known].filter(([key]) => !own.has(key));
      for (const [key, value] of [...old, ...added].slice(-Math.max(MOST_REMEMBERED, added.length)))
        into.set(key, value);
    };
    keep(
      next.lists,
      before.lists,
      lists.map((one) => [one.key, one]),
    );
    keep(
      next.stories,
      before.stories,
      stories.map((one) => [one.key, one]),
    );
    keep(
      next.facets,
      before.facets,
      facets.map(({ key, counts }) => [
        key,
        new Map(counts.map(({ key, options, ...ends }) => [key, { options: new Map(options), ...ends }])),
      ]),
    );
    for (const [id, record] of before.records) next.records.set(id, record);
    for (const record of records) next.records.set(record.id, record);
    return next;
  }

  story(loop: CompiledLoop, env: Env): LoopReport['stories'][number] | undefined {
    return this.stories.get(keyOfList(loop, env));
  }

  /** A pool that answers with what was told, and with what is at hand where nothing was. `asks` says of which loops it is told. */
  over(pool: Pool, asks: (loop: CompiledLoop) => boolean): Pool {
    const record = (id: number) => pool.record(id) ?? this.records.get(id);
    return {
      record,
      media: pool.media,
      list: (request, env): LoopList => {
        const loop = request as CompiledLoop;
        const told = asks(loop) ? this.lists.get(keyOfList(loop, env)) : undefined;
        if (!told) return pool.list(loop, env);
        const { ids, total, page, pages } = told;
        return { items: ids.map(record).filter((one) => one !== undefined), total, page, pages };
      },
      facets: (request, env): FacetCounts => {
        const loop = request as CompiledLoop;
        return (asks(loop) ? this.facets.get(keyOfList(loop, env)) : undefined) ?? pool.facets(loop, env);
      },
    };
  }
}
