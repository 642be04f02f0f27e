// A text as a design. What the text cannot say is as the design before has it; a line that is not understood leaves what it speaks
// of as it was, and all the rest is read.
import {
  Editing,
  newCommon,
  newDomain,
  newEntity,
  newId,
  type Common,
  type Design,
  type Edit,
  type Entity,
  type Settings,
  type Subtypes,
  type View
} from '../design'
import { type Notice } from '../notice'
import { guessedType } from './guess'
import { valuesOf } from './values'
import { comeBack } from './coming-back'
import type { Gone } from './gone'
import { linesOf, type Line } from './lines'
import { matched } from './match'
import { onOneLine } from './names'
import { listed, outside, unquoted } from './pieces'
import { saysOf } from './says'
import { Reading, type Block, type Draft } from './reading'
import { byId, leading } from './keeping'
import { called, entityOf, subtypeOf } from './opening'
import { draft } from './rows'
import { listsOf, withParentKey, conditionsOf } from './clauses'
import { withNewNames } from './new-names'
import { printView, readViews, viewBlock, type ViewBlock } from './views'

export interface JotRead {
  readonly design: Design
  /** What leads from the design before to this one. */
  readonly edit: Edit
  /** `where` is `line:column`, both from 1. */
  readonly notices: readonly Notice[]
  /** The line, from 1, of each object that has one. */
  readonly lines: ReadonlyMap<string, number>
  /** The text with new names in the lines that have the old ones; the same where no line has. */
  readonly text: string
}

/**
 * Reads a text. Errors: `jot-version`, `jot-line`, `jot-word`, `jot-unknown`, `jot-twice`; a line with one counts for nothing, and
 * what it stood for before stays. What is `gone` since a while is the same where it comes back.
 */
export const readJot = (text: string, base: Design, gone?: Gone): JotRead => readWhole(text, base, gone).read

/** What stands in the first column: where, from what line on, and the entity that it opens. */
export interface ReadBlock {
  readonly at: number
  readonly number: number
  readonly id?: string
  readonly block?: Block
}

/** The same, with the blocks that were read, in their order. */
export function readWhole(text: string, base: Design, gone?: Gone) {
  const reading = new Reading(text, base, undefined, gone)
  const { read, once, top } = readAll(reading)
  const opened = new Map(once.map((block) => [block.line.number, block]))
  const blocks = top.map(({ at, number }): ReadBlock => {
    const block = opened.get(number)
    const id = block && reading.shells.get(block.name.toLowerCase())?.id
    return { at, number, ...(block && id !== undefined ? { block, id } : {}) }
  })
  return { read, blocks, reading }
}

function readAll(reading: Reading) {
  const top = linesOf(reading.text)
  const blocks: Block[] = []
  const domainLines: Line[] = []
  const commonLines: Line[] = []
  const areas: string[] = []
  const viewBlocks: ViewBlock[] = []
  const lost: Line[] = []
  const settings: { -readonly [K in keyof Settings]?: Settings[K] | undefined } = {
    identifier: 'integer',
    tablePrefix: '',
    tables: undefined,
    letters: undefined
  }
  let [area, namespace]: [string | undefined, string | undefined] = [undefined, undefined]
  for (const [i, line] of top.entries()) {
    const [, word = '', rest = ''] = /^(\S+)\s*([\s\S]*)$/.exec(line.text) ?? []
    switch (word.toLowerCase()) {
      case 'jot':
        if (rest.trim() !== '1') reading.say('jot-version', line, 0, `This reads jot 1, and not “${rest.trim()}”.`)
        break
      case 'area':
        ;[area, namespace] = [unquoted(rest), undefined]
        areas.push(area)
        break
      case 'namespace':
        namespace = unquoted(rest)
        break
      case 'domain':
        domainLines.push(line)
        break
      case 'view': {
        const place = { ...(area ? { area } : {}), ...(namespace ? { namespace } : {}) }
        viewBlocks.push({ ...viewBlock(reading.text, line, rest, top[i + 1]?.at ?? reading.text.length), ...place })
        break
      }
      case 'every':
        every(reading, line, rest, settings, commonLines)
        break
      case 'entity':
      case 'collection':
      case 'subtype': {
        const place = { ...(area ? { area } : {}), ...(namespace ? { namespace } : {}) }
        const opener = word.toLowerCase()
        const block = opener === 'subtype' ? subtypeOf(line, rest) : entityOf(line, rest, opener === 'collection')
        if (block) blocks.push({ ...block, ...place })
        else reading.say('jot-line', line, 0, 'A subtype says of what it is one: subtype Tug of Vessel.')
        break
      }
      default:
        reading.say(
          'jot-line',
          line,
          0,
          `“${word}” opens nothing: a line in the first column begins with entity, collection, subtype, view, domain, every, area or namespace.`
        )
        lost.push(line)
    }
  }
  readDomains(reading, domainLines)
  // Its beginning is not understood: what it spoke of is still what the lines in it say.
  for (const line of lost) {
    const words = ` ${line.text.toLowerCase()} `
    const spoken = Object.values(reading.base.entities).find(
      ({ name }) =>
        words.includes(` ${name.toLowerCase()} `) &&
        !blocks.some((block) => block.name.toLowerCase() === name.toLowerCase())
    )
    if (!spoken) continue
    const { name, dbName, namespace: schema, area: where, collection } = spoken
    const home = reading.base.areas[where ?? '']?.name
    blocks.push({
      line,
      name,
      ...(dbName === undefined ? {} : { dbName }),
      ...(schema === undefined ? {} : { namespace: schema }),
      ...(home === undefined ? {} : { area: home }),
      ...(collection === undefined ? {} : { collection }),
      ...kindBefore(reading, spoken)
    })
  }
  const once = withoutDoubles(reading, blocks)
  shell(reading, once)
  const drawn = once.map((block) => draft(reading, block))
  const drafts = comeBack(reading, drawn, Object.values(reading.base.entities))
  const views = onceEach(reading, viewBlocks)
  return { read: finish(reading, drafts, areas, commons(reading, commonLines), settings, views), once, top }
}

function kindBefore(reading: Reading, entity: Entity): Pick<Block, 'kindOf'> {
  const group = Object.values(reading.base.subtypes).find(({ subtypes }) => subtypes.includes(entity.id))
  const parent = group && reading.base.entities[group.supertype]
  if (!group || !parent) return {}
  const { discriminator, complete, exclusive } = group
  return { kindOf: { supertype: parent.name, discriminator, complete, exclusive } }
}

/** `every …`: what is said once for the whole design. */
function every(
  reading: Reading,
  line: Line,
  rest: string,
  settings: { -readonly [K in keyof Settings]?: Settings[K] | undefined },
  commons: Line[]
) {
  const [, begins] = /^table\s+begins\s+(.+)$/i.exec(rest) ?? []
  const [, called] = /^table\s+is\s+called\s+by\s+(one|many)$/i.exec(rest) ?? []
  const [, letters] = /^name\s+is\s+in\s+(lower|upper|camel|pascal)\s+letters$/i.exec(rest) ?? []
  const [, key] = /^key\s+is\s+(integer|big|uuid)$/i.exec(rest) ?? []
  const [, has] = /^entity\s+has\b\s*([\s\S]*)$/i.exec(rest) ?? []
  if (begins !== undefined) settings.tablePrefix = unquoted(begins)
  else if (called !== undefined) settings.tables = called.toLowerCase() === 'many' ? 'plural' : 'singular'
  else if (letters !== undefined) settings.letters = letters.toLowerCase() as NonNullable<Settings['letters']>
  else if (key !== undefined) settings.identifier = key.toLowerCase() as Settings['identifier']
  else if (has !== undefined) {
    for (const name of listed(has)) commons.push({ ...line, text: `${name}:`, inside: [] })
    commons.push(...line.inside)
  } else
    reading.say(
      'jot-word',
      line,
      0,
      'Every what? Say: every table begins th_, every table is called by many, every name is in camel letters, every key is big, every entity has created at.'
    )
}

function readDomains(reading: Reading, lines: readonly Line[]) {
  const said = lines.flatMap((line) => {
    const colon = outside(line.text, ':')
    const name = unquoted(line.text.slice('domain'.length, colon < 0 ? undefined : colon))
    if (colon < 0 || name === '') {
      reading.say('jot-line', line, 0, 'A domain has a name and a type: domain Money: decimal(12,2).')
      return []
    }
    return [{ line, name, colon }]
  })
  const old = matched(said, Object.values(reading.base.domains), () => 0)
  for (const one of said) {
    const { line, name, colon } = one
    if (reading.domains.has(name.toLowerCase())) {
      reading.say('jot-twice', line, 0, `There is a domain “${name}” already.`)
      continue
    }
    const before = old.get(one)
    const says = saysOf(line.text.slice(colon + 1), { entity: () => undefined, domain: () => undefined })
    reading.odd(says, line, colon + 1)
    const type = says.type ?? before?.type
    if (type === undefined) reading.say('jot-word', line, colon + 1, `Say the type of ${name}.`)
    const domain = newDomain(name, {
      ...(before ? { id: before.id } : {}),
      type: type ?? guessedType(name),
      ...valuesOf(says),
      ...(says.check === undefined
        ? {}
        : { rule: before?.rule !== undefined && onOneLine(before.rule) === says.check ? before.rule : says.check })
    })
    reading.domains.set(name.toLowerCase(), domain)
    reading.lines.set(domain.id, line.number)
  }
}

function withoutDoubles(reading: Reading, blocks: readonly Block[]): Block[] {
  const seen = new Set<string>()
  return blocks.filter(({ name, line }) => {
    const key = name.toLowerCase()
    const twice = seen.has(key) || reading.domains.has(key)
    if (twice) reading.say('jot-twice', line, 0, `There is a domain or an entity “${name}” already.`)
    seen.add(key)
    return !twice && name !== ''
  })
}

function shell(reading: Reading, blocks: readonly Block[]) {
  const names = (line: Line) =>
    line.inside.flatMap(({ text }) => {
      const colon = outside(text, ':')
      return colon < 0 ? [] : [unquoted(text.slice(0, colon).split(' = ', 1).join('')).toLowerCase()]
    })
  const alike = (block: Block, entity: Entity): number => {
    const own = new Set(names(block.line))
    const other = entity.attributes.map(({ name }) => name.toLowerCase())
    const shared = other.filter((name) => own.has(name)).length
    return shared / Math.max(1, other.length + own.size - shared)
  }
  // As the text had them before, as far as that is known: by area and name.
  const old = matched(blocks, inPrintedOrder(reading.base), alike)
  const back = (name: string) =>
    reading.gone.entities.findLast(
      (one) => one.name.toLowerCase() === name.toLowerCase() && !reading.base.entities[one.id]
    )
  for (const block of blocks) {
    const before = old.get(block)
    const same = before ?? back(block.name)
    const entity = same ? { ...same, name: block.name } : newEntity(block.name)
    reading.shells.set(block.name.toLowerCase(), entity)
    reading.lines.set(entity.id, block.line.number)
    reading.blocks.set(entity.id, block)
    if (before && before.name !== block.name) reading.before.set(before.name.toLowerCase(), entity)
  }
}

function commons(reading: Reading, lines: readonly Line[]): Common[] {
  const said = lines.map((line) => {
    const colon = outside(line.text, ':')
    const [name = '', dbName] = called(colon < 0 ? line.text : line.text.slice(0, colon))
    return { line, name, dbName, colon }
  })
  const old = matched(said, Object.values(reading.base.commons), () => 0)
  const made = said.map((one, rank): Common => {
    const { line, name, dbName, colon } = one
    const says = saysOf(colon < 0 ? '' : line.text.slice(colon + 1), { ...reading.known, entity: () => undefined })
    reading.odd(says, line, colon + 1)
    const guess = colon < 0 || line.text.slice(colon + 1).trim() === '' ? KEPT_BY_NAME[name.toLowerCase()] : undefined
    const kept = says.kept ?? guess
    const common = newCommon(reading.base, name, {
      ...(old.has(one) ? { id: old.get(one)?.id } : {}),
      type: says.type ?? (kept?.endsWith('by') ? { kind: 'text', length: 128 } : guessedType(name)),
      required: says.required || guess?.endsWith('at') === true,
      rank: rank + 1,
      ...(kept === undefined ? {} : { kept }),
      ...(dbName === undefined ? {} : { dbName }),
      ...valuesOf(says)
    } as Partial<Common>)
    reading.lines.set(common.id, line.number)
    return common
  })
  // Ranks stay where they say the same order.
  const ranked = made.map((one) => ({ ...one, rank: reading.base.commons[one.id]?.rank ?? Infinity }))
  const isSame = ranked.every((one, i) => {
    const above = ranked[i - 1]
    return one.rank < Infinity && (!above || above.rank < one.rank || (above.rank === one.rank && above.id < one.id))
  })
  return isSame ? ranked : made
}

/** Views are no entities, and no two have one name. */
function onceEach(reading: Reading, blocks: readonly ViewBlock[]): ViewBlock[] {
  const seen = new Set<string>()
  return blocks.filter(({ name, line }) => {
    const key = name.toLowerCase()
    const twice = seen.has(key) || reading.domains.has(key) || reading.shells.has(key)
    if (twice) reading.say('jot-twice', line, 0, `There is something called “${name}” already.`)
    seen.add(key)
    return !twice
  })
}

/** The text with the queries of views in the names that all has now. */
function withViews(text: string, views: readonly { line: Line; view: View }[], design: Design): string {
  if (views.length === 0) return text
  const rows = text.split('\n')
  const tops = linesOf(text).map(({ number }) => number)
  for (const { line, view } of [...views].sort((a, b) => b.line.number - a.line.number)) {
    const now = printView(design, view).split('\n').slice(1)
    const next = tops.find((number) => number > line.number) ?? rows.length + 1
    let end = next - 1
    while (end > line.number && (rows[end - 1] ?? '').trim() === '') end--
    const own = rows.slice(line.number, end)
    if (own.map((row) => row.trim()).join('\n') !== now.map((row) => row.trim()).join('\n'))
      rows.splice(line.number, own.length, ...now)
  }
  return rows.join('\n')
}

/** Everything put together: lists and conditions once all that they name is there. */
function finish(
  reading: Reading,
  drafts: readonly Draft[],
  areas: readonly string[],
  commons: readonly Common[],
  settings: { readonly [K in keyof Settings]?: Settings[K] | undefined },
  viewBlocks: readonly ViewBlock[]
): JotRead {
  const { base } = reading
  const areaIds = new Map(Object.values(base.areas).map(({ id, name }) => [name, id]))
  const newAreas = [...new Set([...areas])].map((name, i) => {
    const old = base.areas[areaIds.get(name) ?? '']
    return old ?? { id: newId('are'), name, tint: (Object.keys(base.areas).length + i) % 6 }
  })
  const areaOf = new Map(newAreas.map(({ id, name }) => [name, id]))
  const entities = drafts.map(({ entity, block }): Entity => {
    const area = block.area === undefined ? undefined : areaOf.get(block.area)
    return area === undefined ? entity : { ...entity, area }
  })
  const links = drafts.flatMap((draft) => draft.links)
  let next: Design = {
    ...base,
    settings: Object.fromEntries(
      Object.entries({ ...base.settings, ...settings }).filter(([, value]) => value !== undefined)
    ) as Settings,
    areas: byId(newAreas),
    domains: byId([...reading.domains.values()]),
    commons: byId(commons),
    entities: byId(entities),
    links: byId(links),
    subtypes: byId(groups(reading, drafts))
  }
  const listed = drafts.map((draft, i) => listsOf(reading, draft, entities[i] ?? draft.entity, next))
  next = { ...next, entities: byId(listed) }
  const says = new Map(drafts.flatMap(({ rows }) => rows.map((row) => [row.id, row.says] as const)))
  next = { ...next, links: byId(links.map((link) => withParentKey(reading, link, says.get(link.id), drafts, next))) }
  const whole = drafts.map((draft, i) => conditionsOf(reading, draft, listed[i] ?? draft.entity, next))
  next = { ...next, entities: byId(whole) }
  const { views, stale } = readViews(reading, viewBlocks, next, areaOf)
  next = { ...next, views: byId(views) }
  const edit = leading(base, next)
  const editing = new Editing(base)
  editing.edit(edit)
  const design = editing.done()
  // What a line stood for may have gone with what it led to.
  for (const { id } of links) if (!design.links[id]) reading.lines.delete(id)
  return {
    design,
    edit,
    notices: reading.notices,
    lines: reading.lines,
    text: withViews(withNewNames(reading, drafts, design), stale, design)
  }
}

function groups(reading: Reading, drafts: readonly Draft[]): Subtypes[] {
  const groups = new Map<string, Subtypes>()
  for (const { block, entity } of drafts) {
    if (!block.kindOf) continue
    const { supertype, discriminator, complete, exclusive } = block.kindOf
    const parent = reading.known.entity(supertype)
    if (!parent || parent.id === entity.id) {
      reading.say('jot-unknown', block.line, 0, `There is no entity “${supertype}” that ${block.name} could be one of.`)
      continue
    }
    const old =
      Object.values(reading.base.subtypes).find(
        (group) => group.subtypes.includes(entity.id) && group.supertype === parent.id
      ) ??
      Object.values(reading.base.subtypes).find(
        (group) =>
          group.supertype === parent.id && (discriminator === undefined || group.discriminator === discriminator)
      )
    const called = discriminator ?? old?.discriminator ?? 'kind'
    const key = JSON.stringify([parent.id, called])
    const group = groups.get(key)
    if (group) groups.set(key, { ...group, subtypes: [...group.subtypes, entity.id] })
    else {
      const id = old && ![...groups.values()].some((other) => other.id === old.id) ? old.id : newId('sub')
      groups.set(key, {
        ...(old?.id === id ? old : {}),
        id,
        supertype: parent.id,
        subtypes: [entity.id],
        discriminator: called,
        complete,
        exclusive
      })
    }
  }
  // In the order that they had, as far as they were there.
  return [...groups.values()].map((group) => {
    const old = reading.base.subtypes[group.id]?.subtypes ?? []
    const rank = (id: string) => (old.includes(id) ? old.indexOf(id) : old.length + group.subtypes.indexOf(id))
    return { ...group, subtypes: [...group.subtypes].sort((a, b) => rank(a) - rank(b)) }
  })
}

const KEPT_BY_NAME: Readonly<Record<string, NonNullable<Common['kept']>>> = {
  'created at': 'made at',
  'made at': 'made at',
  'updated at': 'changed at',
  'changed at': 'changed at',
  'created by': 'made by',
  'made by': 'made by',
  'updated by': 'changed by',
  'changed by': 'changed by'
}

const inPrintedOrder = ({ entities, areas }: Design): Entity[] => {
  const placed = Object.values(entities).map((entity) => {
    const { area, namespace = '', name } = entity
    return { entity, place: JSON.stringify([areas[area ?? '']?.name ?? '', namespace, name]) }
  })
  return placed.sort((a, b) => (a.place < b.place ? -1 : 1)).map(({ entity }) => entity)
}
