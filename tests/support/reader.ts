import { answer } from '../../src/lib/server/site/respond';

/** A process of its own that reads one page over and over, and tells which releases its parts were of. */
process.on('message', (message: { read: string; milliseconds: number }) => {
  void (async () => {
    const until = Date.now() + message.milliseconds;
    const torn: string[] = [];
    const numbers: number[] = [];
    let pages = 0;
    do {
      const { html } = await answer(message.read, { base: '', origin: 'https://a.example' });
      const stamps = [...html.matchAll(/\[(\d+)\]/g)].map(([, n]) => Number(n));
      // The title says nothing of its release; the heading and the frame do.
      const frame = Number(/frame \[(\d+)\]/.exec(html)?.[1] ?? -1);
      if (new Set(stamps).size !== 1) torn.push(stamps.join(' '));
      numbers.push(frame);
      pages++;
    } while (Date.now() < until);
    process.send?.({ pages, torn, numbers });
  })().catch((error: unknown) => {
    console.error(error);
    process.exit(1);
  });
});
process.send?.('ready');
