import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import ts from 'typescript-eslint';
import { ESLint, Linter } from 'eslint';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const root = join(import.meta.dirname, '..', '..');
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-guard-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** Files with an import that may not be, and the rule that has to refuse it. */
const FORBIDDEN: [file: string, code: string, rule: string][] = [
  ['core/base/outwards.ts', "import '../model/field';", 'core-base-inwards'],
  ['core/base/outwards-by-name.ts', "import '$lib/core/model/field';", 'core-base-inwards'],
  [
    'core/rules/type.ts',
    "import type { Column } from '$lib/core/columns/column'; export type A = Column;",
    'core-rules-inwards',
  ],
  [
    'client/to-log.ts',
    "import type { log } from '$lib/server/base/log'; export type A = typeof log;",
    'client-knows-operations',
  ],
  ['client/by-value.ts', "import { a } from '$lib/server/api/operation'; export const b = a;", 'client-by-type'],
  ['client/to-studio.ts', "import '$lib/studio/base/frame';", 'client-below-screens'],
  ['server/site/to-client.ts', "import '$lib/client/api';", 'server-below-studio'],
  ['core/model/to-client.ts', "import '$lib/client/api';", 'core-stands-alone'],
  ['core/model/to-studio.ts', "import '$lib/studio/base/frame';", 'core-stands-alone'],
  ['core/model/to-server.ts', "import '$lib/server/base/log';", 'core-stands-alone'],
  ['core/model/to-database.ts', "import { Sequelize } from 'sequelize'; export const a = Sequelize;", 'core-packages'],
  ['core/model/to-component.ts', "import { mount } from 'svelte'; export const a = mount;", 'core-packages'],
  ['core/model/to-kit.ts', "import { goto } from '$app/navigation'; export const a = goto;", 'core-resolved'],
  ['core/model/to-node.ts', "import { readFileSync } from 'node:fs'; export const a = readFileSync;", 'core-no-node'],
  ['core/model/later.ts', "export const a = () => import('$lib/server/base/log');", 'core-stands-alone'],
  ['core/elsewhere/a.ts', "import '../base/one';", 'core-layers-known'],
  ['studio/stray.ts', "import './base/frame';", 'studio-layers-known'],
  ['studio/survey/outwards.ts', "import '../workbench/place';", 'studio-survey-inwards'],
  [
    'studio/values/Outwards.svelte',
    '<script lang="ts">import { place } from "$lib/studio/workbench/place"; place;</script>',
    'studio-values-inwards',
  ],
  ['server/stray.ts', "import './base/log';", 'server-layers-known'],
  ['server/queries/outwards.ts', "import '../services/lists';", 'server-queries-inwards'],
  [
    'server/services/outwards.ts',
    "import type { A } from '$lib/server/site/visitors'; export type B = A;",
    'server-services-inwards',
  ],
  ['studio/base/to-server.ts', "import '$lib/server/base/log';", 'studio-not-server'],
  [
    'studio/ToServer.svelte',
    '<script lang="ts">import { log } from "$lib/server/base/log"; log();</script>',
    'studio-not-server',
  ],
  ['server/site/to-studio.ts', "import '$lib/studio/base/frame';", 'server-below-studio'],
  ['server/site/to-routes.ts', "import '../../../routes/hooks';", 'library-not-routes'],
  ['ui/to-core.ts', "import '$lib/core/base/one';", 'ui-is-plain'],
  ['core/content/circle.ts', "import './circle-back'; export const a = 1;", 'no-circles'],
  ['studio/base/circle.ts', "import type { B } from '$lib/studio/base/circle-back'; export type A = B;", 'no-circles'],
];
/** What stands at the other end of them, and imports that may be. */
const ALLOWED: [file: string, code: string][] = [
  ['core/base/one.ts', 'export const one = 1;'],
  ['core/model/field.ts', "import { one } from '../base/one'; import { z } from 'zod'; export const field = [one, z];"],
  ['core/columns/column.ts', 'export interface Column { a: 1 }'],
  ['core/content/circle-back.ts', "import './circle';"],
  ['studio/base/circle-back.ts', "import type { A } from './circle'; export type B = A;"],
  ['studio/base/frame.ts', "import '$lib/core/base/one'; export const frame = 1;"],
  ['server/api/operation.ts', 'export interface Operation { a: 1 }'],
  [
    'client/api.ts',
    "import type { Operation } from '$lib/server/api/operation'; export type A = Operation; export const api = 1;",
  ],
  ['studio/workbench/place.ts', 'export const place = 1;'],
  ['studio/base/asks.ts', "import { api } from '$lib/client/api'; export const asks = api;"],
  ['server/services/lists.ts', 'export const lists = 1;'],
  ['server/site/visitors.ts', "import '../services/lists'; export type A = 1;"],
  ['server/base/log.ts', "import '$lib/core/base/one'; import pino from 'pino'; export const log = pino;"],
];

interface Violation {
  from: string;
  rule: { name: string };
  cycle?: { name: string }[];
}
let found: string[] = [];
beforeAll(() => {
  const put = (path: string, code: string) => {
    mkdirSync(dirname(join(folder, path)), { recursive: true });
    writeFileSync(join(folder, path), code);
  };
  for (const [file, code] of [...ALLOWED, ...FORBIDDEN]) put(`src/lib/${file}`, code);
  put('src/routes/hooks.ts', 'export const a = 1;');
  put(
    'tsconfig.json',
    '{ "compilerOptions": { "moduleResolution": "bundler", "module": "esnext", "target": "esnext" } }',
  );
  for (const name of ['.dependency-cruiser.cjs', '.import-aliases.cjs', 'node_modules', 'package.json'])
    symlinkSync(join(root, name), join(folder, name));
  const { stdout, stderr } = spawnSync('npx', ['depcruise', 'src', '--output-type', 'json'], {
    cwd: folder,
    encoding: 'utf8',
    maxBuffer: 64e6,
  });
  try {
    const { summary } = JSON.parse(stdout) as { summary: { violations: Violation[] } };
    // A circle is told once, by any file that is in it.
    found = summary.violations.flatMap(({ from, rule, cycle = [] }) =>
      [from, ...cycle.map(({ name }) => name)].map((name) => `${name} ${rule.name}`),
    );
  } catch {
    throw new Error(stderr || stdout);
  }
});

describe('the check of import directions', () => {
  it.each(FORBIDDEN)('refuses %s', (file, _code, rule) => {
    expect(found).toContain(`src/lib/${file} ${rule}`);
  });

  it.each(ALLOWED.filter(([file]) => !file.includes('circle')))('lets %s be', (file) => {
    expect(found.filter((one) => one.startsWith(`src/lib/${file} `))).toEqual([]);
  });
});

/** What lint says of a piece of code at a path, by the rules of this project that need no types. */
async function lintedAt(file: string, code: string): Promise<string[]> {
  const { rules = {} } = (await new ESLint({ cwd: root }).calculateConfigForFile(join(root, file))) as Linter.Config;
  const names = [
    'no-restricted-globals',
    'no-restricted-imports',
    '@typescript-eslint/no-restricted-imports',
    'no-restricted-syntax',
  ];
  const own = Object.fromEntries(Object.entries(rules).filter(([name]) => names.includes(name)));
  const config = {
    files: ['**/*.ts', '**/*.svelte'],
    rules: own,
    plugins: { '@typescript-eslint': ts.plugin },
    languageOptions: { parser: ts.parser },
  } as unknown as Linter.Config;
  return new Linter().verify(code, [config], file).map(({ ruleId, message }) => ruleId ?? message);
}

describe('lint', () => {
  it.each([
    ['src/lib/core/base/text.ts', 'export const a = document.title;'],
    ['src/lib/core/draw/map.ts', 'export const a = () => window.innerWidth;'],
    ['src/lib/core/rules/evaluate.ts', "export const a = () => fetch('/');"],
    ['src/lib/core/rules/evaluate.ts', 'export const a = process.env.HOME;'],
    ['src/lib/studio/workbench/Canvas.svelte', "import type { Log } from '$lib/server/base/log'; export type A = Log;"],
    ['src/lib/studio/frame.ts', "import type { Log } from '../server/base/log'; export type A = Log;"],
    ['src/lib/server/services/lists.ts', "import { select } from '../database/connect'; export const a = select;"],
    ['src/lib/server/services/lists.ts', "import { table } from '../database/tables'; export const a = table;"],
    ['src/lib/server/services/lists.ts', 'let last = 0; export const a = () => last++;'],
    ['src/lib/server/services/lists.ts', 'export let last = 0;'],
    ['src/lib/server/site/visitors.ts', 'const seen = new Map<string, number>(); export const a = () => seen;'],
    ['src/lib/server/site/visitors.ts', 'export const pages = new LRUCache({ max: 5 });'],
    ['src/lib/server/people/mail.ts', 'export const a = () => process.env.PLUM_MAIL;'],
    ['src/hooks.server.ts', "(globalThis as { a?: string }).a = 'x';"],
    ['src/lib/core/base/text.ts', 'export const a = (b: number) => ({ ...{ b, c: 1 }, d: 2 });'],
    ['src/lib/server/base/server.ts', 'export const a = (b: number) => [...[b, 1], 2];'],
  ])('refuses in %s: %s', async (file, code) => {
    const said = await lintedAt(file, code);
    expect(said).toHaveLength(1);
    expect(said[0]).toMatch(/no-restricted-(globals|imports|syntax)$/);
  });

  it.each([
    ['src/lib/server/base/configuration.ts', 'export const a = () => process.env;'],
    ['src/lib/server/site/visitors.ts', 'export const a = () => { let n = 0; n++; return new Set([n]); };'],
    ['src/lib/core/base/text.ts', 'export const a = (document: { title: string }) => document.title;'],
    ['src/lib/core/base/text.ts', 'export const a = (b?: object) => ({ ...(b ? { c: 1 } : {}), ...b });'],
    [
      'src/lib/studio/frame.ts',
      "import type { A } from '$lib/core/base/text'; export const a = (d: A) => [d, document];",
    ],
  ])('lets be in %s: %s', async (file, code) => {
    expect(await lintedAt(file, code)).toEqual([]);
  });
});
