import js from '@eslint/js';
import svelte from 'eslint-plugin-svelte';
import globals from 'globals';
import ts from 'typescript-eslint';
import svelteConfig from './svelte.config.js';

/** A literal that is spread says the same as its members, and only holds lines together against the formatter. */
const SPREAD_LITERALS = [
  'ArrayExpression > SpreadElement > ArrayExpression[elements.length>0]',
  'ObjectExpression > SpreadElement > ObjectExpression[properties.length>0]',
].map((selector) => ({ selector, message: 'Write the members themselves.' }));

export default ts.config(
  { ignores: ['.svelte-kit/', 'build/', 'data/', 'tmp/', 'node_modules/', 'test-results/'] },
  js.configs.recommended,
  ...ts.configs.recommended,
  ...svelte.configs.recommended,
  { languageOptions: { globals: { ...globals.browser, ...globals.node } } },
  {
    files: ['**/*.svelte', '**/*.svelte.ts'],
    languageOptions: { parserOptions: { parser: ts.parser, svelteConfig } },
  },
  {
    files: ['**/*.ts', '**/*.svelte'],
    languageOptions: { parserOptions: { projectService: true, extraFileExtensions: ['.svelte'] } },
    rules: {
      '@typescript-eslint/no-floating-promises': 'error',
      '@typescript-eslint/switch-exhaustiveness-check': ['error', { considerDefaultExhaustiveForUnions: true }],
    },
  },
  {
    files: ['src/**/*.ts', 'src/**/*.svelte'],
    ignores: ['src/lib/server/queries/**', 'src/lib/server/database/**'],
    rules: {
      'no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['**/database/connect'],
              importNames: ['select', 'selectQuickly', 'run', 'database'],
              message: 'SQL stands in src/lib/server/queries; give it a name there.',
            },
            {
              group: ['**/database/tables'],
              importNames: ['table', 'plainRows'],
              message: 'Rows are read and written in src/lib/server/queries; give it a name there.',
            },
          ],
        },
      ],
    },
  },
  {
    // The core runs in a server, a worker and a browser alike.
    files: ['src/lib/core/**/*.ts'],
    rules: {
      'no-restricted-globals': [
        'error',
        'document',
        'window',
        'self',
        'navigator',
        'location',
        'localStorage',
        'sessionStorage',
        'history',
        'HTMLElement',
        'DOMParser',
        'XMLHttpRequest',
        'fetch',
        'process',
        'Buffer',
        'require',
        '__dirname',
      ],
    },
  },
  {
    // Types too, which the check of import directions does not see in components.
    files: ['src/lib/studio/**', 'src/lib/ui/**'],
    rules: {
      '@typescript-eslint/no-restricted-imports': [
        'error',
        {
          patterns: [
            {
              group: ['$lib/server', '$lib/server/**', '../server/**', '../../server/**'],
              message: 'Screens reach the server by its API only.',
            },
          ],
        },
      ],
    },
  },
  { rules: { 'no-restricted-syntax': ['error', ...SPREAD_LITERALS] } },
  {
    // Several servers may run in one process: what one keeps is a part of it.
    files: ['src/lib/server/**/*.ts', 'src/hooks.server.ts', 'src/routes/**/*.server.ts', 'src/routes/**/+server.ts'],
    ignores: ['src/lib/server/base/configuration.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...SPREAD_LITERALS,
        {
          selector: ':matches(Program, ExportNamedDeclaration) > VariableDeclaration[kind="let"]',
          message: 'A module of the server keeps no state; use perServer (base/server.ts).',
        },
        {
          selector:
            ':matches(Program, ExportNamedDeclaration) > VariableDeclaration > VariableDeclarator > NewExpression:matches([callee.name="LRUCache"], [callee.name=/^(Map|Set)$/][arguments.length=0])',
          message: 'A module of the server keeps no state; use perServer (base/server.ts).',
        },
        {
          selector: 'MemberExpression[object.name="process"][property.name="env"]',
          message: 'The environment is read in base/configuration.ts; ask configuration().',
        },
        { selector: 'Identifier[name="globalThis"]', message: 'Nothing of the server is handed over by globals.' },
      ],
    },
  },
  {
    rules: {
      'no-undef': 'off',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      // The site is served beside the studio, so addresses are written as they are.
      'svelte/no-navigation-without-resolve': 'off',
      // Maps and sets here are made anew for each derivation and never changed afterwards.
      'svelte/prefer-svelte-reactivity': 'off',
      // Both ask the types of everything in every component, which took ten minutes and found nothing: there are no stores here,
      // and what a component takes and does not use is an unused variable.
      'svelte/require-store-reactive-access': 'off',
      'svelte/no-unused-props': 'off',
    },
  },
);
