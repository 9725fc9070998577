import { afterAll, beforeAll, expect, it } from 'vitest';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { ownerCookie } from '../support/owner';

/** Writers of two processes who all saw the same state: one of them writes, the others are told, and nothing is lost. */
const apps: App[] = [];
let drop: () => Promise<void>;
let cookie: string;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  cookie = await ownerCookie();
  apps.push(await startApp(), await startApp());
});
afterAll(async () => {
  for (const { child } of apps) child.kill('SIGKILL');
  await drop();
});

async function ask(app: number, method: string, path: string, body?: unknown, etag?: string) {
  const file = typeof body === 'string';
  const answer = await fetch(`${apps[app]!.origin}/api/v1${path}`, {
    method,
    headers: {
      cookie,
      ...(body === undefined ? {} : { 'content-type': file ? 'application/octet-stream' : 'application/json' }),
      ...(etag && { 'if-match': etag }),
    },
    body: body === undefined ? undefined : file ? body : JSON.stringify(body),
  });
  const text = await answer.text();
  return {
    status: answer.status,
    etag: answer.headers.get('etag') ?? '',
    body: (text ? JSON.parse(text) : {}) as Record<string, unknown>,
  };
}

type Thing = Record<string, unknown>;
const named = (thing: Thing, name: string): Thing => ({ ...thing, name });
/** What is written: how it comes to be, where it stands, and how it becomes another one by a name. */
const THINGS: [string, { make?: [string, unknown]; at: (made: Thing) => string; method?: string; change: (thing: Thing, name: string) => unknown; nameOf: (thing: Thing) => unknown }][] = [
  ['a file', { make: ['/media?name=a.txt', 'some text'], at: ({ id }) => `/media/${id as number}`, method: 'PATCH', change: (_, name) => ({ name }), nameOf: ({ name }) => name }],
  ['a term', { make: ['/terms', { taxonomyId: 'area', parentId: null, name: 'A term' }], at: ({ id }) => `/terms/${id as string}`, change: named, nameOf: ({ name }) => name }],
  ['a taxonomy', { make: ['/taxonomies', { id: 'colour', key: 'colour', name: 'Colour', tree: false }], at: () => '/taxonomies/colour', change: named, nameOf: ({ name }) => name }],
  ['a content type', { at: () => '/types/house', change: named, nameOf: ({ name }) => name }],
  ['a menu', { make: ['/menus', { name: 'A menu', entries: [] }], at: ({ id }) => `/menus/${id as string}`, change: named, nameOf: ({ name }) => name }],
  ['a rule', { make: ['/rules', { name: 'A rule', typeId: 'house', rule: { group: 'all', rules: [] } }], at: ({ id }) => `/rules/${id as string}`, change: named, nameOf: ({ name }) => name }],
  ['the theme', { at: () => '/theme', change: (thing, name) => ({ ...thing, theme: { ...(thing.theme as Thing), colour: ((thing.theme as Thing).colour as Thing[]).map((one, i) => (i ? one : { ...one, name })) } }), nameOf: (thing) => ((thing.theme as Thing).colour as Thing[])[0]!.name }],
  ['the site', { at: () => '/site', change: named, nameOf: ({ name }) => name }],
  ['an author', { make: ['/authors', { name: 'An author' }], at: ({ id }) => `/authors/${id as number}`, change: ({ id: _, ...rest }, name) => ({ ...rest, name }), nameOf: ({ name }) => name }],
]; // prettier-ignore

it.each(THINGS)(
  '%s is written by one of ten who saw the same, round after round',
  async (_, { make, at, method = 'PUT', change, nameOf }) => {
    let address = at({});
    if (make) {
      const made = await ask(0, 'POST', ...make);
      expect(made.status).toBe(201);
      address = at(made.body);
    }
    // Rules have no address to be read at; they are listed.
    const read = async (app: number) => {
      const one = await ask(app, 'GET', address);
      if (one.status !== 405) return one;
      const { body, etag } = await ask(app, 'GET', '/rules');
      const [, , id] = address.split('/');
      return { status: 200, etag, body: (body.rules as Thing[]).find((rule) => rule.id === id)! };
    };
    for (let round = 0; round < 4; round++) {
      const before = await read(round % 2);
      expect(before.status).toBe(200);
      const etag = address.startsWith('/rules') ? '*' : before.etag;
      const written = await Promise.all(
        Array.from({ length: 10 }, async (__, i) => {
          const name = `Round ${round}, writer ${i}`;
          return { name, ...(await ask(i % 2, method, address, change(before.body, name), etag)) };
        }),
      );
      const won = written.filter(({ status }) => status === 200);
      expect(written.map(({ status }) => status).filter((status) => ![200, 409, 412].includes(status))).toEqual([]);
      expect(won.length).toBe(1);
      // What stands is what the one wrote, in either process.
      expect([nameOf((await read(0)).body), nameOf((await read(1)).body)]).toEqual([won[0]!.name, won[0]!.name]);
    }
  },
);
