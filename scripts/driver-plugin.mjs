// Gives the server's code the drivers as one text, which it starts threads with: `import { code } from 'virtual:driver'`.
import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'

const NAME = 'virtual:driver'
const entry = fileURLToPath(new URL('../src/lib/server/apart/thread.ts', import.meta.url))

/** @returns {import('vite').Plugin} */
export function driverPlugin() {
  return {
    name: 'driver',
    resolveId: (id) => (id === NAME ? `\0${NAME}` : undefined),
    async load(id) {
      if (id !== `\0${NAME}`) return undefined
      const { outputFiles, metafile } = await build({
        entryPoints: [entry],
        bundle: true,
        write: false,
        metafile: true,
        platform: 'node',
        target: 'node20',
        format: 'cjs',
        // A faster driver in C that is used where somebody has installed it; nobody has.
        external: ['pg-native'],
        logLevel: 'warning'
      })
      for (const file of Object.keys(metafile.inputs)) if (file.startsWith('src/')) this.addWatchFile(file)
      return `export const code = ${JSON.stringify(outputFiles[0]?.text ?? '')}`
    }
  }
}
