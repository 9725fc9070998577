import { sveltekit } from '@sveltejs/kit/vite';
import tailwindcss from '@tailwindcss/vite';
import { readdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { defineConfig, type Plugin } from 'vite';

/** Puts one `@import` for each style sheet of a folder in the place of `@import 'folder/*.css'`. */
const importFolders: Plugin = {
  name: 'import-folders',
  enforce: 'pre',
  transform(code, id) {
    const file = id.split('?')[0] as string;
    if (!file.endsWith('/site/site.css')) return undefined;
    return code.replace(/@import '([^'*]*)\*\.css'([^;]*);/g, (_, folder: string, how: string) =>
      readdirSync(join(dirname(file), folder))
        .filter((name) => name.endsWith('.css'))
        .sort()
        .map((name) => `@import '${folder}${name}'${how};`)
        .join('\n'),
    );
  },
};

export default defineConfig({
  plugins: [importFolders, tailwindcss(), sveltekit()],
  ssr: {
    external: ['sequelize', 'mariadb', 'sharp', 'umzug'],
    // Its folders have a package.json each, which Node.js does not read when it imports.
    noExternal: ['@atlaskit/pragmatic-drag-and-drop'],
  },
  build: { assetsInlineLimit: 0 },
  // In parts, so that a worker loads what it needs.
  worker: { format: 'es' },
  server: { fs: { allow: ['.'] } },
});
