import { connect as openSocket } from 'node:net';
import type { Host } from '../base/database-address';

/** So long a node is passed over after it failed, in milliseconds. */
const PASSED_OVER = 5000;
/** A node that has not greeted after so many milliseconds is passed over. */
const GREETS = 1000;

/** Which of several nodes is asked: the same one until it fails, then the next that greets. */
export class Nodes {
  private at = 0;
  private readonly failed = new Map<number, number>();

  constructor(readonly hosts: readonly Host[]) {}

  get several(): boolean {
    return this.hosts.length > 1;
  }

  get current(): Host {
    return this.hosts[this.at] as Host;
  }

  /** Passes a node over for a while; false where another one is asked already. */
  fail({ host, port }: Host): boolean {
    const at = this.hosts.findIndex((one) => one.host === host && one.port === port);
    this.failed.set(at, performance.now());
    if (at !== this.at || !this.several) return false;
    this.at = (this.at + 1) % this.hosts.length;
    return true;
  }

  /** The node to connect to. Where none greets it is the one asked last, which says what is wrong. */
  async choose(): Promise<Host> {
    if (!this.several) return this.current;
    const now = performance.now();
    const order = this.hosts.map((_, i) => (this.at + i) % this.hosts.length);
    const rested = (at: number) => now - (this.failed.get(at) ?? -Infinity) > PASSED_OVER;
    for (const at of [...order.filter(rested), ...order.filter((one) => !rested(one))])
      if (await greets(this.hosts[at] as Host)) {
        this.at = at;
        return this.current;
      }
    return this.current;
  }
}

/** Whether a server says anything at all; MariaDB greets first. */
const greets = ({ host, port }: Host): Promise<boolean> =>
  new Promise((done) => {
    const socket = openSocket({ host, port });
    const end = (yes: boolean) => {
      socket.destroy();
      done(yes);
    };
    socket
      .once('data', () => end(true))
      .once('error', () => end(false))
      .setTimeout(GREETS, () => end(false));
  });
