import { createServer } from '../../src/lib/server/application/create-server';
import { configurationFrom } from '../../src/lib/server/base/configuration';
import { answer } from '../../src/lib/server/site/respond';

const server = createServer(configurationFrom());
let stopped = false;

/** A process of its own that reads one page over and over until it is told to stop, and tells which releases its parts were of. */
process.on('message', (message: { read: string } | { stop: true }) => {
  if ('stop' in message) {
    stopped = true;
    return;
  }
  stopped = false;
  const read = async () => {
    const torn: string[] = [];
    const numbers: number[] = [];
    do {
      const { html } = await answer(message.read, { base: '', origin: 'https://a.example' });
      const stamps = [...html.matchAll(/\[(\d+)\]/g)].map(([, n]) => Number(n));
      if (new Set(stamps).size !== 1) torn.push(stamps.join(' '));
      numbers.push(Number(/frame \[(\d+)\]/.exec(html)?.[1] ?? -1));
    } while (!stopped);
    process.send?.({ torn, numbers });
  };
  server.run(read).catch((error: unknown) => {
    console.error(error);
    process.exit(1);
  });
});
process.send?.('ready');
