// A text read again after something was typed: as long as that is within one entity, and gives no other entity anything new, only its
// block is read. It is always what reading all of it gives; where that is not certain, all is read.
import { sameValue } from '../catalog'
import { logical, sameFace } from '../derive'
import { Editing, linksAt, type Design, type Edit, type Entity } from '../design'
import type { Notice } from '../notice'
import { comeBack } from './coming-back'
import { conditionsOf, listsOf, withParentKey } from './clauses'
import { goneAfter, NOTHING_GONE, type Gone } from './gone'
import { byId, leading } from './keeping'
import { linesOf } from './lines'
import { withNewNames } from './new-names'
import { readWhole, type JotRead, type ReadBlock } from './read'
import { Reading } from './reading'
import { draft } from './rows'
import { changeBetween } from './text-change'

/** A text that was read, and what is remembered of it. */
export interface JotState {
  readonly text: string
  readonly read: JotRead
  readonly blocks: readonly Standing[]
  readonly known: Pick<Reading, 'shells' | 'domains'>
  readonly gone: Gone
  /** Only one block was read. */
  readonly partly?: true
}

/** What stands in the first column, and what was read of it; rows and lines are counted from its own. */
interface Standing extends ReadBlock {
  readonly lines: ReadonlyMap<string, number>
  readonly notices: readonly Notice[]
}

export function readAgain(text: string, base: Design, before: JotState | undefined): JotState {
  const gone = before?.read.design.id === base.id ? before.gone : NOTHING_GONE
  const state = (before && partly(text, base, before)) ?? wholly(text, base, gone)
  return { ...state, gone: goneAfter(gone, base, state.read.edit) }
}

function wholly(text: string, base: Design, gone: Gone): JotState {
  const { read, blocks, reading } = readWhole(text, base, gone)
  const own = blocks.map((block) => ({
    ...block,
    lines: new Map<string, number>(),
    notices: [] as Notice[]
  }))
  const at = (line: number) => {
    let [low, high] = [0, own.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if ((own[middle]?.number ?? 0) <= line) low = middle
      else high = middle - 1
    }
    return own[low]
  }
  for (const [id, line] of read.lines) {
    const block = at(line)
    block?.lines.set(id, line - block.number)
  }
  for (const notice of read.notices) {
    const [row = 1, column = 1] = (notice.where ?? '1:1').split(':').map(Number)
    const block = at(row)
    block?.notices.push({ ...notice, where: `${row - block.number}:${column}` })
  }
  // Lines that have other names now are read as they are then.
  return { text: read.text, read, blocks: read.text === text ? own : [], known: reading, gone }
}

function partly(text: string, base: Design, before: JotState): JotState | undefined {
  const change = changeBetween(before.text, text)
  if (!change || !isDesignOf(before.read.design, base)) return undefined
  const { blocks } = before
  const index = blocks.findLastIndex(({ at }) => at <= change.from)
  const [block, next] = [blocks[index], blocks[index + 1]]
  const entity = block?.id === undefined ? undefined : base.entities[block.id]
  // What is said of its first line is said of it among others.
  if (!block?.block || !entity || block.notices.some(({ where }) => where?.startsWith('0:'))) return undefined
  // A line that is not understood keeps what it stood for in the design before: it is read against each.
  if (blocks.some((one) => one !== block && one.notices.some(({ severity }) => severity === 'error'))) return undefined
  const head = before.text.indexOf('\n', block.at)
  const end = next?.at ?? before.text.length
  if (head < 0 || change.from <= head || change.to > end || (next && change.to === end)) return undefined
  const grown = text.length - before.text.length
  const own = text.slice(block.at, end + grown)
  // A meaning in quotes goes on for as long as they are open.
  if ((next && !own.endsWith('\n')) || /means\s+"/.test(own)) return undefined
  const [line, ...others] = linesOf(own)
  if (!line || line.at !== 0 || others.length > 0) return undefined

  const reading = new Reading(own, base, before.known, before.gone)
  reading.lines.set(entity.id, 1)
  reading.blocks.set(entity.id, { ...block.block, line })
  const drawn = draft(reading, { ...block.block, line })
  const [made = drawn] = comeBack(reading, [drawn], [entity])
  const result = withDraft(reading, made, entity, base)
  if (!result || !sameFace(base, result.design, entity.id)) return undefined
  // Views speak of columns by their names.
  if (Object.keys(base.views).length > 0 && namesOf(base, entity.id) !== namesOf(result.design, entity.id))
    return undefined
  const words = withNewNames(reading, [made], result.design)
  const moved = own.split('\n').length - before.text.slice(block.at, end).split('\n').length
  const all = blocks.map((one, i): Standing => {
    if (i < index) return one
    if (i > index) return { ...one, at: one.at + grown + words.length - own.length, number: one.number + moved }
    const relative = new Map([...reading.lines].map(([id, n]) => [id, n - 1]))
    return {
      ...one,
      lines: relative,
      notices: reading.notices.map((notice) => ({ ...notice, where: shifted(notice.where, -1) }))
    }
  })
  const whole = words === own ? text : text.slice(0, block.at) + words + text.slice(end + grown)
  const read: JotRead = { ...result, text: whole, ...placed(all) }
  return { text: whole, read, blocks: all, known: before.known, gone: before.gone, partly: true }
}

const namesOf = (design: Design, id: string): string =>
  JSON.stringify(
    logical(design)
      .entity(id)
      ?.columns.map(({ path, dbName }) => [path, dbName])
  )

const shifted = (where = '1:1', by: number): string => {
  const [row = 1, column = 1] = where.split(':').map(Number)
  return `${row + by}:${column}`
}

/** What was read of each block, by the lines of the text. */
function placed(blocks: readonly Standing[]): Pick<JotRead, 'lines' | 'notices'> {
  const lines = new Map<string, number>()
  const notices: Notice[] = []
  for (const block of blocks) {
    for (const [id, line] of block.lines) lines.set(id, line + block.number)
    for (const notice of block.notices) notices.push({ ...notice, where: shifted(notice.where, block.number) })
  }
  return { lines, notices }
}

/** The same design, object by object: most are the same objects. */
function isDesignOf(read: Design, base: Design): boolean {
  if (read.id !== base.id || !sameValue(read.settings, base.settings)) return false
  return (['entities', 'links', 'subtypes', 'domains', 'commons', 'areas', 'views'] as const).every((name) => {
    const [a, b] = [read[name], base[name]] as [Record<string, unknown>, Record<string, unknown>]
    if (a === b) return true
    const ids = Object.keys(b)
    return Object.keys(a).length === ids.length && ids.every((id) => a[id] === b[id] || sameValue(a[id], b[id]))
  })
}

/** The design with one entity as its block says it, and what leads there. */
function withDraft(
  reading: Reading,
  made: ReturnType<typeof draft>,
  entity: Entity,
  base: Design
): { design: Design; edit: Edit } | undefined {
  const old = linksAt(base, entity.id).filter(({ child }) => child === entity.id)
  const { area } = entity
  const drawn: Entity = area === undefined ? made.entity : { ...made.entity, area }
  const links = { ...base.links }
  for (const { id } of old) Reflect.deleteProperty(links, id)
  for (const link of made.links) links[link.id] = link
  let next: Design = { ...base, entities: { ...base.entities, [entity.id]: drawn }, links }
  const listed = listsOf(reading, made, drawn, next)
  next = { ...next, entities: { ...next.entities, [entity.id]: listed } }
  const says = new Map(made.rows.map((row) => [row.id, row.says]))
  const keyed = made.links.map((link) => withParentKey(reading, link, says.get(link.id), [made], next))
  next = { ...next, links: { ...next.links, ...byId(keyed) } }
  const whole = conditionsOf(reading, made, listed, next)
  const small = (entities: readonly Entity[], some: Design['links']): Design => ({
    ...base,
    entities: byId(entities),
    links: some,
    subtypes: {},
    commons: {},
    domains: {},
    areas: {},
    views: {}
  })
  const edit = leading(small([entity], byId(old)), small([whole], byId(keyed)))
  const editing = new Editing(base)
  editing.edit(edit)
  return { design: editing.done(), edit }
}
