// Bundles the command line into few files beside its packages, in well under a second: each command loads its own.
import { build } from 'esbuild'
import { rm } from 'node:fs/promises'
import { fileURLToPath } from 'node:url'

const out = fileURLToPath(new URL('../dist/cli', import.meta.url))
await rm(out, { recursive: true, force: true })
await build({
  entryPoints: { ramblet: fileURLToPath(new URL('../src/cli/main.ts', import.meta.url)) },
  outdir: out,
  bundle: true,
  splitting: true,
  platform: 'node',
  target: 'node20',
  format: 'esm',
  external: ['pg-native', 'mysql2', 'node-firebird', 'sql.js', 'pdfkit', '@resvg/resvg-js'],
  banner: {
    js: [
      // A package of the older kind is bundled with what it asks for by itself.
      "import { createRequire as requireFrom } from 'node:module'; const require = requireFrom(import.meta.url);",
      // As Node.js 21 has it: without it a driver makes sure by a web request that it never sends that it runs in Node.js.
      "globalThis.navigator ??= { userAgent: 'Node.js/' + process.versions.node.split('.')[0] };"
    ].join(' ')
  },
  logLevel: 'warning'
})
