/** Arrows point inwards: routes → studio → core, routes → server → core. */
const never = (name, comment, from, to) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from },
  to: { path: to },
});

/** The layers of the core, from the ground up. */
const LAYERS = [
  'base',
  'people',
  'schema',
  'model',
  'content',
  'addresses',
  'paths',
  'formats',
  'bindings',
  'rules',
  'loops',
  'columns',
  'theme',
  'styles',
  'draw',
  'elements',
  'templates',
  'render',
  'serving',
  'checks',
  'coverage',
  'releases',
  'exchange',
];

/** The layers of the server, from the ground up. */
const SERVER_LAYERS = [
  'base',
  'threads',
  'database',
  'files',
  'queries',
  'jobs',
  'people',
  'services',
  'exchange',
  'site',
  'access',
  'api',
  'application',
];

/** The layers of the studio, from the ground up. */
const STUDIO_LAYERS = [
  'base',
  'people',
  'exchange',
  'media',
  'values',
  'survey',
  'content',
  'terms',
  'theme',
  'release',
  'workbench',
  'serving',
];

/** Rules by which the folders under `root` are layers: a folder imports from those before it, and there are no others. @param {string} of @param {string} root @param {readonly string[]} layers */
const layered = (of, root, layers) => [
  ...layers
    .slice(0, -1)
    .map((layer, i) =>
      never(
        `${of}-${layer}-inwards`,
        `Layers of the ${of}, from the ground up: ${layers.join(', ')}. A folder imports from those before it.`,
        `^${root}/${layer}/`,
        `^${root}/(${layers.slice(i + 1).join('|')})/`,
      ),
    ),
  {
    name: `${of}-layers-known`,
    comment: `Every file of the ${of} stands in one of its layers.`,
    severity: 'error',
    from: { path: `^${root}/`, pathNot: `^${root}/(${layers.join('|')})/` },
    to: {},
  },
];

module.exports = {
  forbidden: [
    never(
      'core-stands-alone',
      'The core knows no interface, server or database.',
      '^src/lib/core/',
      '^src/(lib/(server|client|studio|ui|site)|routes)/',
    ),
    {
      name: 'core-packages',
      comment: 'The core uses small pure libraries only.',
      severity: 'error',
      from: { path: '^src/lib/core/' },
      to: {
        dependencyTypes: ['npm'],
        pathNot:
          '(^|/)node_modules/(zod|js-yaml|markdown-it|culori|css-tree|libphonenumber-js|lucide|lru-cache|typedfastbitset|@capsizecss/core)/',
      },
    },
    {
      name: 'core-resolved',
      comment: 'What the core imports is found, so that the other rules can judge it.',
      severity: 'error',
      from: { path: '^src/lib/core/' },
      to: { couldNotResolve: true },
    },
    {
      name: 'core-no-node',
      comment: 'The core runs in browsers too.',
      severity: 'error',
      from: { path: '^src/lib/core/' },
      to: { dependencyTypes: ['core'] },
    },
    never(
      'server-below-studio',
      'The server knows no screens, and not its client.',
      '^src/lib/server/',
      '^src/(lib/(studio|ui|client)|routes)/',
    ),
    never(
      'studio-not-server',
      'Screens reach the server by its API only.',
      '^src/lib/(studio|ui)/',
      '^src/lib/server/',
    ),
    never(
      'client-below-screens',
      'The client of the API knows no screens and no core; of the server it knows the types of operations.',
      '^src/lib/client/',
      '^src/(lib/(studio|ui|site|core)|routes)/',
    ),
    {
      name: 'client-knows-operations',
      comment: 'Of the server the client imports what its operations are, and nothing else.',
      severity: 'error',
      from: { path: '^src/lib/client/' },
      to: {
        path: '^src/lib/server/',
        pathNot: '^src/lib/server/api/(operation|path-parameters|operations/index)\\.ts$',
      },
    },
    {
      name: 'client-by-type',
      comment: 'What the client imports of the server is gone once it is compiled.',
      severity: 'error',
      from: { path: '^src/lib/client/' },
      to: { path: '^src/lib/server/', dependencyTypesNot: ['type-only'] },
    },
    never('library-not-routes', 'Libraries know no routes.', '^src/lib/', '^src/routes/'),
    never('ui-is-plain', 'Dressed controls know nothing of templates.', '^src/lib/ui/', '^src/lib/(core|studio)/'),
    ...layered('core', 'src/lib/core', LAYERS),
    ...layered('server', 'src/lib/server', SERVER_LAYERS),
    ...layered('studio', 'src/lib/studio', STUDIO_LAYERS),
    {
      name: 'no-circles',
      comment: 'No two files import each other in a circle, types included. A component may hold itself.',
      severity: 'error',
      from: { path: '^(.+)$' },
      to: { circular: true, pathNot: '^$1$' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    webpackConfig: { fileName: '.import-aliases.cjs' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['import', 'require', 'node', 'default', 'svelte'],
    },
    tsPreCompilationDeps: true,
    exclude: { path: '\\$types$' },
  },
};
