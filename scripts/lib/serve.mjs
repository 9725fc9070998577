/** The built application, for as long as the process that started it lives. */
process.on('disconnect', () => process.exit());
await import(new URL('../../build/index.js', import.meta.url).href);
