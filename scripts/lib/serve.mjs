/** The built application, for as long as the process that started it lives. */
process.on('disconnect', () => process.exit());
// Requests under way have been answered by then; only idle connections to the database are left.
process.on('sveltekit:shutdown', () => process.exit());
// Where logs are lines of JSON, all of them are.
if (process.env.PLUM_LOG)
  console.log = (/** @type {unknown[]} */ ...words) =>
    process.stdout.write(
      `${JSON.stringify({ level: 'info', time: new Date().toISOString(), msg: words.map(String).join(' ') })}\n`,
    );
await import(new URL('../../build/index.js', import.meta.url).href);
