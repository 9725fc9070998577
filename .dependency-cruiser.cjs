/** Arrows point inwards: routes → studio → core, routes → server → core. */
const never = (name, comment, from, to) => ({
  name,
  comment,
  severity: 'error',
  from: { path: from },
  to: { path: to },
});

module.exports = {
  forbidden: [
    never(
      'core-stands-alone',
      'The core knows no interface, server or database.',
      '^src/lib/core/',
      '^src/(lib/(server|studio|ui|site)|routes)/',
    ),
    {
      name: 'core-packages',
      comment: 'The core uses small pure libraries only.',
      severity: 'error',
      from: { path: '^src/lib/core/' },
      to: { dependencyTypes: ['npm'], pathNot: '^node_modules/(zod|yaml|culori|css-tree|libphonenumber-js)/' },
    },
    {
      name: 'core-no-node',
      comment: 'The core runs in browsers too.',
      severity: 'error',
      from: { path: '^src/lib/core/' },
      to: { dependencyTypes: ['core'] },
    },
    never('server-below-studio', 'The server knows no screens.', '^src/lib/server/', '^src/(lib/(studio|ui)|routes)/'),
    never(
      'studio-not-server',
      'Screens reach the server by its API only.',
      '^src/lib/(studio|ui)/',
      '^src/lib/server/',
    ),
    never('library-not-routes', 'Libraries know no routes.', '^src/lib/', '^src/routes/'),
    never('ui-is-plain', 'Dressed controls know nothing of templates.', '^src/lib/ui/', '^src/lib/(core|studio)/'),
    {
      name: 'no-circles',
      comment:
        'A rule group holds rule groups, and rows hold fields that may be rows; nothing else may go in a circle.',
      severity: 'error',
      from: { pathNot: '(RuleGroup|RowsInput|ValueInput|FieldEditor|FieldList).svelte$' },
      to: { circular: true, viaOnly: { dependencyTypesNot: ['type-only'] } },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsConfig: { fileName: 'tsconfig.json' },
    tsPreCompilationDeps: true,
    exclude: { path: '\\$types$' },
  },
};
