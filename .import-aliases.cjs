/** Where imports that begin with a name of SvelteKit's lead, for the check of import directions; from the folder it runs in. */
module.exports = { resolve: { alias: { $lib: `${process.cwd()}/src/lib` } } };
