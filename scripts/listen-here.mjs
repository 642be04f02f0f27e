// The built server listens on this machine alone unless HOST says otherwise: the adapter's own default is every address.
import { readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const file = fileURLToPath(new URL('../build/index.js', import.meta.url))
const [before, after] = ["env('HOST', '0.0.0.0')", "env('HOST', '127.0.0.1')"]
const text = readFileSync(file, 'utf8')
if (!text.includes(before)) throw new Error(`build/index.js has no ${before}: look where the adapter says it now.`)
writeFileSync(file, text.replace(before, after))
