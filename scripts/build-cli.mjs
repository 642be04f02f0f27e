// Bundles the command line into one file beside its packages, in well under a second.
import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'

await build({
  entryPoints: [fileURLToPath(new URL('../src/cli/main.ts', import.meta.url))],
  outfile: fileURLToPath(new URL('../dist/ramblet.js', import.meta.url)),
  bundle: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  packages: 'external',
  logLevel: 'warning'
})
