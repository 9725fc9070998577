import { connect, createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { table } from '../../src/lib/server/database/tables';
import { createAccount, readAccounts } from '../../src/lib/server/people/accounts';
import { beginSession, sessionsOf, sessionWith } from '../../src/lib/server/people/sessions';
import { freshDatabase } from '../support/database';
import { activeServer, useServer } from '../support/server';

/** A node of a cluster, as far as an application can tell: a way to the one database that can be slow, and die. */
class Node {
  private readonly sockets = new Set<Socket>();
  private server!: Server;
  /** Whether what is asked of it reaches nobody. */
  deaf = false;
  asked = 0;

  constructor(private readonly to: { host: string; port: number }) {}

  async listen(port = 0): Promise<number> {
    this.server = createServer((socket) => {
      const own = connect(this.to);
      for (const one of [socket, own]) {
        this.sockets.add(one);
        one.on('error', () => undefined).on('close', () => [socket, own].forEach((other) => other.destroy()));
      }
      socket.on('data', (data) => {
        this.asked++;
        if (!this.deaf) own.write(data);
      });
      own.on('data', (data) => socket.write(data));
    }).listen(port, '127.0.0.1');
    await new Promise((done) => this.server.once('listening', done));
    return (this.server.address() as AddressInfo).port;
  }

  die(): void {
    this.server.close();
    for (const socket of this.sockets) socket.destroy();
    this.sockets.clear();
  }
}

let drop: () => Promise<void>;
let leave: () => Promise<void>;
let nodes: Node[];
let secret: string;
let account: number;
let ports: number[];

beforeAll(async () => {
  drop = await freshDatabase();
  const one = activeServer().configuration.database!;
  const { hostname: host, port } = new URL(one);
  nodes = [0, 1].map(() => new Node({ host, port: Number(port) }));
  ports = await Promise.all(nodes.map((node) => node.listen()));
  const database = one.replace(`${host}:${port}`, ports.map((own) => `127.0.0.1:${own}`).join(','));
  leave = useServer({ database });
  ({ id: account } = await createAccount(
    { name: 'Orla', email: 'orla@huts.example', role: 'owner', mayPublish: true },
    { password: 'soup at seven' },
  ));
  secret = await beginSession(account, '127.0.0.1', 'A browser');
});
afterAll(async () => {
  for (const node of nodes) node.die();
  await leave();
  await drop();
});

/** Asks while the node that is asked hears nothing, and has it die then; it is back afterwards. */
async function whileItDies<T>(work: () => Promise<T>): Promise<T> {
  const heard = nodes.map((node) => node.asked);
  await table('sessions').count();
  const at = nodes.findIndex((node, i) => node.asked > heard[i]!);
  const node = nodes[at]!;
  node.deaf = true;
  const before = node.asked;
  const all = work();
  all.catch(() => undefined);
  await expect.poll(() => node.asked, { timeout: 300_000 }).toBeGreaterThan(before);
  node.die();
  try {
    return await all;
  } finally {
    node.deaf = false;
    await node.listen(ports[at]);
  }
}

it('what people, sessions and accounts are read and changed by goes on where a node dies while it is asked', async () => {
  expect((await sessionWith(secret))?.name).toBe('Orla');
  const later = new Date(Date.now() + 60_000);
  const works: [string, () => Promise<unknown>, unknown][] = [
    ['a session', async () => (await sessionWith(secret))?.name, 'Orla'],
    ['all sessions', async () => (await sessionsOf(account, '')).length, 1],
    ['all people', async () => (await readAccounts()).map(({ name }) => name), ['Orla']],
    [
      'a change by a model',
      async () => (await table('sessions').update({ ends: later }, { where: { accountId: account } }))[0],
      1,
    ],
    ['a count by a model', () => table('sessions').count(), 1],
  ];
  // One node dies, and the other when that is back.
  for (const [name, work, comesTo] of works) expect([name, await whileItDies(work)]).toEqual([name, comesTo]);
});

it('what is put in where a node dies is not put in twice, and is told', async () => {
  const put = () => table('sessions').count();
  const before = await put();
  await whileItDies(() => beginSession(account, '127.0.0.1', 'Another browser')).then(
    async () => expect(await put()).toBe(before + 1),
    async () => expect(await put()).toBe(before),
  );
  // Whatever came of it: the next one is put in once.
  await beginSession(account, '127.0.0.1', 'The next browser');
  expect(await put()).toBeGreaterThan(before);
});
