// Scripts of other people's applications, out of the Debian packages that bring them: downloaded when they are asked for, kept
// beside what is installed, never committed.
import { execFileSync } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, readdirSync, renameSync, rmSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { gunzipSync } from 'node:zlib'

export interface PackagedScript {
  readonly package: string
  /** Its files in the package, in the order in which they are run. */
  readonly files: readonly string[]
}

const kept = resolve('node_modules/.cache/scripts')

/** The text of a script; or, in a sentence, why it cannot be had here. */
export function packagedScript(script: PackagedScript): { text: string } | { lacking: string } {
  const found = packagedFiles(script)
  if ('lacking' in found) return found
  return {
    text: found.paths
      .map((path) => (path.endsWith('.gz') ? gunzipSync(readFileSync(path)) : readFileSync(path)).toString('utf8'))
      .join('\n')
  }
}

/** Where the files of a package are; or, in a sentence, why they cannot be had here. */
export function packagedFiles({ package: name, files }: PackagedScript): { paths: string[] } | { lacking: string } {
  const home = join(kept, name)
  if (!existsSync(home)) {
    const lacking = unpack(name, home)
    if (lacking) return { lacking }
  }
  const paths = files.map((file) => join(home, file))
  const gone = paths.find((path) => !existsSync(path))
  if (gone !== undefined) return { lacking: `The package ${name} has no ${gone.slice(home.length + 1)}.` }
  return { paths }
}

function unpack(name: string, home: string): string | undefined {
  if (!existsSync('/usr/bin/dpkg-deb')) return 'There are no Debian packages on this machine.'
  // Several test files may ask for one package at a time: each unpacks its own, and the first to be done is taken.
  const download = join(kept, `${name}.${process.pid}.download`)
  const unpacked = `${download}ed`
  mkdirSync(download, { recursive: true })
  try {
    execFileSync('apt-get', ['download', '-qq', name], { cwd: download, stdio: ['ignore', 'ignore', 'pipe'] })
    const [archive] = readdirSync(download)
    if (archive === undefined) return `The package ${name} was not downloaded.`
    execFileSync('dpkg-deb', ['-x', join(download, archive), unpacked])
    if (!existsSync(home)) renameSync(unpacked, home)
    return undefined
  } catch (error) {
    return `The package ${name} cannot be downloaded: ${error instanceof Error ? (error.message.split('\n')[0] ?? '') : ''}`
  } finally {
    for (const left of [download, unpacked]) rmSync(left, { recursive: true, force: true })
  }
}
