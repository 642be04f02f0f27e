// What files say of a database: an SQLite database, scripts that make one, or rows of tables as text.
import { dsvFormat } from 'd3-dsv'
import type { Catalog } from '../../core/catalog'
import type { ReadStatement } from '../../core/dialects'
import type { TextTable } from '../../core/infer'
import { withoutLedger } from '../../live'
import { isOffice } from '../../live/office'
import { isSqliteFile } from '../../storage'
import { coreWorker, databaseWorker } from '../../workers'

export interface ToldByFiles {
  readonly catalog: Catalog
  /** Of scripts: each statement, and where it stands. */
  readonly statements: readonly (ReadStatement & { readonly place: string })[]
  /** For scripts: the engine that they were read as scripts of. */
  readonly script?: string
  /** They are answers that a client of the engine has given: when. */
  readonly taken?: string
  /** They are rows, which tell what columns hold, or tables of an office program; of no engine that is known here. */
  readonly rows?: true
}

const ROWS = /\.(csv|tsv|txt|xlsx)$/i
const ANSWERS = /\.jsonl$/i
const DOCUMENTS = /\.(json|jsonl|ndjson)$/i
const WORKBOOK = /\.xlsx$/i

/** What several files are together called. */
export const namesOf = (files: readonly File[]): string =>
  files.length > 1 ? `${files[0]?.name ?? ''} and ${files.length - 1} more` : (files[0]?.name ?? '')

/** Reads files, scripts of an engine and its version where one is said. Rejects with a sentence; changes nothing. */
export async function readFiles(files: readonly File[], engine?: string, version?: string): Promise<ToldByFiles> {
  for (const file of files) {
    const office = isOffice(new Uint8Array(await file.slice(0, 20).arrayBuffer()))
    if (!office && !(await isSqliteFile(file))) continue
    if (files.length > 1)
      throw new Error(`${file.name} is a database: it is read by itself. Scripts can come together.`)
    if (office) return { catalog: await fromOffice(file, engine), statements: [], rows: true }
    if (engine !== undefined && engine !== 'sqlite') throw new Error(`${file.name} is an SQLite database.`)
    return { catalog: await fromDatabase(file), statements: [] }
  }
  const [first] = files
  if (first && files.length === 1 && ANSWERS.test(first.name)) {
    const answers = await fromAnswers(first, engine)
    if (answers) return answers
  }
  if (files.every(({ name }) => DOCUMENTS.test(name))) return fromDocuments(files, engine)
  if (engine === undefined && files.every(({ name }) => ROWS.test(name))) return fromRows(files)
  return fromScripts(files, engine, version)
}

/** Tables, each in a file or on a sheet of its name; plain lines of text, or one column alone, are a list of names. */
async function fromRows(files: readonly File[]): Promise<ToldByFiles> {
  const tables: TextTable[] = []
  for (const file of files)
    for (const { name, rows, isList } of WORKBOOK.test(file.name) ? await sheetsIn(file) : [await textIn(file)])
      if (isList)
        tables.push(
          ...[...new Set(rows.flatMap(([line = '']) => line.trim() || []))].map((line) => ({ name: line, rows: [] }))
        )
      else tables.push({ name, rows })
  return { catalog: await coreWorker().readRows(tables), statements: [], rows: true }
}

interface Rows extends TextTable {
  /** They are names of tables, and no rows of one. */
  readonly isList: boolean
}

const nameOf = (file: File) => file.name.replace(ROWS, '').trim()

async function textIn(file: File): Promise<Rows> {
  const rows = rowsIn((await file.text()).replace(/^\ufeff/, ''))
  if (rows.length === 0) throw new Error(`There is nothing in ${file.name}.`)
  return { name: nameOf(file), rows, isList: /\.txt$/i.test(file.name) && rows.every((row) => row.length === 1) }
}

/** The sheets of a workbook that hold something; one alone is called as its file is. */
async function sheetsIn(file: File): Promise<Rows[]> {
  const { default: readWorkbook } = await import('read-excel-file/browser')
  const sheets = await readWorkbook(file).catch(() => {
    throw new Error(`${file.name} cannot be read as a workbook: it may be damaged, or of another kind than .xlsx.`)
  })
  const held = sheets
    .map(({ sheet, data }) => ({
      name: sheet,
      rows: data.map((row) => row.map(cellText)).filter((row) => row.some((field) => field.trim() !== ''))
    }))
    .filter(({ rows }) => rows.length > 0)
  if (held.length === 0) throw new Error(`There is nothing in ${file.name}.`)
  return held.map(({ name, rows }) => ({
    name: held.length === 1 ? nameOf(file) : name,
    rows,
    isList: rows.every((row) => row.length === 1)
  }))
}

/** A day without a time of day is a date. */
function cellText(value: unknown): string {
  if (!(value instanceof Date))
    return value === null || value === undefined ? '' : String(value as string | number | boolean)
  return value
    .toISOString()
    .replace(/T00:00:00\.000Z$/, '')
    .replace(/\.000Z$/, '')
    .replace('T', ' ')
}

/** Rows of fields, parted by whichever mark the first line has most of. */
function rowsIn(text: string): string[][] {
  const [first = ''] = text.split('\n', 1)
  const marks = [',', ';', '\t', '|'].map((mark) => ({ mark, count: first.split(mark).length }))
  const [best] = marks.sort((a, b) => b.count - a.count)
  return dsvFormat(best?.mark ?? ',')
    .parseRows(text)
    .filter((row) => row.some((field) => field.trim() !== ''))
}

const fromDatabase = (file: File): Promise<Catalog> =>
  databaseWorker()
    .look(file)
    .catch(() => {
      throw new Error(
        `${file.name} begins as an SQLite database and cannot be read as one: it may be damaged, or encrypted.`
      )
    })

/** Nothing where a file holds no answers to the questions of this application. */
async function fromAnswers(file: File, engine?: string): Promise<ToldByFiles | undefined> {
  const told = await coreWorker().readAnswers(await file.text(), engine)
  return told && { catalog: withoutLedger(told.catalog), statements: [], script: told.engine, taken: told.taken }
}

/** Each file a collection of its name, or several where it has a list for each. */
async function fromDocuments(files: readonly File[], engine?: string): Promise<ToldByFiles> {
  if (engine !== undefined && engine !== 'mongodb')
    throw new Error('Documents tell what collections hold, and nothing of this target.')
  const texts = await Promise.all(
    files.map(async (file) => ({ name: file.name.replace(DOCUMENTS, ''), text: await file.text() }))
  )
  return { catalog: await coreWorker().readDocuments(texts), statements: [], rows: true }
}

async function fromOffice(file: File, engine?: string): Promise<Catalog> {
  if (engine !== undefined) throw new Error(`${file.name} is of an office program, and tells nothing of this target.`)
  return coreWorker()
    .readOffice(await file.arrayBuffer())
    .catch((error: unknown) => {
      const why = error instanceof Error ? error.message : String(error)
      throw new Error(`${file.name} begins as an office database and cannot be read as one. ${why}`)
    })
}

async function fromScripts(files: readonly File[], engine?: string, version?: string): Promise<ToldByFiles> {
  const texts = await Promise.all(files.map((file) => file.text()))
  const told = await coreWorker().readScripts(texts, engine, version)
  const names = files.map(({ name }) => name).join(', ')
  if (!told?.statements.some(({ how }) => how === 'read' || how === 'carried'))
    throw new Error(
      engine === undefined
        ? `${names} is no SQLite database, and no script that makes anything that is known here. A design is opened from the shelf.`
        : `${names} makes nothing when it is read as a script of that engine.`
    )
  return {
    catalog: told.catalog,
    script: told.engine,
    statements: placed(told.statements, texts, told.order, files)
  }
}

/** The file and line of each statement: the scripts were read as one, each from a line of its own on. */
function placed<S extends { readonly at: number }>(
  statements: readonly S[],
  texts: readonly string[],
  order: readonly number[],
  files: readonly File[]
): (S & { readonly place: string })[] {
  let [turn, start, line, from] = [0, 0, 1, 0]
  return statements.map((statement) => {
    for (;;) {
      const text = texts[order[turn] ?? 0] ?? ''
      if (statement.at <= start + text.length || turn + 1 >= order.length) break
      start += text.length + 1
      turn++
      ;[line, from] = [1, 0]
    }
    const text = texts[order[turn] ?? 0] ?? ''
    for (; from < statement.at - start; from++) if (text.charCodeAt(from) === 10) line++
    const file = files.length > 1 ? `${files[order[turn] ?? 0]?.name ?? ''}, ` : ''
    return { ...statement, place: `${file}line ${line.toLocaleString('en')}` }
  })
}
