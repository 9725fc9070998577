import { expect, type APIResponse } from '@playwright/test';
import { test } from './live';
import { ANY, released } from './support';

const details = async (response: APIResponse) => {
  expect(response.headers()['content-type']).toContain('application/problem+json');
  return (await response.json()) as { title: string; status: number; problems: { at: string; what: string }[] };
};

test('bad input gets a clear answer, loses nothing, and never ends in a 500', async ({ request }) => {
  const before = await (await request.get('/api/v1/records?type=hut&per_page=200')).text();
  const type = {
    id: 'x',
    key: 'x',
    name: 'X',
    plural: 'Xs',
    base: 'xs',
    taxonomyIds: [],
    fields: [{ id: 'x1', key: 'a', label: 'A', kind: 'hologram' }],
  };
  const cases: [string, Promise<APIResponse>, number, string?][] = [
    ['an unknown kind of field', request.post('/api/v1/types', { data: type }), 422, 'fields.0.kind'],
    [
      'a wrong value',
      request.patch('/api/v1/records/10', { headers: ANY, data: { values: { hut_altitude: 'high' } } }),
      422,
      'values.hut_altitude',
    ],
    [
      'a relation to a missing record',
      request.patch('/api/v1/records/10', { headers: ANY, data: { values: { hut_trails: [123_456] } } }),
      422,
      'values.hut_trails',
    ],
    [
      'a picture that is not there',
      request.patch('/api/v1/records/10', { headers: ANY, data: { values: { hut_picture: 123_456 } } }),
      422,
      'values.hut_picture',
    ],
    [
      'a script for a link',
      request.patch('/api/v1/records/10', {
        headers: ANY,
        data: { values: { hut_booking: { url: ' javascript:alert(1)' } } },
      }),
      422,
      'values.hut_booking.url',
    ],
    ['a record that is not there', request.patch('/api/v1/records/123456', { headers: ANY, data: {} }), 404],
    ['no number', request.get('/api/v1/records/1e3'), 404],
    [
      'no JSON',
      request.post('/api/v1/records', {
        data: Buffer.from('{"title":'),
        headers: { 'content-type': 'application/json' },
      }),
      400,
    ],
    [
      'another kind of content',
      request.post('/api/v1/records', { data: Buffer.from('title=x'), headers: { 'content-type': 'application/xml' } }),
      415,
    ],
    ['an array', request.post('/api/v1/records', { data: [] }), 422],
    [
      'null',
      request.post('/api/v1/records', { data: Buffer.from('null'), headers: { 'content-type': 'application/json' } }),
      422,
    ],
    ['no template', request.put('/api/v1/templates/hut-page', { headers: ANY, data: { id: 'hut-page' } }), 422],
    ['a template that is not there', request.get('/api/v1/templates/none'), 404],
    ['a limit that is none', request.get('/api/v1/records?type=hut&per_page=-1'), 422],
    ['an odd search', request.get("/api/v1/records?type=hut&search=%25'%22%5C"), 200],
  ];
  for (const [name, asked, status, at] of cases) {
    const response = await asked;
    expect([name, response.status()]).toEqual([name, status]);
    if (status === 200) continue;
    const { title, problems = [] } = await details(response);
    expect(title.length).toBeGreaterThan(5);
    if (at) expect(problems.map((p) => p.at)).toContain(at);
  }
  expect(await (await request.get('/api/v1/records?type=hut&per_page=200')).text()).toBe(before);
});

test('a template that names a deleted field is kept and served', async ({ request }) => {
  const made = (await (
    await request.post('/api/v1/templates', { data: { name: 'Broken', purpose: 'archive', typeId: 'warden' } })
  ).json()) as { id: string; tree: { root: string; elements: Record<string, { children: string[] }> } };
  const { root, elements } = made.tree;
  const broken = {
    ...made,
    tree: {
      root,
      elements: {
        ...elements,
        [root]: { ...elements[root], children: ['gone', 'nasty'] },
        gone: {
          id: 'gone',
          kind: 'text',
          slots: { text: { bound: { path: { from: 'archive', steps: ['deleted'] } } } },
        },
        nasty: {
          id: 'nasty',
          kind: 'link',
          slots: { label: { fixed: '<img src=x onerror=alert(1)>' }, link: { fixed: 'javascript:alert(1)' } },
        },
      },
    },
  };
  const saved = await request.put(`/api/v1/templates/${made.id}`, { headers: ANY, data: broken });
  expect(saved.status()).toBe(200);
  const ends = (await (await request.get('/api/v1/loose-ends')).json()) as { templateId: string }[];
  expect(ends.filter((end) => end.templateId === made.id)).toHaveLength(1);
  await released(request);
  const page = await request.get('/wardens/');
  expect(page.status()).toBe(200);
  expect(await page.text()).not.toMatch(/javascript:|<img src=x/);
  expect(await (await request.get('/studio')).text()).toContain('Loose ends');
  await request.delete(`/api/v1/templates/${made.id}`, { headers: ANY });
  await released(request);
});

test('markup in every text comes out as text', async ({ request }) => {
  const nasty = '"><script>alert(1)</script><b>';
  const made = (await (
    await request.post('/api/v1/records', {
      data: {
        typeId: 'hut',
        title: nasty,
        status: 'published',
        values: {
          hut_state: 'open',
          hut_description: nasty,
          hut_warning: nasty,
          hut_access: nasty,
          hut_booking: { url: 'https://a.example/"><script>', label: nasty },
        },
      },
    })
  ).json()) as { id: number; slug: string };
  for (const path of [`/huts/${made.slug}`, '/huts/', `/huts/page/2/`]) {
    const html = await (await request.get(path)).text();
    // What programs read is no script, and holds no markup.
    expect(html.replace(/<script type="application\/ld\+json">[^<]*<\/script>/, '')).not.toContain('<script');
    expect(html).not.toContain('<b>');
  }
  await request.delete(`/api/v1/records/${made.id}`, { headers: ANY });
});

test('changes from another site are refused', async ({ request }) => {
  const response = await request.post('/api/v1/templates', {
    data: { name: 'x', purpose: 'record', typeId: 'hut' },
    headers: { origin: 'https://elsewhere.example', 'sec-fetch-site': 'cross-site' },
  });
  expect(response.status()).toBe(403);
});
