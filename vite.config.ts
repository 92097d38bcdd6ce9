import react from '@vitejs/plugin-react';
import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vite';
import { VitePWA } from 'vite-plugin-pwa';

export default defineConfig({
  plugins: [
    react(),
    // Over https the page stays on the phone (src/web/service-worker.ts); it is registered by the page itself.
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src/web',
      filename: 'service-worker.ts',
      injectRegister: false,
      manifest: {
        name: 'Frugal Sip',
        short_name: 'Frugal Sip',
        lang: 'en-GB',
        start_url: '/round',
        display: 'standalone',
        background_color: '#f3f0e8',
        theme_color: '#1e2b2c',
        icons: [
          { src: '/icon-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/icon-512.png', sizes: '512x512', type: 'image/png' },
        ],
      },
      injectManifest: {
        globPatterns: ['index.html', 'assets/**/*.{js,css,svg,woff2}', 'icon-*.png'],
        maximumFileSizeToCacheInBytes: 4_000_000,
      },
    }),
  ],
  root: fileURLToPath(new URL('.', import.meta.url)),
  build: { outDir: 'dist/web', emptyOutDir: true, target: 'es2022', assetsInlineLimit: 0, manifest: true },
  css: {
    preprocessorOptions: {
      scss: { quietDeps: true, silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'] },
    },
  },
  worker: { format: 'es' },
  server: { proxy: { '/api': 'http://127.0.0.1:4180' } },
});
