import { describe, expect, expectTypeOf, it } from 'vitest';
import { addressOf, createApi, type InputOf, type ResponseOf } from '../../src/lib/client/api';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { operations } from '../../src/lib/server/api/operations';

describe('the client of the API', () => {
  it('sends each operation to its own address', async () => {
    const sent: unknown[] = [];
    const api = createApi((...given) => Promise.resolve(void sent.push(given)));
    await api('GET /records', { query: { type: 'hut', search: 'a & b', page: 2 } });
    await api('PATCH /records/{recordId}', { recordId: 7, body: { title: 'Ash' } });
    await api('DELETE /templates/{templateId}', { templateId: 'hut page/1' });
    await api('GET /account');
    expect(sent).toEqual([
      ['GET', '/api/v1/records?type=hut&search=a+%26+b&page=2', undefined],
      ['PATCH', '/api/v1/records/7', { title: 'Ash' }],
      ['DELETE', '/api/v1/templates/hut%20page%2F1', undefined],
      ['GET', '/api/v1/account', undefined],
    ]);
  });

  it('leaves out of a query what is undefined', () => {
    expect(addressOf('DELETE /terms/{termId}', { termId: 'a', query: { records: undefined } })).toEqual([
      'DELETE',
      '/api/v1/terms/a',
    ]);
  });

  it('fills in every parameter of every operation', () => {
    for (const { method, path } of operations('')) {
      const names = [...(path as string).matchAll(/\{(\w+)\}/g)].map(([, name]) => name as string);
      const [, address] = addressOf(`${method} ${path as string}`, Object.fromEntries(names.map((name) => [name, 1])));
      expect([path, address]).toEqual([path, expect.not.stringMatching(/[{}]|undefined/)]);
    }
  });

  it('knows what each takes and answers', () => {
    expectTypeOf<ResponseOf<'GET /records/{recordId}'>>().toEqualTypeOf<ContentRecord>();
    expectTypeOf<ResponseOf<'GET /records'>['items']>().toEqualTypeOf<ContentRecord[]>();
    expectTypeOf<ResponseOf<'DELETE /account/codes'>>().toEqualTypeOf<void>();
    expectTypeOf<InputOf<'POST /terms/{termId}/merge'>['termId']>().toEqualTypeOf<string>();
    expectTypeOf<InputOf<'GET /records/{recordId}'>['recordId']>().toEqualTypeOf<number>();
    const api = createApi(() => Promise.resolve());
    // None of these compiles: a check of types holds them to that.
    void (() => [
      // @ts-expect-error There is no such operation.
      api('GET /nowhere'),
      // @ts-expect-error The parameter is missing.
      api('GET /records/{recordId}', {}),
      // @ts-expect-error A record has a number.
      api('GET /records/{recordId}', { recordId: 'x' }),
      // @ts-expect-error A title is text.
      api('PATCH /records/{recordId}', { recordId: 7, body: { title: 7 } }),
      // @ts-expect-error What is merged into is missing.
      api('POST /terms/{termId}/merge', { termId: 'a', body: {} }),
      // @ts-expect-error A file is sent by what sends files.
      api('POST /media', { query: { name: 'a' } }),
    ]);
  });
});
