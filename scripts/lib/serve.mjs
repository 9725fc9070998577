/** The built application, for as long as the process that started it lives. */
process.on('disconnect', () => process.exit());
// Requests under way have been answered by then; only idle connections to the database are left.
process.on('sveltekit:shutdown', () => process.exit());
await import(new URL('../../build/index.js', import.meta.url).href);
