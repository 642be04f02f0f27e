import { sveltekit } from '@sveltejs/kit/vite'
import tailwindcss from '@tailwindcss/vite'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'
import { driverPlugin } from './scripts/driver-plugin.mjs'

export default defineConfig({
  plugins: [driverPlugin(), tailwindcss(), sveltekit()],
  worker: { format: 'es' },
  resolve: {
    // An encrypted office database is not read: what would decrypt it wants a machine of its own.
    alias: Object.fromEntries(
      ['browserify-aes/browser.js', 'create-hash'].map((name) => [
        name,
        fileURLToPath(new URL('src/lib/live/no-cipher.ts', import.meta.url))
      ])
    )
  },
  build: { chunkSizeWarningLimit: 2000 },
  optimizeDeps: {
    exclude: ['@electric-sql/pglite'],
    // Only workers import these, so the first scan does not see them and the page would reload on first use.
    include: ['comlink', '@dagrejs/dagre']
  },
  test: {
    include: ['src/**/*.test.ts', 'demo/**/*.test.ts', 'tests/integration/**/*.test.ts'],
    // The servers of the tests work beside them: as many at once as there are processors, and not one less.
    maxWorkers: availableParallelism(),
    setupFiles: ['tests/support/seed.ts'],
    testTimeout: 120_000,
    hookTimeout: 60_000
  }
})
