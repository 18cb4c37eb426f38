import { svelte } from '@sveltejs/vite-plugin-svelte';
import tailwindcss from '@tailwindcss/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  plugins: [tailwindcss(), svelte()],
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
