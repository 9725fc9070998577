import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { answerApi } from '../../src/lib/server/api/answer';
import { operation, type AnyOperation } from '../../src/lib/server/api/operation';
import { type Principal } from '../../src/lib/server/people/principal';
import { namesIn, pathParameters } from '../../src/lib/server/api/path-parameters';
import { operations } from '../../src/lib/server/api/operations';

const owner: Principal = { id: 1, name: 'O', role: 'owner', mayPublish: true, fresh: true };
const base = { tag: 'Site', requiredRole: 'reader', status: 200 } as const;

async function ask(one: AnyOperation, path: string, body?: unknown) {
  const url = new URL(`https://a.example/api/v1${path}`);
  const request = new Request(url, {
    method: one.method,
    ...(body !== undefined && { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } }),
  });
  const response = await answerApi(request, url, url.pathname.slice('/api/v1'.length), [one], owner);
  return { status: response.status, body: (await response.json()) as unknown };
}

describe('an operation', () => {
  it('gives its handler what its schemas make of the request', async () => {
    const one = operation('PUT /releases/{releaseId}', {
      ...base,
      id: 'a',
      summary: 'a',
      query: z.object({ page: z.coerce.number().default(1) }),
      body: z.object({ name: z.string().trim() }),
      response: z.object({ sum: z.number(), name: z.string() }),
      run: ({ params, query, body }) => Promise.resolve({ sum: params.releaseId + query.page, name: body.name }),
    });
    expect(await ask(one, '/releases/40?page=2', { name: ' Ash ' })).toEqual({
      status: 200,
      body: { sum: 42, name: 'Ash' },
    });
    expect((await ask(one, '/releases/forty', { name: 'Ash' })).status).toBe(404);
    expect(await ask(one, '/releases/40', { name: 7 })).toMatchObject({
      status: 422,
      body: { problems: [{ at: 'name' }] },
    });
    expect(await ask({ ...one, refusal: 'No name.' }, '/releases/40', {})).toMatchObject({
      status: 422,
      body: { title: 'No name.' },
    });
  });

  it('that answers something else than it says is an error that names it and the place', async () => {
    const one = operation('GET /site', {
      ...base,
      id: 'readSite',
      summary: 'a',
      response: z.object({ pages: z.array(z.object({ address: z.string() })) }),
      run: () =>
        Promise.resolve(JSON.parse('{"pages":[{"address":"/"},{"address":7}]}') as { pages: { address: string }[] }),
    });
    await expect(ask(one, '/site')).rejects.toThrow(
      'Operation readSite: its response does not fit its schema at pages.1.address',
    );
  });

  it('does not compile where its schemas and its handler disagree', () => {
    void (() => [
      operation('GET /site', {
        ...base,
        id: 'a',
        summary: 'a',
        response: z.object({ pages: z.number() }),
        // @ts-expect-error It answers something else.
        run: () => Promise.resolve({ pages: 'many' }),
      }),
      operation('GET /site', {
        ...base,
        id: 'a',
        summary: 'a',
        response: z.object({ pages: z.number() }),
        // @ts-expect-error It takes no body.
        run: ({ body }) => Promise.resolve({ pages: body.pages }),
      }),
      operation('GET /site', {
        ...base,
        id: 'a',
        summary: 'a',
        response: z.object({ id: z.number() }),
        // @ts-expect-error Its path has no such parameter.
        run: ({ params }) => Promise.resolve({ id: params.recordId }),
      }),
    ]);
  });
});

describe('every operation', () => {
  const all = operations('');
  it('that takes a body of JSON has an example of it, which fits', () => {
    const bodies = all.filter(({ body }) => body && body !== 'file');
    expect(bodies.length).toBeGreaterThan(50);
    for (const { id, body, example } of bodies) {
      const { error } = (body as z.ZodType).safeParse(example);
      expect([id, example === undefined, error?.issues]).toEqual([id, false, undefined]);
    }
  });

  it('has a schema for each parameter of its path, each body and each answer', () => {
    for (const { id, path, body, response, status } of all) {
      expect([id, namesIn(path as string).filter((name) => !Object.hasOwn(pathParameters, name))]).toEqual([id, []]);
      for (const content of [body, response] as unknown[])
        if (content !== undefined && content !== 'file') expect([id, content]).toEqual([id, expect.any(z.ZodType)]);
      expect([id, response === undefined]).toEqual([id, status === 204]);
    }
  });
});
