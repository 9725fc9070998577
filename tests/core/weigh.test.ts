import { describe, expect, it } from 'vitest';
import { tooHeavy, weighScreens } from '../../scripts/lib/weigh.mjs';

const node = (n: number) => `.svelte-kit/generated/client-optimized/nodes/${n}.js`;
const MANIFEST = {
  '.svelte-kit/generated/client-optimized/app.js': { file: 'app.js' },
  'node_modules/@sveltejs/kit/src/runtime/client/entry.js': { file: 'start.js', imports: ['shared'] },
  shared: { file: 'shared.js' },
  [node(0)]: { file: 'root.js' },
  [node(2)]: { file: 'layout.js', imports: ['shared', 'icons'] },
  [node(3)]: { file: 'desk.js', imports: ['shared'] },
  [node(4)]: { file: 'bench.js', dynamicImports: ['editor'] },
  icons: { file: 'icons.js', imports: ['shared'] },
  editor: { file: 'editor.js' },
};
const ROUTES = '"/studio": [~3,[2]], "/studio/workbench/[template]": [~4,[2]], "/studio/sign-in": [~4]';
const SIZES: Record<string, number> = { 'icons.js': 1000, 'editor.js': 5000 };
const weigh = (sizes = SIZES) => weighScreens(MANIFEST, ROUTES, (file) => sizes[file] ?? 10);

describe('what browsers load', () => {
  it('is all that a page and its layouts import, once, and nothing that comes later', () => {
    expect(weigh()).toEqual({
      // start, shared, app, root, layout, page, and the icons of the layout.
      '/studio': 6 * 10 + 1000,
      '/studio/workbench/[template]': 6 * 10 + 1000,
      '/studio/sign-in': 5 * 10,
    });
  });

  it('is refused where it is more than a screen may load, as every icon in a layout would be', () => {
    expect(tooHeavy(weigh())).toEqual([]);
    expect(tooHeavy(weigh({ 'icons.js': 597_510 }))).toEqual([
      '/studio loads 597570 bytes of code, the most is 300000',
    ]);
    expect(tooHeavy(weigh({ 'icons.js': 950_000 }))).toHaveLength(2);
  });

  it('is not said to be nothing where a build has another form', () => {
    expect(() => weighScreens(MANIFEST, 'const routes = {}', () => 1)).toThrow('has no route');
    expect(() => weighScreens({}, ROUTES, () => 1)).toThrow('has no .svelte-kit');
  });
});
