import { fileURLToPath } from 'node:url';
import tailwindcss from '@tailwindcss/vite';
import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const at = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const server = 'http://127.0.0.1:4600';

export default defineConfig({
  root: at('web'),
  plugins: [react(), tailwindcss()],
  html: { cspNonce: '__CSP_NONCE__' },
  build: {
    outDir: at('dist/web'),
    emptyOutDir: true,
    manifest: true,
    assetsInlineLimit: 0,
    modulePreload: { polyfill: false },
    target: 'es2023',
    rolldownOptions: {
      output: {
        // Else a sheet is forty files, most of them smaller than what asking for one costs. The first load stays as small as it was.
        codeSplitting: {
          groups: [
            { name: 'first', tags: ['$initial'] },
            // What seven parts or more share comes as one file: a rig's sheet asks for half as many and sends no more (the yard 16 kB).
            { name: 'base', minShareCount: 7 },
            { name: 'shared', minShareCount: 2, entriesAware: true, entriesAwareMergeThreshold: 10_000 },
          ],
        },
      },
    },
  },
  worker: { format: 'es' },
  // The server takes requests of its own pages only: in development the proxy speaks as one of them.
  server: { proxy: { '/api': { target: server, changeOrigin: true, headers: { origin: server } } } },
});
