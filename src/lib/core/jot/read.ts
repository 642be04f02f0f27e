// A text as a design. What the text cannot say is as the design before has it; a line that is not understood leaves what it speaks
// of as it was, and all the rest is read.
import { sameValue } from '../catalog'
import {
  Editing,
  linksAt,
  newCommon,
  newDomain,
  newEntity,
  newId,
  newLink,
  rowIds,
  type Attribute,
  type Common,
  type Design,
  type Domain,
  type Edit,
  type Entity,
  type Link,
  type Settings,
  type Subtypes
} from '../design'
import type { Notice } from '../notice'
import { guessedType } from './guess'
import { linesOf, type Line } from './lines'
import { matched } from './match'
import { escaped, nameAmong, nameBefore, onOneLine, readCondition } from './names'
import { inner, listed, outside, piecesOf, unquoted } from './pieces'
import { columnNames, rowNames } from './print'
import { saysOf, type Known, type Says } from './says'

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
 * what it stood for before stays.
 */
export function readJot(text: string, base: Design): JotRead {
  return new Reading(text, base).read()
}

interface Block {
  readonly line: Line
  readonly name: string
  readonly dbName?: string
  readonly area?: string
  readonly namespace?: string
  readonly kindOf?: {
    readonly supertype: string
    readonly discriminator?: string
    readonly complete: boolean
    readonly exclusive: boolean
  }
}

type Row =
  | { readonly kind: 'attribute'; readonly id: string; readonly says: Says }
  | { readonly kind: 'link'; readonly id: string; readonly says: Says }

/** What an entity's lines say, before its lists have the ids of what they name. */
interface Draft {
  readonly block: Block
  readonly entity: Entity
  readonly rows: readonly Row[]
  readonly links: readonly Link[]
  readonly clauses: readonly Line[]
}

class Reading {
  private readonly notices: Notice[] = []
  private readonly lines = new Map<string, number>()
  private readonly said = new Map<string, Says>()
  private readonly domains = new Map<string, Domain>()
  private readonly shells = new Map<string, Entity>()
  private readonly before = new Map<string, Entity>()
  private readonly known: Known = {
    // What has got another name in this text is still known by the one before, where other lines have that.
    entity: (name) => this.shells.get(name.toLowerCase()) ?? this.before.get(name.toLowerCase()),
    domain: (name) => this.domains.get(name.toLowerCase())
  }

  constructor(
    private readonly text: string,
    private readonly base: Design
  ) {}

  read(): JotRead {
    const top = linesOf(this.text)
    const blocks: Block[] = []
    const domainLines: Line[] = []
    const commonLines: Line[] = []
    const areas: string[] = []
    const lost: Line[] = []
    const settings: { -readonly [K in keyof Settings]?: Settings[K] | undefined } = {
      identifier: 'integer',
      tablePrefix: '',
      tables: undefined,
      letters: undefined
    }
    let [area, namespace]: [string | undefined, string | undefined] = [undefined, undefined]
    for (const line of top) {
      const [, word = '', rest = ''] = /^(\S+)\s*([\s\S]*)$/.exec(line.text) ?? []
      switch (word.toLowerCase()) {
        case 'jot':
          if (rest.trim() !== '1') this.say('jot-version', line, 0, `This reads jot 1, and not “${rest.trim()}”.`)
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
        case 'every':
          this.every(line, rest, settings, commonLines)
          break
        case 'entity':
        case 'subtype': {
          const place = { ...(area ? { area } : {}), ...(namespace ? { namespace } : {}) }
          const block = word.toLowerCase() === 'entity' ? entityOf(line, rest) : subtypeOf(line, rest)
          if (block) blocks.push({ ...block, ...place })
          else this.say('jot-line', line, 0, 'A subtype says of what it is one: subtype Tug of Vessel.')
          break
        }
        default:
          this.say(
            'jot-line',
            line,
            0,
            `“${word}” opens nothing: a line in the first column begins with entity, subtype, domain, every, area or namespace.`
          )
          lost.push(line)
      }
    }
    this.readDomains(domainLines)
    // Its beginning is not understood: what it spoke of is still what the lines in it say.
    for (const line of lost) {
      const words = ` ${line.text.toLowerCase()} `
      const spoken = Object.values(this.base.entities).find(
        ({ name }) =>
          words.includes(` ${name.toLowerCase()} `) &&
          !blocks.some((block) => block.name.toLowerCase() === name.toLowerCase())
      )
      if (!spoken) continue
      const { name, dbName, namespace: schema, area: where } = spoken
      const home = this.base.areas[where ?? '']?.name
      blocks.push({
        line,
        name,
        ...(dbName === undefined ? {} : { dbName }),
        ...(schema === undefined ? {} : { namespace: schema }),
        ...(home === undefined ? {} : { area: home }),
        ...this.kindBefore(spoken)
      })
    }
    const once = this.withoutDoubles(blocks)
    this.shell(once)
    const drafts = once.map((block) => this.draft(block))
    return this.finish(drafts, areas, this.commons(commonLines), settings)
  }

  /** What stands behind a colon: many lines say the same. */
  private says(tail: string): Says {
    const before = this.said.get(tail)
    if (before) return before
    const says = saysOf(tail, this.known)
    this.said.set(tail, says)
    return says
  }

  private kindBefore(entity: Entity): Pick<Block, 'kindOf'> {
    const group = Object.values(this.base.subtypes).find(({ subtypes }) => subtypes.includes(entity.id))
    const parent = group && this.base.entities[group.supertype]
    if (!group || !parent) return {}
    const { discriminator, complete, exclusive } = group
    return { kindOf: { supertype: parent.name, discriminator, complete, exclusive } }
  }

  private say(code: string, line: Line, at: number, message: string, severity: Notice['severity'] = 'error') {
    const before = this.text.slice(0, line.at + at)
    const column = before.length - (before.lastIndexOf('\n') + 1) + 1
    const number = before.split('\n').length
    this.notices.push({ code, severity, message, where: `${number}:${column}` })
  }

  /** `every …`: what is said once for the whole design. */
  private every(
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
      this.say(
        'jot-word',
        line,
        0,
        'Every what? Say: every table begins th_, every table is called by many, every name is in camel letters, every key is big, every entity has created at.'
      )
  }

  private readDomains(lines: readonly Line[]) {
    const said = lines.flatMap((line) => {
      const colon = outside(line.text, ':')
      const name = unquoted(line.text.slice('domain'.length, colon < 0 ? undefined : colon))
      if (colon < 0 || name === '') {
        this.say('jot-line', line, 0, 'A domain has a name and a type: domain Money: decimal(12,2).')
        return []
      }
      return [{ line, name, colon }]
    })
    const old = matched(said, Object.values(this.base.domains), () => 0)
    for (const one of said) {
      const { line, name, colon } = one
      if (this.domains.has(name.toLowerCase())) {
        this.say('jot-twice', line, 0, `There is a domain “${name}” already.`)
        continue
      }
      const before = old.get(one)
      const says = saysOf(line.text.slice(colon + 1), { entity: () => undefined, domain: () => undefined })
      this.odd(says, line, colon + 1)
      const type = says.type ?? before?.type
      if (type === undefined) this.say('jot-word', line, colon + 1, `Say the type of ${name}.`)
      const domain = newDomain(name, {
        ...(before ? { id: before.id } : {}),
        type: type ?? guessedType(name),
        ...valuesOf(says),
        ...(says.check === undefined
          ? {}
          : { rule: before?.rule !== undefined && onOneLine(before.rule) === says.check ? before.rule : says.check })
      })
      this.domains.set(name.toLowerCase(), domain)
      this.lines.set(domain.id, line.number)
    }
  }

  private odd(says: Says, line: Line, from: number) {
    for (const { at, why } of says.odd) this.say('jot-word', line, from + at, why)
  }

  private withoutDoubles(blocks: readonly Block[]): Block[] {
    const seen = new Set<string>()
    return blocks.filter(({ name, line }) => {
      const key = name.toLowerCase()
      const twice = seen.has(key) || this.domains.has(key)
      if (twice) this.say('jot-twice', line, 0, `There is a domain or an entity “${name}” already.`)
      seen.add(key)
      return !twice && name !== ''
    })
  }

  private shell(blocks: readonly Block[]) {
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
    const old = matched(blocks, inPrintedOrder(this.base), alike)
    for (const block of blocks) {
      const before = old.get(block)
      const entity = before ? { ...before, name: block.name } : newEntity(block.name)
      this.shells.set(block.name.toLowerCase(), entity)
      this.lines.set(entity.id, block.line.number)
      if (before && before.name !== block.name) this.before.set(before.name.toLowerCase(), entity)
    }
  }

  private commons(lines: readonly Line[]): Common[] {
    const said = lines.map((line) => {
      const colon = outside(line.text, ':')
      const [name = '', dbName] = called(colon < 0 ? line.text : line.text.slice(0, colon))
      return { line, name, dbName, colon }
    })
    const old = matched(said, Object.values(this.base.commons), () => 0)
    const made = said.map((one, rank): Common => {
      const { line, name, dbName, colon } = one
      const says = saysOf(colon < 0 ? '' : line.text.slice(colon + 1), { ...this.known, entity: () => undefined })
      this.odd(says, line, colon + 1)
      const guess = colon < 0 || line.text.slice(colon + 1).trim() === '' ? KEPT_BY_NAME[name.toLowerCase()] : undefined
      const kept = says.kept ?? guess
      const common = newCommon(this.base, name, {
        ...(old.has(one) ? { id: old.get(one)?.id } : {}),
        type: says.type ?? (kept?.endsWith('by') ? { kind: 'text', length: 128 } : guessedType(name)),
        required: says.required || guess?.endsWith('at') === true,
        rank: rank + 1,
        ...(kept === undefined ? {} : { kept }),
        ...(dbName === undefined ? {} : { dbName }),
        ...valuesOf(says)
      } as Partial<Common>)
      this.lines.set(common.id, line.number)
      return common
    })
    // Ranks stay where they say the same order.
    const ranked = made.map((one) => ({ ...one, rank: this.base.commons[one.id]?.rank ?? Infinity }))
    const isSame = ranked.every((one, i) => {
      const above = ranked[i - 1]
      return one.rank < Infinity && (!above || above.rank < one.rank || (above.rank === one.rank && above.id < one.id))
    })
    return isSame ? ranked : made
  }

  private draft(block: Block): Draft {
    const shell = this.shells.get(block.name.toLowerCase()) ?? newEntity(block.name)
    const before = this.base.entities[shell.id]
    const rowLines: {
      line: Line
      name: string
      dbName: string | undefined
      tail: string
      from: number
      part: boolean
      broken?: true
    }[] = []
    const clauses: Line[] = []
    let means: string | undefined
    for (const line of this.flat(block)) {
      const { text } = line
      const colon = outside(text, ':')
      const part = /^part\s+of\s+/i.exec(text)
      if (/^means(\s|$)/i.test(text) && !/^means\s*:/i.test(text)) means = unquotedMeaning(text.slice(5))
      else if (part && this.partOf(text.slice(part[0].length)))
        rowLines.push({
          line,
          name: '',
          dbName: undefined,
          tail: text.slice(part[0].length),
          from: part[0].length,
          part: true
        })
      else if (
        /^(check|index|unique|key)\s*\(/i.test(text) ||
        /^key\s+is\s/i.test(text) ||
        (/^no\s/i.test(text) && colon < 0)
      )
        clauses.push(line)
      else if (colon >= 0) {
        const [name = '', dbName] = called(text.slice(0, colon))
        rowLines.push({ line, name, dbName, tail: text.slice(colon + 1), from: colon + 1, part: false })
      } else {
        // A bare name, with words of its own behind it.
        const bare = /^(.*?)((?:\s+(?:required|unique|key|index))*)$/i.exec(text)
        const [, name = '', words = ''] = bare ?? []
        if (name.trim() === '' || /[(),=]/.test(name)) {
          this.say(
            'jot-line',
            line,
            0,
            `“${text}” is no column and says nothing of ${block.name}: a column is written name: type.`
          )
          rowLines.push({ line, name: text, dbName: undefined, tail: '', from: 0, part: false, broken: true })
          continue
        }
        rowLines.push({ line, name: unquoted(name), dbName: undefined, tail: words, from: name.length, part: false })
      }
    }
    const attributes = this.attributesOf(rowLines, before)
    return this.rowsOf(block, shell, before, rowLines, attributes, clauses, means)
  }

  /** The lines of an entity; what stands further in than it could is of it, too. */
  private flat(block: Block): Line[] {
    const all = (line: Line): Line[] => [
      line,
      ...line.inside.flatMap((deeper) => {
        this.say(
          'jot-indent',
          deeper,
          0,
          `Nothing can stand in this line: it is taken for a line of ${block.name}.`,
          'warning'
        )
        return all(deeper)
      })
    ]
    return block.line.inside.flatMap(all)
  }

  /** An entity that something is a part of, by what stands behind those words. */
  private partOf(
    text: string
  ): { entity: Entity; says: Says; role: string | undefined; dbName: string | undefined } | undefined {
    const comma = outside(text, ',')
    const first = comma < 0 ? text : text.slice(0, comma)
    const [named = '', dbName] = called(first)
    const [, target = named, role] = /^([\s\S]*?)\s+as\s+([\s\S]+)$/i.exec(rawName(first)) ?? [
      undefined,
      rawName(first)
    ]
    const says = saysOf(comma < 0 ? '' : text.slice(comma), { entity: () => undefined, domain: () => undefined })
    const [, one, plain = target] = /^(one\s+)?([\s\S]+)$/i.exec(target) ?? []
    const entity = this.known.entity(unquoted(target)) ?? this.known.entity(unquoted(plain))
    if (!entity) return undefined
    const isOne = one !== undefined && this.known.entity(unquoted(target)) === undefined
    return {
      entity,
      says: { ...says, link: isOne ? 'one-to-one' : 'one-to-many' },
      role: role === undefined ? undefined : unquoted(role),
      dbName
    }
  }

  private attributesOf(
    lines: readonly { readonly name: string; readonly tail: string; readonly part: boolean; readonly broken?: true }[],
    before: Entity | undefined
  ): Map<object, Attribute> {
    const plain = lines.filter(({ tail, part }) => !part && this.says(tail).entity === undefined)
    return matched(plain, before?.attributes ?? [], (line, attribute) => {
      const [now, was] = [line.name.toLowerCase(), attribute.name.toLowerCase()]
      // One is typed letter by letter, and by now this far; what is no line yet may be any.
      if (now.startsWith(was) || was.startsWith(now)) return 0.9
      if (line.broken) return now.includes(was) ? 0.9 : 0.5
      const { type } = this.says(line.tail)
      return type !== undefined && sameValue(type, attribute.type) ? 0.6 : 0
    })
  }

  private rowsOf(
    block: Block,
    shell: Entity,
    before: Entity | undefined,
    lines: readonly {
      line: Line
      name: string
      dbName: string | undefined
      tail: string
      from: number
      part: boolean
      broken?: true
    }[],
    known: ReadonlyMap<object, Attribute>,
    clauses: readonly Line[],
    means: string | undefined
  ): Draft {
    const attributes: Attribute[] = []
    const links: Link[] = []
    const rows: Row[] = []
    const oldLinks = before ? linksAt(this.base, before.id).filter(({ child }) => child === before.id) : []
    const takenLinks = new Set<string>()
    const oldLink = (parent: Entity, role: string | undefined, identifying: boolean): Link | undefined => {
      const free = oldLinks.filter(({ id }) => !takenLinks.has(id))
      const same = free.filter((link) => link.parent === parent.id)
      const found =
        same.find((link) => link.role === role && link.identifying === identifying) ??
        same.find((link) => link.role === role) ??
        (same.length === 1 ? same[0] : undefined) ??
        free.find((link) => role !== undefined && link.role === role)
      if (found) takenLinks.add(found.id)
      return found
    }
    const seen = new Set<string>()
    for (const one of lines) {
      const { line, name, dbName, tail, from, part } = one
      if (one.broken) {
        const row = this.asItWas(before, known.get(one), oldLinks, takenLinks, name)
        if (row?.kind === 'attribute') attributes.push(row.attribute)
        if (row?.kind === 'link') links.push(row.link)
        if (row) {
          rows.push({ kind: row.kind, id: row.id, says: row.says })
          this.lines.set(row.id, line.number)
        }
        continue
      }
      const asPart = part ? this.partOf(tail) : undefined
      const says = asPart?.says ?? this.says(tail)
      const parent = asPart?.entity ?? says.entity
      this.odd(says, line, from)
      const own = name.toLowerCase()
      // Links may be called alike: their foreign keys are not.
      if (!part && seen.has(own) && !parent) {
        this.say('jot-twice', line, 0, `${block.name} has a column “${name}” already.`)
        continue
      }
      seen.add(own)
      if (parent) {
        const role = part ? asPart?.role : own === parent.name.toLowerCase() ? undefined : name
        const old = oldLink(parent, role, part)
        const link = this.linkOf(shell, parent, says, {
          role,
          identifying: part,
          dbName: asPart?.dbName ?? dbName,
          old
        })
        links.push(link)
        this.lines.set(link.id, line.number)
        rows.push({ kind: 'link', id: link.id, says })
        continue
      }
      const old = known.get(one)
      const failed = says.odd.length > 0
      const type =
        says.type ?? (failed ? old?.type : undefined) ?? (tail.trim() === '' || !failed ? guessedType(name) : undefined)
      const attribute: Attribute = {
        id: old?.id ?? newId('att'),
        name,
        type: type ?? guessedType(name),
        // What is in the key is always there, whatever else is said of it.
        required: says.required || (says.key && (!old || !before?.primaryKey.includes(old.id) || old.required)),
        ...(dbName === undefined ? {} : { dbName }),
        ...(says.domain ? followed(says.domain) : {}),
        ...valuesOf(says)
      }
      attributes.push(attribute)
      this.lines.set(attribute.id, line.number)
      rows.push({ kind: 'attribute', id: attribute.id, says })
    }
    const entity: Entity = {
      id: shell.id,
      name: block.name,
      ...(block.dbName === undefined ? {} : { dbName: block.dbName }),
      ...(block.namespace === undefined ? {} : { namespace: block.namespace }),
      ...(means === undefined ? {} : { means }),
      // Where a column stands is said by the order alone.
      attributes: inOldOrder(attributes, before?.attributes),
      order: this.orderOf(
        before,
        rows.flatMap(({ id }) => (links.some((l) => l.id === id && l.kind === 'many-to-many') ? [] : [id]))
      ),
      primaryKey: rows.flatMap(({ id, says }) =>
        says.key || links.some((link) => link.id === id && link.identifying) ? [id] : []
      ),
      uniques: [],
      indexes: [],
      rules: []
    }
    return { block, entity, rows, links, clauses }
  }

  /** What a line that is not understood stood for before. */
  private asItWas(
    before: Entity | undefined,
    attribute: Attribute | undefined,
    links: readonly Link[],
    taken: Set<string>,
    text: string
  ) {
    if (!before) return undefined
    const words = text.toLowerCase()
    const link = links.find(
      ({ id, role, parent }) =>
        !taken.has(id) && words.includes((role ?? this.base.entities[parent]?.name ?? '?').toLowerCase())
    )
    const id = attribute?.id ?? link?.id
    if (id === undefined) return undefined
    const says: Says = {
      ...this.says(''),
      key: attribute !== undefined && before.primaryKey.includes(id),
      unique: before.uniques.some(({ name, parts }) => name === undefined && sameValue(parts, [id])),
      index: before.indexes.some(
        ({ name, unique, where, parts }) =>
          name === undefined &&
          !unique &&
          where === undefined &&
          parts.length === 1 &&
          parts[0]?.id === id &&
          !parts[0].descending
      )
    }
    if (attribute) return { kind: 'attribute' as const, id, says, attribute }
    if (!link) return undefined
    taken.add(id)
    return { kind: 'link' as const, id, says, link }
  }

  /** As it was where it says the same. */
  private orderOf(before: Entity | undefined, order: string[]): string[] {
    return before && rowIds(this.base, before).join() === order.join() ? before.order : order
  }

  private linkOf(
    child: Entity,
    parent: Entity,
    says: Says,
    more: { role: string | undefined; identifying: boolean; dbName: string | undefined; old: Link | undefined }
  ): Link {
    const { role, identifying, dbName, old } = more
    const fresh = newLink(this.base, parent, child)
    const { role: _role, dbName: _dbName, means: _means, parentKey: _key, drawnOnly: _drawn, ...kept } = old ?? fresh
    // What it holds of the parent's key in columns of its own is so only while it leads there.
    const same = old?.parent === parent.id
    return {
      ...kept,
      columns: same ? kept.columns : {},
      parent: parent.id,
      child: child.id,
      kind: says.link,
      identifying: identifying && says.link !== 'many-to-many',
      // Neither side of many-to-many must be there.
      parentRequired: says.link === 'many-to-many' ? kept.parentRequired : says.required || identifying,
      childRequired: says.childRequired,
      onDelete: says.onDelete ?? 'restrict',
      onUpdate: says.onUpdate ?? 'no action',
      ...(role === undefined ? {} : { role }),
      ...(dbName === undefined ? {} : { dbName }),
      ...(says.means === undefined ? {} : { means: says.means }),
      ...(says.drawnOnly ? { drawnOnly: true } : {})
    }
  }

  /** Everything put together: lists and conditions once all that they name is there. */
  private finish(
    drafts: readonly Draft[],
    areas: readonly string[],
    commons: readonly Common[],
    settings: { readonly [K in keyof Settings]?: Settings[K] | undefined }
  ): JotRead {
    const { base } = this
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
      domains: byId([...this.domains.values()]),
      commons: byId(commons),
      entities: byId(entities),
      links: byId(links),
      subtypes: byId(this.groups(drafts))
    }
    const listed = drafts.map((draft, i) => this.listsOf(draft, entities[i] ?? draft.entity, next))
    next = { ...next, entities: byId(listed) }
    const says = new Map(drafts.flatMap(({ rows }) => rows.map((row) => [row.id, row.says] as const)))
    next = { ...next, links: byId(links.map((link) => this.withParentKey(link, says.get(link.id), drafts, next))) }
    const whole = drafts.map((draft, i) => this.conditionsOf(draft, listed[i] ?? draft.entity, next))
    next = { ...next, entities: byId(whole) }
    const edit = leading(base, next)
    const editing = new Editing(base)
    editing.edit(edit)
    return {
      design: editing.done(),
      edit,
      notices: this.notices,
      lines: this.lines,
      text: this.withNewNames(drafts)
    }
  }

  /** What has got another name has it in all lines that speak of it. */
  private withNewNames(drafts: readonly Draft[]): string {
    const names = new Map(drafts.map(({ entity }) => [entity.id, entity.name]))
    const fixes: { line: number; from: string; to: string }[] = []
    for (const { block, entity, links, clauses } of drafts) {
      const was = this.base.entities[entity.id]
      for (const { id, parent } of links) {
        const [old, now] = [this.base.entities[parent]?.name, names.get(parent)]
        const line = this.lines.get(id)
        if (old !== undefined && now !== undefined && old !== now && line)
          fixes.push({ line, from: old, to: nameAmong(now) })
      }
      const supertype = block.kindOf && this.before.get(block.kindOf.supertype.toLowerCase())
      if (supertype && block.kindOf)
        fixes.push({ line: block.line.number, from: block.kindOf.supertype, to: nameAmong(supertype.name) })
      for (const { id, name } of entity.attributes) {
        const old = was?.attributes.find((one) => one.id === id)?.name
        if (old === undefined || old === name || entity.attributes.some((one) => one.name === old)) continue
        for (const { number } of clauses) fixes.push({ line: number, from: old, to: nameBefore(name) })
      }
    }
    if (fixes.length === 0) return this.text
    const rows = this.text.split('\n')
    for (const { line, from, to } of fixes) {
      const row = rows[line - 1] ?? ''
      // Not what stands before a colon, nor what something means.
      const start = Math.max(0, outside(row, ':'))
      const end = /\smeans\s/.exec(row)?.index ?? row.length
      const word = new RegExp(`"${escaped(from)}"|(?<![\\p{L}\\p{N}_])${escaped(from)}(?![\\p{L}\\p{N}_])`, 'giu')
      rows[line - 1] = row.slice(0, start) + row.slice(start, end).replace(word, () => to) + row.slice(end)
    }
    return rows.join('\n')
  }

  private groups(drafts: readonly Draft[]): Subtypes[] {
    const groups = new Map<string, Subtypes>()
    for (const { block, entity } of drafts) {
      if (!block.kindOf) continue
      const { supertype, discriminator, complete, exclusive } = block.kindOf
      const parent = this.known.entity(supertype)
      if (!parent || parent.id === entity.id) {
        this.say('jot-unknown', block.line, 0, `There is no entity “${supertype}” that ${block.name} could be one of.`)
        continue
      }
      const old =
        Object.values(this.base.subtypes).find(
          (group) => group.subtypes.includes(entity.id) && group.supertype === parent.id
        ) ??
        Object.values(this.base.subtypes).find(
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
      const old = this.base.subtypes[group.id]?.subtypes ?? []
      const rank = (id: string) => (old.includes(id) ? old.indexOf(id) : old.length + group.subtypes.indexOf(id))
      return { ...group, subtypes: [...group.subtypes].sort((a, b) => rank(a) - rank(b)) }
    })
  }

  /** Keys, unique columns and indexes, and what the entity does without. */
  private listsOf(draft: Draft, entity: Entity, design: Design): Entity {
    const before = this.base.entities[entity.id]
    const names = this.rowsByName(design, entity)
    const uniques: Entity['uniques'] = []
    const indexes: Entity['indexes'] = []
    let { primaryKey } = entity
    let keyName: string | undefined
    let identifier: Entity['identifier']
    const without: string[] = []
    const addUnique = (parts: string[], name: string | undefined) =>
      uniques.push({
        ...idOf(before?.uniques, uniques, 'key', parts, name, (key) => key.parts),
        parts,
        ...(name === undefined ? {} : { name })
      })
    const addIndex = (parts: Entity['indexes'][number]['parts'], unique: boolean, name: string | undefined) => {
      const ids = parts.map(({ id }) => id)
      const same = (index: Entity['indexes'][number]) => index.parts.map(({ id }) => id)
      indexes.push({
        ...idOf(before?.indexes, indexes, 'idx', ids, name, same),
        unique,
        parts,
        ...(name === undefined ? {} : { name })
      })
    }
    for (const { id, says } of draft.rows) {
      if (says.unique) addUnique([id], undefined)
      if (says.index) addIndex([{ id, descending: false }], false, undefined)
    }
    for (const line of draft.clauses) {
      const { text } = line
      const list = (group: string, ordered: boolean) => this.parts(line, inner(group), names, ordered, entity.name)
      const [first, group, ...rest] = piecesOf(text)
      const word = first?.text.toLowerCase()
      const [, named] = called(text.slice((group?.at ?? 0) + (group?.text.length ?? 0)))
      if (word === 'no') {
        const name = unquoted(text.slice(3))
        const common = Object.values(design.commons).find((one) => one.name.toLowerCase() === name.toLowerCase())
        if (common) without.push(common.id)
        else
          this.say('jot-unknown', line, 3, `No entity has a column “${name}” by itself: every entity has … says which.`)
      } else if (word === 'key' && group?.kind === 'group') {
        const parts = list(group.text, false)
        if (!parts) continue
        primaryKey = parts.map(({ id }) => id)
        keyName = named
      } else if (word === 'key') identifier = this.identifier(line)
      else if (word === 'unique' && group) {
        const parts = list(group.text, false)
        if (parts)
          addUnique(
            parts.map(({ id }) => id),
            named
          )
      } else if (word === 'index' && group) {
        const parts = list(group.text, true)
        if (parts)
          addIndex(
            parts,
            rest.some((piece) => piece.text.toLowerCase() === 'unique'),
            named
          )
      }
    }
    const required = new Set(primaryKey)
    return {
      ...entity,
      attributes: entity.attributes.map((one) =>
        required.has(one.id) && !one.required && !before?.primaryKey.includes(one.id) ? { ...one, required: true } : one
      ),
      primaryKey,
      uniques: inOldOrder(uniques, before?.uniques),
      indexes: inOldOrder(indexes, before?.indexes),
      ...(keyName === undefined ? {} : { keyName }),
      ...(identifier === undefined ? {} : { identifier }),
      ...(without.length > 0 ? { without } : {})
    }
  }

  private identifier(line: Line): Entity['identifier'] {
    const [head = '', ...words] = listed(line.text.replace(/^key\s+is\s+/i, ''))
    const [name = '', dbName] = called(head)
    const said: { -readonly [K in keyof NonNullable<Entity['identifier']>]: NonNullable<Entity['identifier']>[K] } = {
      ...(name === 'id' ? {} : { name }),
      ...(dbName === undefined ? {} : { dbName })
    }
    for (const word of words) {
      const [, which, n] = /^(from|step)\s+(-?\d+)$/i.exec(word) ?? []
      if (/^(small|integer|big|uuid)$/i.test(word)) said.kind = word.toLowerCase() as 'big'
      else if (which) said[which.toLowerCase() === 'from' ? 'start' : 'step'] = Number(n)
      else this.say('jot-word', line, 0, `“${word}” says nothing of a key: small, integer, big, uuid, from 1, step 1.`)
    }
    return Object.keys(said).length > 0 ? said : undefined
  }

  private rowsByName(design: Design, entity: Entity): Map<string, string> {
    const before = this.base.entities[entity.id]
    return byNameOrBefore(rowNames(design, entity), before && rowNames(this.base, before))
  }

  private parts(line: Line, text: string, names: ReadonlyMap<string, string>, ordered: boolean, entity: string) {
    const parts: { id: string; descending: boolean }[] = []
    for (const part of listed(text)) {
      const whole = names.get(unquoted(part).toLowerCase())
      const [, name = part, down] =
        (ordered && whole === undefined && /^([\s\S]+?)\s+(desc|down|asc)$/i.exec(part)) || []
      const id = whole ?? names.get(unquoted(name).toLowerCase())
      if (id === undefined) {
        this.say('jot-unknown', line, line.text.indexOf(part), `${entity} has no column “${unquoted(name)}”.`)
        return undefined
      }
      parts.push({ id, descending: down !== undefined && !/^asc$/i.test(down) })
    }
    return parts
  }

  private withParentKey(link: Link, says: Says | undefined, drafts: readonly Draft[], design: Design): Link {
    const parent = design.entities[link.parent]
    if (says?.to === undefined || !parent) return link
    const names = new Map([...rowNames(design, parent)].map(([id, name]) => [name.toLowerCase(), id]))
    const ids = listed(says.to).map((name) => names.get(unquoted(name).toLowerCase()))
    const key = parent.uniques.find((one) => sameValue(one.parts, ids))
    if (key) return { ...link, parentKey: key.id }
    const line = drafts
      .flatMap(({ block }) => block.line.inside)
      .find(({ number }) => number === this.lines.get(link.id))
    if (line) this.say('jot-unknown', line, 0, `${parent.name} has nothing unique of (${says.to}).`)
    return link
  }

  /** Rules, and of which rows indexes are. */
  private conditionsOf(draft: Draft, entity: Entity, design: Design): Entity {
    const before = this.base.entities[entity.id]
    if (draft.clauses.length === 0) return entity
    const paths = before
      ? byNameOrBefore(columnNames(design, entity), columnNames(this.base, before))
      : byNameOrBefore(columnNames(design, entity))
    const rules: Entity['rules'] = []
    let { indexes } = entity
    for (const line of draft.clauses) {
      const pieces = piecesOf(line.text)
      const [first, group, ...rest] = pieces
      if (first?.text.toLowerCase() === 'check' && group) {
        const condition = readCondition(inner(group.text), paths)
        const [head, dbName] = called(line.text.slice(group.at + group.text.length))
        const name = head === undefined || head === '' ? undefined : head
        const old = before?.rules.filter(({ id }) => !rules.some((rule) => rule.id === id))
        const same =
          old?.find((rule) => onOneLine(rule.condition) === condition) ??
          old?.find((rule) => (dbName ?? name) !== undefined && rule.dbName === dbName && rule.name === name)
        rules.push({
          id: same?.id ?? newId('rul'),
          condition: same && onOneLine(same.condition) === condition ? same.condition : condition,
          ...(name === undefined ? {} : { name }),
          ...(dbName === undefined ? {} : { dbName })
        })
      } else if (first?.text.toLowerCase() === 'index' && group) {
        const at = rest.findIndex((piece) => piece.text.toLowerCase() === 'where')
        const where = at < 0 ? undefined : rest[at + 1]
        if (where?.kind !== 'group') continue
        const [, named] = called(line.text.slice(where.at + where.text.length))
        const names = this.rowsByName(design, entity)
        const ids = listed(inner(group.text)).map((part) =>
          names.get(unquoted(part.replace(/\s+(desc|down|asc)$/i, '')).toLowerCase())
        )
        const found = indexes.find(
          (index) =>
            index.where === undefined &&
            index.name === named &&
            sameValue(
              index.parts.map(({ id }) => id),
              ids
            )
        )
        const condition = readCondition(inner(where.text), paths)
        const old = before?.indexes.find(({ id }) => id === found?.id)?.where
        const kept = old !== undefined && onOneLine(old) === condition ? old : condition
        indexes = indexes.map((index) => (index === found ? { ...index, where: kept } : index))
      }
    }
    return { ...entity, indexes, rules: inOldOrder(rules, before?.rules) }
  }
}

/** Ids by names in small letters; by the names that they had, where nothing else has them. */
function byNameOrBefore(
  now: ReadonlyMap<string, string>,
  before: ReadonlyMap<string, string> = new Map()
): Map<string, string> {
  const ids = new Map([...now].map(([id, name]) => [name.toLowerCase(), id]))
  for (const [id, name] of before) {
    const key = name.toLowerCase()
    if (!ids.has(key) && now.has(id)) ids.set(key, id)
  }
  return ids
}

/** `name = database name`, each perhaps in quotes. */
function called(text: string): [string | undefined, string | undefined] {
  const at = outside(text, '=')
  const name = unquoted(at < 0 ? text : text.slice(0, at))
  const dbName = at < 0 ? undefined : unquoted(text.slice(at + 1))
  return [name, dbName === '' ? undefined : dbName]
}
const rawName = (text: string): string => {
  const at = outside(text, '=')
  return (at < 0 ? text : text.slice(0, at)).trim()
}

function entityOf(line: Line, rest: string): Block {
  const [name = '', dbName] = called(rest.replace(/:\s*$/, ''))
  return { line, name, ...(dbName === undefined ? {} : { dbName }) }
}

function subtypeOf(line: Line, rest: string): Block | undefined {
  const [, dbName] = called(rest)
  const words = /^(.+?)\s+of\s+(.+?)(?:\s+by\s+(.+?))?((?:\s*,?\s+(?:complete|exclusive))*)$/i.exec(rawName(rest))
  const [, name, supertype, discriminator, more = ''] = words ?? []
  if (name === undefined || supertype === undefined) return undefined
  return {
    line,
    name: unquoted(name),
    ...(dbName === undefined ? {} : { dbName }),
    kindOf: {
      supertype: unquoted(supertype),
      ...(discriminator === undefined ? {} : { discriminator: unquoted(discriminator) }),
      complete: /complete/i.test(more),
      exclusive: /exclusive/i.test(more)
    }
  }
}

const unquotedMeaning = (text: string): string => {
  const plain = text.trim()
  return /^"[\s\S]*"$/.test(plain) && plain.length > 1 ? plain.slice(1, -1).replaceAll('""', '"') : plain
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

const valuesOf = (says: Says) => ({
  ...(says.default === undefined ? {} : { default: says.default }),
  ...(says.min === undefined ? {} : { min: says.min }),
  ...(says.max === undefined ? {} : { max: says.max }),
  ...(says.letters === undefined ? {} : { letters: says.letters }),
  ...(says.means === undefined ? {} : { means: says.means })
})

/** What a column has of its domain. */
const followed = ({ id, type, default: preset, min, max, letters }: Domain) => ({
  domain: id,
  type,
  ...(preset === undefined ? {} : { default: preset }),
  ...(min === undefined ? {} : { min }),
  ...(max === undefined ? {} : { max }),
  ...(letters === undefined ? {} : { letters })
})

/** The id of the old one that it is: of the same columns, or of the same name. */
function idOf<T extends { readonly id: string; readonly name?: string | undefined }>(
  old: readonly T[] | undefined,
  taken: readonly { readonly id: string }[],
  kind: 'key' | 'idx',
  parts: readonly string[],
  name: string | undefined,
  partsOf: (one: T) => readonly string[]
): { id: string } {
  const free = (old ?? []).filter(({ id }) => !taken.some((other) => other.id === id))
  const same =
    free.find((one) => one.name === name && sameValue(partsOf(one), parts)) ??
    free.find((one) => name !== undefined && one.name === name) ??
    free.find((one) => sameValue(partsOf(one), parts))
  return { id: same?.id ?? newId(kind) }
}

/** Lists keep the order that they had: it is not said everywhere. */
function inOldOrder<T extends { readonly id: string }>(
  list: readonly T[],
  old: readonly { readonly id: string }[] | undefined
): T[] {
  const rank = new Map((old ?? []).map(({ id }, i) => [id, i]))
  return list
    .map((one, i) => ({ one, at: rank.get(one.id) ?? rank.size + i }))
    .sort((a, b) => a.at - b.at)
    .map(({ one }) => one)
}

const byId = <T extends { readonly id: string }>(list: readonly T[]): Record<string, T> =>
  Object.fromEntries(list.map((one) => [one.id, one]))

const inPrintedOrder = ({ entities, areas }: Design): Entity[] => {
  const place = ({ area, namespace = '', name }: Entity) =>
    JSON.stringify([areas[area ?? '']?.name ?? '', namespace, name])
  return Object.values(entities).sort((a, b) => (place(a) < place(b) ? -1 : 1))
}

/** What leads from one design to another: what goes, then what comes or is otherwise. */
function leading(from: Design, to: Design): Edit {
  const edits: Edit[] = []
  if (!sameValue(from.settings, to.settings)) edits.push({ kind: 'design.set', set: { settings: to.settings } })
  const collections = ['links', 'subtypes', 'entities', 'commons', 'domains', 'areas'] as const
  for (const collection of collections)
    for (const id of Object.keys(from[collection]))
      if (!to[collection][id]) edits.push({ kind: 'object.remove', collection, id })
  for (const collection of [...collections].reverse())
    for (const [id, object] of Object.entries(to[collection]))
      if (!sameValue(from[collection][id], object)) edits.push({ kind: 'object.set', collection, object } as Edit)
  // What an entity's links or domains have changed of it by themselves is as the text says it.
  for (const [id, object] of Object.entries(to.entities))
    if (!sameValue(from.entities[id], object)) edits.push({ kind: 'object.set', collection: 'entities', object })
  return { kind: 'all', edits }
}
