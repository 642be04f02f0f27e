// `npm run demo`: everything from a fresh checkout to an address to open. The demo design and its embedded database are
// made in the browser when the page is first opened.
import { build, firstFree, install, root } from './prepare.mjs'

install()
build()

const wanted = Number(process.env.PORT ?? 4170)
const port = await firstFree(wanted)
process.env.PORT = String(port)
process.env.HOST ??= '127.0.0.1'
await import(`${root}build/index.js`)
console.log(`\nRamblet, with the design Tidewell Harbour on its shelf: http://${process.env.HOST}:${port}\n`)
