/**
 * The built application without a door: it answers nobody, and does the long work that others began, so that whoever is
 * answered meanwhile does not wait for it. It ends with the process that started it, and hands on what it is at.
 */
let ending = false;
function end() {
  if (ending) return;
  ending = true;
  setTimeout(() => process.exit(), 3000);
  process.emit(/** @type {any} */ ('sveltekit:shutdown'), /** @type {any} */ ('SIGTERM'));
  void Promise.resolve(/** @type {any} */ (globalThis).plumThreadEnding).finally(() => process.exit());
}
process.on('disconnect', end);
for (const signal of ['SIGTERM', 'SIGINT', 'SIGHUP']) process.on(signal, end);
if (process.env.PLUM_LOG)
  console.log = (/** @type {unknown[]} */ ...words) =>
    process.stdout.write(
      `${JSON.stringify({ level: 'info', time: new Date().toISOString(), msg: words.map(String).join(' ') })}\n`,
    );
// Makes the application ready without listening anywhere.
await import(new URL('../../build/handler.js', import.meta.url).href);
process.on('message', () => void (/** @type {any} */ (globalThis).plumThreadWork?.()));
process.send?.('ready');
