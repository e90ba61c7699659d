import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

const shape = createHash('sha256')
  .update(readFileSync(new URL('openapi.json', import.meta.url)))
  .digest('hex')

export default defineConfig({
  define: { __API_SHAPE__: JSON.stringify(shape.slice(0, 12)) },
  plugins: [
    react(),
    VitePWA({
      // Nobody's count is cut off by a new version: it is offered, and taken at the next start.
      registerType: 'prompt',
      injectRegister: false,
      manifest: {
        name: 'Crumb',
        short_name: 'Crumb',
        description: 'Measures, drills and practice for band and orchestra.',
        start_url: '/',
        display: 'standalone',
        background_color: '#f7f1e5',
        theme_color: '#f7f1e5',
        icons: [
          { src: '/crumb.svg', sizes: 'any', type: 'image/svg+xml' },
          { src: '/crumb-192.png', sizes: '192x192', type: 'image/png' },
          { src: '/crumb-512.png', sizes: '512x512', type: 'image/png', purpose: 'any' },
        ],
      },
      workbox: {
        // All of a version: where a newer one is on the server, the older goes on from what is kept.
        globPatterns: ['index.html', 'assets/*.{js,css}', 'assets/*-latin-*.woff2', '*.{svg,png}'],
        navigateFallback: '/index.html',
        navigateFallbackDenylist: [/^\/api\//],
        cleanupOutdatedCaches: true,
        clientsClaim: true,
        inlineWorkboxRuntime: true,
        sourcemap: false,
      },
    }),
  ],
  build: { chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': 'http://127.0.0.1:8327' } },
})
