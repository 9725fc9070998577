import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { fromOwnPages, isStudio } from '../../src/lib/server/access/access';
import { readBody, numberOf, respond } from '../../src/lib/server/api/http';
import { problemAnswer } from '../../src/lib/server/api/problem';
import { Refusal } from '../../src/lib/server/base/refusal';
import { addBytes, readMedia, readOriginal, readRendition } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { saveContentType } from '../../src/lib/server/services/types';
import { listRecords, recordCounts, recordTable, workbenchRecords } from '../../src/lib/server/services/lists';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { createTemplate, deleteTemplate, readTemplates } from '../../src/lib/server/services/templates';
import { clearReadCache } from '../../src/lib/server/queries/read-cache';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase, statementsOf } from '../support/database';
import { saveModel } from '../support/fill';
import { saveSite } from '../support/services';

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-media-'));
let drop: () => Promise<void>;
const get = (path: string) => answer(path, { base: '.own{}', which: 'draft', origin: 'https://a.example' });

beforeAll(async () => {
  drop = await freshDatabase(undefined, 'utf8mb4', { mediaFolder: folder });
  await saveSite({ name: 'A & B', tagline: '', locale: 'en-GB', timeZone: 'Europe/London' });
  await saveModel();
  for (let i = 1; i <= 23; i++)
    await createRecord('way', {
      title: `Way ${String(i).padStart(2, '0')}`,
      status: i === 23 ? 'draft' : 'published',
      values: { km: i },
    });
});
afterAll(async () => {
  await drop();
  rmSync(folder, { recursive: true, force: true });
});

describe('the site', () => {
  it('answers plainly where there is no template, 20 a page', async () => {
    const first = await get('/ways/');
    expect(first.status).toBe(200);
    expect(first.html.match(/<h2/g)).toHaveLength(20);
    expect(first.html).toContain('<link rel="canonical" href="https://a.example/ways/">');
    expect(first.html).toContain('<link rel="next" href="/ways/page/2/">');
    const second = await get('/ways/page/2/');
    expect(second.html.match(/<h2/g)).toHaveLength(2);
    expect(second.html).toContain('<title>Ways, page 2 · A &amp; B</title>');
    expect((await get('/ways/page/3/')).status).toBe(404);
    expect((await get('/ways/way-23')).status).toBe(404);
    expect((await get('/houses/')).html).toContain('There is nothing here yet.');
  });

  it('marks where one is, and lists what there is on the front page', async () => {
    expect((await get('/ways/way-01')).html).toContain('<a href="/ways/" aria-current="true">Ways</a>');
    const front = await get('/');
    expect(front.html).toContain('<a href="/ways/">Ways</a> <span class="tone-quiet">22</span>');
    expect(front.html).toContain('<title>A &amp; B</title>');
    expect(front.html).toContain('<p>A &amp; B</p>');
  });

  it('follows a template at once, the first in order, and the plain one again without it', async () => {
    const tree = (words: string) =>
      treeFrom({ kind: 'text', slots: { text: boundTo('record', ['km'], { before: words }) } });
    const one = await createTemplate({ name: 'One', purpose: 'record', typeId: 'way', tree: tree('One: ') });
    const two = await createTemplate({ name: 'Two', purpose: 'record', typeId: 'way', tree: tree('Two: ') });
    expect((await get('/ways/way-07')).html).toContain('<p class="text">One: 7\u00a0km</p>');
    await deleteTemplate(one.id);
    expect((await get('/ways/way-07')).html).toContain('Two: 7');
    await deleteTemplate(two.id);
    expect((await get('/ways/way-07')).html).toContain('Length: 7');
    expect(await readTemplates()).toEqual([]);
    await expect(deleteTemplate(two.id)).rejects.toThrow('There is no template');
  });

  it('shows a change of a record or of the model the next time it is asked', async () => {
    const { records } = await recordTable('way', { search: 'WAY 05' });
    expect(records).toHaveLength(1);
    await changeRecord(records[0]!.id, { title: 'Renamed', slug: 'renamed', values: { km: 55.5 } });
    expect(await get('/ways/way-05')).toMatchObject({ status: 301, to: '/ways/renamed' });
    expect((await get('/ways/renamed')).html).toContain('Length: 55.5');
    const way = (await readModel()).type('way')!;
    await saveContentType({ ...way, fields: way.fields.map((f) => (f.id === 'km' ? { ...f, label: 'Distance' } : f)) });
    expect((await get('/ways/renamed')).html).toContain('Distance: 55.5');
  });

  it('costs the same for a page of 20 and for the front page however much there is', async () => {
    await get('/ways/');
    clearReadCache();
    const archive = await statementsOf(() => get('/ways/'));
    clearReadCache();
    const last = await statementsOf(() => get('/ways/page/2/'));
    expect(archive.length).toBe(last.length);
    expect((await statementsOf(() => get('/'))).length).toBeLessThan(5);
  });
});

describe('lists', () => {
  it('are searched by title, whatever stands in the search', async () => {
    expect((await recordTable('way', { search: '%' })).total).toBe(0);
    expect((await recordTable('way', { search: "' OR 1=1 --" })).total).toBe(0);
    expect((await recordTable('way', { search: '\\' })).total).toBe(0);
    const page = await recordTable('way', { search: 'way', limit: 5, offset: 20 });
    expect([page.total, page.records.length]).toEqual([22, 2]);
  });

  it('take nothing from an operand as SQL', async () => {
    const rule = (test: string, steps: string[], operand: unknown) => ({
      source: { from: 'query', typeIds: ['way'] },
      filter: { group: 'all', rules: [{ test, path: { from: 'loop:list', steps }, operand }] },
    });
    for (const nasty of ["x' OR '1'='1", '?', ':name', '\\', '"; DROP TABLE records; --', '!%', '\u0000']) {
      expect((await listRecords(rule('text.is', ['@title'], nasty), { drafts: true })).total).toBe(0);
      expect((await listRecords(rule('text.contains', ['@title'], nasty), { drafts: true })).total).toBe(0);
    }
    await expect(listRecords({ source: { from: 'query', typeIds: ['gone'] } }, { drafts: true })).rejects.toThrow(
      Refusal,
    );
    await expect(listRecords({ source: 'everything' }, { drafts: true })).rejects.toThrow('The list cannot be read.');
  });

  it('count and gather for the studio, drafts too', async () => {
    expect((await recordCounts()).way).toEqual({ published: 22, drafts: 1 });
    const { records, partial } = await workbenchRecords();
    expect([records.length, partial]).toEqual([23, {}]);
  });
});

describe('pictures', () => {
  const make = (width: number, height: number) =>
    sharp({ create: { width, height, channels: 3, background: '#5b2b4c' } });

  it('are kept with their size and given at the widths that are asked for', async () => {
    const kept = await addBytes('wide.jpg', await make(1000, 500).jpeg().toBuffer(), 'Plum');
    expect(kept).toMatchObject({ mime: 'image/jpeg', width: 1000, height: 500, alt: 'Plum' });
    const small = await readRendition(kept.id, 640, 'webp');
    expect([small.mime, (await sharp(small.bytes).metadata()).width]).toEqual(['image/webp', 640]);
    expect((await readRendition(kept.id, 640, 'webp')).bytes.equals(small.bytes)).toBe(true);
    await expect(readRendition(kept.id, 1280, 'webp')).rejects.toThrow('rendition');
    await expect(readRendition(kept.id, 641, 'webp')).rejects.toThrow('rendition');
    await expect(readOriginal(999_999)).rejects.toThrow('There is no picture');
    await expect(readMedia(999_999)).rejects.toThrow('There is no picture');
    const own = await readRendition(kept.id, 320, 'jpeg');
    expect((await sharp(own.bytes).metadata()).format).toBe('jpeg');
    await expect(readRendition(kept.id, 320, 'png')).rejects.toThrow('rendition');
  });

  it('that lie on their side stand up (EXIF 2.3, orientation 6)', async () => {
    const bytes = await make(400, 800).jpeg().withMetadata({ orientation: 6 }).toBuffer();
    const kept = await addBytes('side.jpg', bytes, '');
    expect([kept.width, kept.height]).toEqual([800, 400]);
    const { width = 0, height = 0 } = await sharp((await readRendition(kept.id, 640, 'webp')).bytes).metadata();
    expect(width).toBeGreaterThan(height);
  });

  it('are known by their content, whatever they are called', async () => {
    expect((await addBytes('x.txt', await make(9, 9).png().toBuffer(), '')).mime).toBe('image/png');
    const wrong = [
      Buffer.from('<!DOCTYPE html><script>x()</script>'),
      Buffer.from('GIF89a'),
      (await make(600, 600).jpeg().toBuffer()).subarray(0, 700),
      Buffer.from([0, 1, 2, 3, 255]),
    ];
    for (const bytes of wrong) await expect(addBytes('picture.png', bytes, '')).rejects.toMatchObject({ status: 415 });
  });
});

describe('who is asking', () => {
  it('is asked at the studio and the API, and nowhere else', () => {
    expect(['/studio', '/studio/x', '/api/v1/types', '/api'].every(isStudio)).toBe(true);
    expect(['/', '/studios/', '/apis', '/huts/api', '/media/1/original'].some(isStudio)).toBe(false);
  });

  it('may not change anything from another site', () => {
    const url = new URL('https://a.example/api/v1/types');
    const asks = (method: string, headers: Record<string, string>) =>
      fromOwnPages(new Request(url, { method, headers }), url);
    expect(asks('POST', { 'sec-fetch-site': 'same-origin' })).toBe(true);
    expect(asks('POST', { origin: 'https://a.example' })).toBe(true);
    expect(asks('POST', {})).toBe(true);
    expect(asks('POST', { 'sec-fetch-site': 'cross-site' })).toBe(false);
    expect(asks('PUT', { origin: 'https://b.example' })).toBe(false);
    expect(asks('DELETE', { origin: 'null' })).toBe(false);
    // The API is nobody's to read from there; pages may be looked at.
    expect(asks('GET', { 'sec-fetch-site': 'cross-site' })).toBe(false);
    const page = new URL('https://a.example/studio/rules');
    expect(fromOwnPages(new Request(page, { headers: { 'sec-fetch-site': 'cross-site' } }), page)).toBe(true);
  });
});

describe('answers of the API', () => {
  it('are problem details where a request is refused (RFC 9457)', async () => {
    const refused = await respond(() =>
      Promise.reject(new Refusal(409, 'Taken.', [{ at: 'slug', what: 'It is taken.' }], { version: 3 })),
    );
    expect(refused.headers.get('content-type')).toBe('application/problem+json');
    expect([refused.status, await refused.json()]).toEqual([
      409,
      {
        type: 'about:blank',
        title: 'Taken.',
        status: 409,
        problems: [{ at: 'slug', what: 'It is taken.' }],
        version: 3,
      },
    ]);
    expect((await respond(() => Promise.resolve(new Response(null, { status: 204 })))).status).toBe(204);
    expect(await problemAnswer(403, 'No.').json()).toEqual({
      type: 'about:blank',
      title: 'No.',
      status: 403,
    });
    await expect(respond(() => Promise.reject(new Error('a fault of ours')))).rejects.toThrow('a fault of ours');
  });

  it('say what is wrong with a body or a number', async () => {
    const body = (text: string, type = 'application/json') =>
      readBody(
        new Request('https://a.example', { method: 'POST', body: text, headers: { 'content-type': type } }),
        4_000_000,
      );
    expect(await body('{"a":1}')).toEqual({ a: 1 });
    await expect(body('{')).rejects.toMatchObject({ status: 400 });
    await expect(body('{}', 'text/plain')).rejects.toMatchObject({ status: 415 });
    await expect(body(`"${'x'.repeat(4_000_001)}"`)).rejects.toMatchObject({ status: 413 });
    expect(numberOf('12')).toBe(12);
    for (const wrong of ['0', '-1', '1.5', '1e3', 'x', '12345678901'])
      expect(() => numberOf(wrong)).toThrow('nothing with this number');
  });
});

describe('the site’s own settings', () => {
  it('are those that the platform knows', async () => {
    const site = { name: 'A & B', tagline: '', locale: 'en-GB', timeZone: 'Europe/London' };
    await expect(saveSite({ ...site, locale: 'not a locale' })).rejects.toMatchObject({ status: 422 });
    await expect(saveSite({ ...site, timeZone: 'Mars/Olympus' })).rejects.toMatchObject({ status: 422 });
    expect((await saveSite({ ...site, locale: 'de-DE' })).locale).toBe('de-DE');
    expect((await get('/ways/renamed')).html).toContain('Distance: 55,5');
    await saveSite(site);
  });
});
