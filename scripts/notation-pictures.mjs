// Draws the pictures of docs/notations.md anew: one design in words that has every case, in each notation.
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'

const root = fileURLToPath(new URL('..', import.meta.url))
const run = (...args) => execFileSync(process.execPath, args, { cwd: root, stdio: 'inherit' })
run('scripts/build-cli.mjs')
for (const notation of ['crows foot', 'idef1x', 'uml', 'barker', 'chen'])
  run(
    'bin/ramblet',
    'picture',
    'docs/notations/every-case.jot',
    '--notation',
    notation,
    '-o',
    `docs/notations/${notation.replace(' ', '-')}.svg`
  )
