// Makes the compressed, freshly initialised cluster that every embedded PostgreSQL starts from:
// initdb costs about five seconds in a browser, unpacking this costs well under one.
import { PGlite } from '@electric-sql/pglite'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'

const folder = fileURLToPath(new URL('../src/lib/live/generated/', import.meta.url))
const file = folder + 'cluster.tar.gz'
const stamp = folder + 'cluster.version'
const packageFile = fileURLToPath(new URL('../node_modules/@electric-sql/pglite/package.json', import.meta.url))
const version = JSON.parse(readFileSync(packageFile, 'utf8')).version

if (!existsSync(file) || !existsSync(stamp) || readFileSync(stamp, 'utf8') !== version) {
  mkdirSync(folder, { recursive: true })
  const db = await PGlite.create()
  // One statement a call: ALTER SYSTEM refuses to run inside the transaction of a batch.
  await db.exec(`ALTER SYSTEM SET shared_buffers = '4MB'`)
  await db.exec('CHECKPOINT')
  const dump = await db.dumpDataDir('gzip')
  writeFileSync(file, Buffer.from(await dump.arrayBuffer()))
  writeFileSync(stamp, version)
  await db.close()
  console.log(`embedded PostgreSQL: cluster template made for version ${version}`)
}
