// The command line. Results go to standard output or a file, notices to standard error.
// Exit codes: 0 done or no difference, 1 differences or findings, 2 could not.
import { Command, CommanderError } from 'commander'
import { CouldNot } from './could-not'
import type { Notice } from '../lib/core/notice'
import type { Outcome } from './outcome'

type Commands = typeof import('./commands')
type Reviews = typeof import('./review')
type Pictures = typeof import('./picture')
/** A command, loaded once it is asked for. */
const command =
  <K extends keyof Commands>(name: K) =>
  async (...args: Parameters<Commands[K]>): Promise<Outcome> => {
    const { [name]: found } = await import('./commands')
    return (found as (...args: Parameters<Commands[K]>) => Promise<Outcome>)(...args)
  }

const program = new Command('ramblet')
  .description(
    'Schemas as designs and databases: scripts, differences and migrations.\nA SOURCE is a design file or a database: postgres://…, mysql://… (MySQL or MariaDB), firebird://…, sqlite:FILE; or a script: FILE.sql; or answers to “ramblet questions”: FILE.jsonl; or a design in words: FILE.jot'
  )
  .exitOverride()
  .configureHelp({ sortSubcommands: false })

const common = (command: Command) =>
  choices(command.requiredOption('--engine <engine>', 'the engine to write for: see “ramblet engines”'))
const choices = (command: Command) =>
  command
    .option('--engine-version <version>', 'its version; the newest known when not given')
    .option('--target <name>', 'use the choices of this target of the design')
    .option('--timeout <seconds>', 'how long to wait for a database that does not answer', '10')
    .option('-o, --output <file>', 'write the result to a file')
    .option('--json', 'print for machines')

program
  .command('engines')
  .description('list the engines and their versions')
  .option('--json', 'print for machines')
  .action(run(async (options: { json?: boolean }) => (await import('./engines')).enginesCommand(options)))
choices(
  program
    .command('read')
    .argument('<source>')
    .description('make a design of a database, or of a script')
    .option('--engine <engine>', 'the engine that it is of, where that does not show by itself')
    .option('--tables <tables>', 'only these tables, separated by commas; * stands for anything')
    .option(
      '--infer <sorts>',
      'say in the design what is left unsaid: links, keys, indexes, bridges, subtypes, domains, names'
    )
)
  .option('--strict', 'end with 1 where something is kept as its own text, too')
  .action(run(command('readCommand')))
program
  .command('questions')
  .description('write what a database is asked, for its own client to run: what that prints, FILE.jsonl, is a SOURCE')
  .requiredOption('--engine <engine>', 'the engine: see “ramblet engines”')
  .option('--engine-version <version>', 'the version of the server; the newest known when not given')
  .option('-o, --output <file>', 'write the result to a file')
  .action(run(command('questionsCommand')))
choices(
  program
    .command('review')
    .argument('<source>')
    .description('look a design over, or what a database or script would be as one: what to mend, and why')
    .option('--engine <engine>', 'the engine to look at it for; a target’s own where there is one')
)
  .option('--strict', 'end with 1 where there is a warning, too')
  .action(
    run(async (...args: Parameters<Reviews['reviewCommand']>) => (await import('./review')).reviewCommand(...args))
  )
choices(
  program
    .command('jot')
    .argument('<source>')
    .description('write a design in words; FILE.jot is a SOURCE')
    .option('--engine <engine>', 'the engine that a database or a script is of')
).action(run(command('jotCommand')))
choices(
  program
    .command('picture')
    .argument('<source>')
    .description('draw a diagram, or what a database or script would be as one: -o FILE.svg, FILE.pdf or FILE.png')
    .option('--engine <engine>', 'the engine that a database or a script is of')
)
  .option('--diagram <name>', 'the diagram; the first one when not given')
  .option('--notation <notation>', 'crows foot, idef1x, uml, barker or chen; the diagram’s own when not given')
  .option('--no-legend', 'leave out what the marks mean')
  .option('--no-title', 'leave out what it is a picture of')
  .option('--dark', 'on a dark ground')
  .option('--scale <factor>', 'how large an SVG or PNG is, against its own pixels')
  .option('--paper <size>', 'tile a PDF over A4, A3 or Letter')
  .action(
    run(async (...args: Parameters<Pictures['pictureCommand']>) => (await import('./picture')).pictureCommand(...args))
  )
common(program.command('script').argument('<source>').description('write the script that makes it'))
  .option('--drop', 'remove each table first, where it exists: as --make both')
  .option('--make <what>', 'create, drop, or both')
  .option('--database <name>', 'begin by making a database of this name')
  .option('--database-with <settings>', 'what is said of it, such as “collation=utf8mb4_bin”, separated by commas')
  .option('--only <tables>', 'only these tables, separated by commas')
  .option('--without <parts>', 'leave out: tables, foreign keys, indexes, views, others, comments')
  .option('--quoting <how>', 'quote names always, or where needed')
  .option('--separator <text>', 'end each statement with this on a line of its own, instead of a semicolon')
  .option('--before <file>', 'begin with the text of a file')
  .option('--after <file>', 'end with the text of a file')
  .option('--files <place>', 'a file for each object, numbered, in a folder or a FILE.zip')
  .action(run(command('scriptCommand')))
common(program.command('compare').argument('<a>').argument('<b>').description('list what it takes from A to B'))
  .option('--renames <file>', 'names that have changed: a JSON list of {"table", "column", "to"}')
  .option('--agreed <file>', 'what design A and database B last agreed on: tells who changed what')
  .action(run(command('compareCommand')))
common(
  program
    .command('baseline')
    .argument('<design>')
    .argument('<database>')
    .description('write down a database as it is as what is agreed, and run nothing')
).action(run(command('baselineCommand')))
common(
  program.command('migrate').argument('<a>').argument('<b>').description('write the script from state A to state B')
)
  .option('--undo', 'write the way back instead')
  .option('--agreed <file>', 'what design B and database A last agreed on: tells a rename')
  .option('--renames <file>', 'names that have changed: a JSON list of {"table", "column", "to"}')
  .option('--allow-loss', 'end with 0 although steps lose data')
  .action(run(command('migrateCommand')))

function run<A extends unknown[]>(command: (...args: A) => Promise<Outcome>) {
  return async (...args: A) => {
    const { output, notices, code } = await command(...args)
    for (const line of lines(notices)) console.error(line)
    await output()
    process.exitCode = code
  }
}

/** Of what is only told, so many of a sort: the rest is counted. `--json` has all. */
const ENOUGH = 5

function lines(notices: readonly Notice[]): string[] {
  const told = new Map<string, number>()
  const shown = notices.flatMap(({ severity, code, message }) => {
    const before = told.get(code) ?? 0
    if (severity === 'info') told.set(code, before + 1)
    return severity === 'info' && before >= ENOUGH ? [] : [`${severity}: ${message}`]
  })
  const more = [...told].filter(([, count]) => count > ENOUGH)
  return [...shown, ...more.map(([code, count]) => `info: ${count - ENOUGH} more of the sort “${code}”: see --json.`)]
}

// What a driver throws where nobody waits for it.
process.on('uncaughtException', giveUp)
process.on('unhandledRejection', giveUp)
try {
  await program.parseAsync()
} catch (error) {
  if (error instanceof CommanderError) process.exitCode = error.exitCode === 0 ? 0 : 2
  else if (error instanceof CouldNot) {
    console.error(`error: ${error.message}`)
    // A line that is given up would keep the program alive.
    process.exit(2)
  } else giveUp(error)
}

/** Whatever happens, one sentence: a stack helps nobody at a command line. */
function giveUp(error: unknown) {
  const message = (error instanceof Error ? error.message : String(error)).split('\n', 1).join('')
  console.error(`error: ${message || 'something went wrong that has no words'}`)
  process.exit(2)
}
