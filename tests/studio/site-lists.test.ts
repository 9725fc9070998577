import { flushSync } from 'svelte';
import { describe, expect, it } from 'vitest';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import type { CompiledTree } from '../../src/lib/core/render/compile';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Template } from '../../src/lib/core/schema/template';
import { createApi, type Transport } from '../../src/lib/client/api';
import { RequestFailed } from '../../src/lib/studio/base/request';
import { SiteLists } from '../../src/lib/studio/workbench/state/site-lists.svelte';

const warden = (id: number): ContentRecord =>
  ({
    id,
    typeId: 'warden',
    title: `Warden ${id}`,
    status: 'published',
    values: {},
    terms: [],
  }) as unknown as ContentRecord;

/** A workbench that has the first three wardens of a site, where those with even numbers are there beyond. */
function house({ partial = { warden: 9000 } as Record<string, number>, unreachable = 0 } = {}) {
  const asked: number[][] = [];
  const answer = ((_method: string, address: string) => {
    const ids = new URL(address, 'http://a.example').searchParams.get('ids')!.split(',').map(Number);
    asked.push(ids);
    if (unreachable-- > 0) return Promise.reject(new RequestFailed('The server cannot be reached.', 0));
    return Promise.resolve({ records: ids.filter((id) => id % 2 === 0).map(warden) });
  }) as Transport;
  const host = {
    partial,
    compiled: { elements: new Map() } as unknown as CompiledTree,
    template: {} as Template,
    selection: { id: '' },
    preview: { record: undefined, archive: undefined, page: 1, held: new Set<string>(), turns: {}, isSupposing: false },
    shown: 0,
    show: () => host.shown++,
  };
  const lists = new SiteLists(host, createApi(answer));
  const here = memoryPool([1, 2, 3].map(warden), []);
  const title = (id: number) => lists.over(here).record(id)?.title;
  return { asked, host, lists, title };
}
/** Until all that is under way has been answered. */
const answered = async () => {
  for (let i = 0; i < 20; i++) await Promise.resolve();
  flushSync();
};

describe('records that something leads to and that are not here', () => {
  it('are looked up together, once, and are there when it is drawn again', async () => {
    const { asked, host, title } = house();
    expect([1, 70, 71, 80].map(title)).toEqual(['Warden 1', undefined, undefined, undefined]);
    await answered();
    expect(asked).toEqual([[70, 71, 80]]);
    expect(host.shown).toBe(1);
    expect([70, 71, 80].map(title)).toEqual(['Warden 70', undefined, 'Warden 80']);
    await answered();
    // What visitors do not see is not asked for each time.
    expect(asked.length).toBe(1);
    expect(title(90)).toBeUndefined();
    await answered();
    expect([title(70), title(90)]).toEqual(['Warden 70', 'Warden 90']);
  });
  it('are asked for again once something has changed, and where the server was not reached', async () => {
    const { asked, lists, title } = house({ unreachable: 1 });
    title(70);
    await answered();
    expect(title(70)).toBeUndefined();
    await answered();
    expect(title(70)).toBe('Warden 70');
    lists.forget();
    expect([title(70), title(71)]).toEqual([undefined, undefined]);
    await answered();
    expect(title(70)).toBe('Warden 70');
    expect(asked).toEqual([[70], [70], [70, 71]]);
  });
  it('are few enough to hold, whatever leads to them', async () => {
    const { asked, title } = house();
    for (let id = 10; id < 20_000; id++) title(id);
    await answered();
    expect(asked.every((ids) => ids.length <= 500)).toBe(true);
    expect(asked.flat().length).toBe(5000);
    for (let id = 10; id < 20_000; id++) title(id);
    await answered();
    expect(asked.flat().length).toBe(5000);
  });
  it('are none where all records are here', async () => {
    const { asked, title } = house({ partial: {} });
    expect(title(70)).toBeUndefined();
    await answered();
    expect(asked).toEqual([]);
  });
});
