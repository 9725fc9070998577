import adapter from '@sveltejs/adapter-node';
import { vitePreprocess } from '@sveltejs/vite-plugin-svelte';

/** @type {import('@sveltejs/kit').Config} */
export default {
  preprocess: vitePreprocess(),
  kit: {
    adapter: adapter({ envPrefix: 'PLUM_HTTP_' }),
    // Asked in hooks.server.ts, of every method and content type, and answered with problem details.
    csrf: { trustedOrigins: ['*'] },
    csp: {
      mode: 'nonce',
      directives: {
        'default-src': ['self'],
        'script-src': ['self'],
        'style-src': ['self', 'unsafe-inline'],
        'img-src': ['self', 'data:', 'blob:'],
        'font-src': ['self', 'data:'],
        'connect-src': ['self'],
        // Players stand in the preview of a form and on the canvas; which hosts they come from, fields say.
        'frame-src': ['self', 'https:'],
        'object-src': ['none'],
        'base-uri': ['none'],
        'form-action': ['self'],
        'frame-ancestors': ['none'],
      },
    },
    typescript: {
      config(config) {
        config.include.push(
          '../scripts/**/*',
          '../standins/**/*',
          '../demo/**/*',
          '../e2e/**/*',
          '../tests/**/*',
          '../bench/**/*',
          '../*.ts',
        );
        return config;
      },
    },
  },
};
