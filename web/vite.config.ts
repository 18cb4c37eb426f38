import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { writeFileSync } from 'node:fs';
import { defineConfig, type Plugin } from 'vite';
import { viteStaticCopy } from 'vite-plugin-static-copy';

/** Writes down which packages' code is in what was built: their licences are gathered from that. */
const shipped: Plugin = {
  name: 'shipped',
  generateBundle(_, bundle) {
    const names = new Set<string>();
    for (const chunk of Object.values(bundle)) {
      for (const id of chunk.type === 'chunk' ? chunk.moduleIds : []) {
        const name = /.*node_modules\/((?:@[^/]+\/)?[^/]+)\//.exec(id)?.[1];
        if (name) names.add(name);
      }
    }
    writeFileSync('node_modules/.shipped.json', JSON.stringify([...names].sort()));
  },
};

export default defineConfig({
  plugins: [
    tailwindcss(),
    svelte(),
    shipped,
    // What the PDF library fetches by name when a page needs it.
    viteStaticCopy({
      targets: [
        { src: 'node_modules/pdfjs-dist/standard_fonts/*', dest: 'pdf/fonts' },
        { src: 'node_modules/pdfjs-dist/cmaps/*', dest: 'pdf/cmaps' },
        { src: 'node_modules/pdfjs-dist/wasm/*', dest: 'pdf/wasm' },
      ],
    }),
  ],
  base: './',
  build: {
    assetsInlineLimit: 0,
    rollupOptions: {
      treeshake: {
        // flowbite-svelte does not say that its modules have no side effects;
        // without this all of it would be in the script.
        moduleSideEffects: (id) => !id.includes('node_modules/flowbite-svelte/dist/') || id.endsWith('.css'),
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:4780' } },
});
