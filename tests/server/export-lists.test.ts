import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate } from '../../src/lib/server/services/templates';
import { exportSite } from '../../src/lib/server/site/export/export';
import { oneListOnly } from '../../src/lib/server/site/export/packing';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';

/** Lists on one page, records, and pages that each list has with two on each. */
const [LISTS, RECORDS, PAGES] = [12, 5, 3];
let drop: () => Promise<void>;
const folder = mkdtempSync(join(tmpdir(), 'plum-lists-'));
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  for (let i = 0; i < RECORDS; i++) await createRecord('house', { title: `House ${i}`, status: 'published' });
  const list = (n: number): Nested => ({
    kind: 'loop',
    id: `list${n}`,
    name: `List ${n}`,
    props: {
      source: { from: 'query', typeIds: ['house'] },
      order: [{ steps: ['@title'], down: n % 2 === 1 }],
      perPage: 2,
    },
    children: [{ kind: 'text', slots: { text: boundTo(`loop:list${n}`, ['@title']) } }],
  });
  await createTemplate({
    id: 'house',
    name: 'House',
    purpose: 'record',
    typeId: 'house',
    tree: treeFrom({ kind: 'box', children: Array.from({ length: LISTS }, (_, n) => list(n)) }),
  });
  await release();
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await drop();
});

describe('a page with many lists that have pages', () => {
  it('is exported once for each page of each list, not for every state of all of them', async () => {
    const path = join(folder, 'site.zip');
    await exportSite(
      { path, base: '', other: () => Promise.resolve(undefined) },
      { signal: new AbortController().signal, report: () => undefined },
    );
    const names: string[] = [];
    const links = new Set<string>();
    for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 1e9, wanted: () => true })) {
      names.push(name);
      if (!name.startsWith('houses/house-0/')) continue;
      let html = '';
      for await (const piece of bytes) html += Buffer.from(piece).toString('utf8');
      for (const [, link = ''] of html.matchAll(/href="([^"#]*)"/g))
        links.add(new URL(link, `http://x.example/${name}`).pathname.slice(1).replace(/(^|\/)$/, '$1index.html'));
    }
    const own = names.filter((name) => name.startsWith('houses/house-0/'));
    expect(own).toHaveLength(1 + LISTS * (PAGES - 1));
    // Whatever a pager leads to is there.
    const lost = [...links].filter((link) => link.startsWith('houses/house-0/') && !names.includes(link));
    expect(lost).toEqual([]);
  });

  it('is drawn with others: statements do not grow with pages, and others have their turn between', async () => {
    const exported = async () => {
      clearResults();
      let turns = 0;
      let over = false;
      const count = () => {
        turns++;
        if (!over) setImmediate(count);
      };
      setImmediate(count);
      let pages = 0;
      const statements = await statementsOf(async () => {
        const made = await exportSite(
          { path: join(folder, 'more.zip'), base: '', other: () => Promise.resolve(undefined) },
          { signal: new AbortController().signal, report: () => undefined },
        );
        pages = made!.pages;
      });
      over = true;
      expect(turns).toBeGreaterThan(pages);
      return { pages, statements: statements.filter((sql) => !sql.includes('content_changes')).length };
    };
    const few = await exported();
    for (let i = RECORDS; i < RECORDS + 6; i++)
      await createRecord('house', { title: `House ${i}`, status: 'published' });
    const many = await exported();
    expect(many.pages).toBeGreaterThan(few.pages * 4);
    expect(many.statements).toBeLessThan(few.statements * 1.5);
    expect(many.statements).toBeLessThan(many.pages / 10);
  });

  it('keeps of a question the list that it changes', () => {
    expect(oneListOnly('?a-page=2', '')).toBe('?a-page=2');
    expect(oneListOnly('?a-page=2&b-page=3', 'a-page=2')).toBe('?b-page=3');
    expect(oneListOnly('?a-page=3&b-page=3', 'a-page=2&b-page=3')).toBe('?a-page=3');
    expect(oneListOnly('?b-page=2', 'a-page=2&b-page=2')).toBe('?b-page=2');
  });
});
