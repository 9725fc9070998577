import { expect, type APIResponse } from '@playwright/test';
import { test } from './live';
import { ANY } from './support';

interface Details {
  title: string;
  status: number;
  problems?: { at: string; what: string }[];
}
const json = async <T>(response: APIResponse) => (await response.json()) as T;

test('bad input to every part of content is told as problem details', async ({ request }) => {
  const cases: [string, Promise<APIResponse>, number][] = [
    ['a list without a type', request.get('/api/v1/records'), 422],
    ['a list of an unknown type', request.get('/api/v1/records?type=nowhere'), 404],
    ['a filter that is no JSON', request.get('/api/v1/records?type=hut&filter={'), 422],
    [
      'a filter by a field that is gone',
      request.get(
        `/api/v1/records?type=hut&filter=${encodeURIComponent('{"group":"all","rules":[{"test":"filled","path":{"from":"loop:table","steps":["gone"]}}]}')}`,
      ),
      422,
    ],
    ['a sort by what has no order', request.get('/api/v1/records?type=hut&sort=hut_gallery'), 422],
    ['a page of no size', request.get('/api/v1/records?type=hut&per_page=0'), 422],
    ['a bulk change of nothing', request.patch('/api/v1/records/bulk', { headers: ANY, data: { ids: [] } }), 422],
    [
      'a bulk change to an unknown status',
      request.patch('/api/v1/records/bulk', { headers: ANY, data: { ids: [10], status: 'hidden' } }),
      422,
    ],
    ['a bulk deletion by words', request.delete('/api/v1/records/bulk', { headers: ANY, data: { ids: ['ten'] } }), 422],
    ['records made up by the million', request.post('/api/v1/types/hut/generate', { data: { count: 1_000_000 } }), 422],
    ['no made-up records to remove', request.delete('/api/v1/types/page/generate', { headers: ANY }), 404],
    ['an export in an unknown format', request.get('/api/v1/types/hut/export?format=pdf'), 404],
    ['map data of what has no place', request.get('/api/v1/types/trail/export?format=geojson'), 422],
    ['uses of a field that is not there', request.get('/api/v1/types/hut/uses?field=gone'), 404],
    ['a preview of nothing', request.post('/api/v1/types/hut/preview', { data: {} }), 422],
    ['a schema that is none', request.post('/api/v1/types/schema', { data: { type: 'string' } }), 422],
    ['an order that is none', request.put('/api/v1/types/order', { headers: ANY, data: { a: 1 } }), 422],
    ['a term without a name', request.post('/api/v1/terms', { data: { taxonomyId: 'region', name: ' ' } }), 422],
    ['a term of no taxonomy', request.post('/api/v1/terms', { data: { taxonomyId: 'gone', name: 'x' } }), 404],
    [
      'a term moved below itself',
      request.post('/api/v1/terms/upper-vale/move', { data: { parentId: 'corrie-head' } }),
      422,
    ],
    [
      'a term merged with itself',
      request.post('/api/v1/terms/upper-vale/merge', { data: { into: 'upper-vale' } }),
      422,
    ],
    [
      'a term merged into another scheme',
      request.post('/api/v1/terms/upper-vale/merge', { data: { into: 'weather' } }),
      422,
    ],
    [
      'a tree made flat',
      request.put('/api/v1/taxonomies/region', {
        headers: ANY,
        data: { id: 'region', key: 'region', name: 'Region', tree: false },
      }),
      422,
    ],
    ['an author without a name', request.post('/api/v1/authors', { data: { name: '' } }), 422],
    ['an author that is not there', request.delete('/api/v1/authors/9999', { headers: ANY }), 404],
    ['an undo of nothing', request.post('/api/v1/removals/rm_nothing/undo'), 404],
    ['a job that is not there', request.get('/api/v1/jobs/job_nothing'), 404],
    ['a file of nothing', request.post('/api/v1/media?name=x', { data: Buffer.alloc(0) }), 422],
    [
      'a program',
      request.post('/api/v1/media?name=x.png', { data: Buffer.concat([Buffer.from('MZ'), Buffer.alloc(200, 7)]) }),
      415,
    ],
    ['media that are not there', request.delete('/api/v1/media', { headers: ANY, data: { ids: [99_999] } }), 404],
    ['a focal point outside', request.patch('/api/v1/media/1', { headers: ANY, data: { focalX: 2 } }), 422],
    ['an import of nothing', request.put('/api/v1/imports?name=x.csv', { headers: ANY, data: Buffer.alloc(0) }), 422],
    [
      'an import of a file that was not sent',
      request.post('/api/v1/imports', {
        data: { file: 'gone', typeId: 'page', format: 'csv', targets: { a: '@title' } },
      }),
      404,
    ],
    ['a rendition of no width', request.get('/media/1/333.webp'), 404],
    ['a rendition in another format', request.get('/media/1/320.png'), 404],
    ['a file that is not there', request.get('/media/99999/file/x'), 404],
  ];
  for (const [name, asked, status] of cases) {
    const answer = await asked;
    expect([name, answer.status()]).toEqual([name, status]);
    expect([name, answer.headers()['content-type']]).toEqual([name, 'application/problem+json']);
    expect([name, (await json<Details>(answer)).title.length > 3]).toEqual([name, true]);
  }
});

test('a backup that is none is told by the job that reads it', async ({ request }) => {
  const begun = await json<{ id: string }>(
    await request.post('/api/v1/backup?name=x.zip', { data: Buffer.from('no zip at all') }),
  );
  await expect
    .poll(async () => (await json<{ state: string }>(await request.get(`/api/v1/jobs/${begun.id}`))).state)
    .toBe('failed');
  const job = await json<{ title: string; problems: { what: string }[] }>(
    await request.get(`/api/v1/jobs/${begun.id}`),
  );
  expect(job.problems[0]?.what).toContain('The zip cannot be opened');
});

test('everything is taken out in formats that name themselves', async ({ request }) => {
  const expected: Record<string, [string, string]> = {
    csv: ['text/csv; charset=utf-8', 'huts.csv'],
    json: ['application/json', 'huts.json'],
    geojson: ['application/geo+json', 'huts.geojson'],
    markdown: ['application/zip', 'huts-markdown.zip'],
    schema: ['application/schema+json', 'hut.schema.json'],
  };
  for (const [format, [mime, name]] of Object.entries(expected)) {
    const answer = await request.get(`/api/v1/types/hut/export?format=${format}`);
    expect([format, answer.status(), answer.headers()['content-type']]).toEqual([format, 200, mime]);
    expect(answer.headers()['content-disposition']).toContain(`filename="${name}"`);
  }
  const rows = await json<{ title: string }[]>(await request.get('/api/v1/types/hut/export?format=json'));
  expect(rows.length).toBeGreaterThanOrEqual(14);
  const map = await json<{ features: { geometry: unknown }[] }>(
    await request.get('/api/v1/types/hut/export?format=geojson'),
  );
  expect(map.features.filter((feature) => feature.geometry === null)).toHaveLength(1);
  const backup = await request.get('/api/v1/backup');
  expect((await backup.body()).subarray(0, 4).toString('latin1')).toBe('PK\u0003\u0004');
});

test('files are sent so that nothing in them can run', async ({ request }) => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="30" height="30" onload="x()"><script>x()</script><rect width="30" height="30" fill="#246"/></svg>';
  const kept = await json<{ id: number; mime: string }>(
    await request.post('/api/v1/media?name=../../a%22b.svg', { data: Buffer.from(svg) }),
  );
  expect(kept.mime).toBe('image/svg+xml');
  const shown = await request.get(`/media/${kept.id}/original`);
  expect(shown.headers()['content-security-policy']).toContain("default-src 'none'");
  expect(shown.headers()['x-content-type-options']).toBe('nosniff');
  expect(await shown.text()).not.toMatch(/script|onload/);
  const taken = await request.get(`/media/${kept.id}/file/any`);
  expect(taken.headers()['content-disposition']).toMatch(/^attachment; filename=".. .. a_b.svg"/);
  const player = await request.get('/player/larks-counted');
  expect(player.headers()['content-security-policy']).toContain("default-src 'none'");
  expect(await player.text()).not.toContain('<script');
  expect((await request.delete('/api/v1/media', { headers: ANY, data: { ids: [kept.id] } })).status()).toBe(200);
});

test('pages show rich text, players and made-up-proof values of the new kinds', async ({ request }) => {
  // Without its year the address leads on to the one with it.
  const entry = await (await request.get('/journal/larks-counted')).text();
  expect(entry).toMatch(
    /<iframe class="player player-wide" src="\/player\/larks-counted" title="[^"]+" sandbox="allow-scripts"/,
  );
  expect(entry).toContain(
    '<p>Between the third and the ninth of June we heard one hundred and fourteen, and saw six.</p>',
  );
  expect(entry).toContain('<p class="text text-s tone-strong">Wildlife</p>');
  const weekend = await (await request.get('/work-weekends/wood-for-the-winter')).text();
  expect(weekend).toContain('Meet at 08:30');
  expect(weekend).toMatch(/<th scope="row">Saw<\/th><td class="figures">1<\/td>/);
  const warden = await (await request.get('/wardens/ivo-castellan')).text();
  expect(warden).toContain('<li>English</li><li>Italian</li>');
});
