// ALTER TABLE: manual, of that name.
import {
  addressOf,
  memberAddress,
  members,
  tableAddress,
  type Address,
  type Column,
  type Key,
  type MemberKind,
  type Table
} from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'
import { presetOf, takeCollation, takeColumn, takeIdentity } from './columns'
import { BEGINS, takeConstraint, takeWhen, withConstraints, type Draft } from './constraints'
import { remove } from './drop'
import type { Reading } from './reading'
import { settingsIn, withSettings } from './settings'
import { asPart, takeBound } from './tables'
import { tableText } from './texts'
import { takeCounting, counted, type SaidCounting } from './sequences'
import { takeType } from './types'

const CONSTRAINTS: readonly MemberKind[] = ['primaryKey', 'unique', 'foreignKey', 'check', 'exclusion']

/** After ALTER TABLE and the table's name: each of its actions in turn. `alone`: of this table only. */
export function alterTable(cursor: Cursor, path: readonly string[], alone: boolean, reading: Reading): void {
  const parts = cursor.parts()
  for (const part of parts) {
    const isWhole = ['rename', 'attach', 'detach'].includes(part.word()) || part.is('set', 'schema')
    if (isWhole && parts.length > 1)
      throw new NotUnderstood(`“${part.word().toUpperCase()}” stands in a statement of its own.`)
    new Change(reading, path, part, alone).make()
    part.finish()
  }
}

class Change {
  constructor(
    private readonly reading: Reading,
    private readonly path: readonly string[],
    private readonly said: Cursor,
    /** ONLY: not those that inherit from it. */
    private readonly alone: boolean
  ) {}

  private get table(): Table {
    return this.reading.table(this.path)
  }

  private column(name: string): Column {
    const { table } = this
    const found = table.columns.find((column) => column.name === name)
    if (!found) throw new NotUnderstood(`${table.name} has no column ${name}.`)
    return found
  }

  private at = (kind: MemberKind, name: string): Address => addressOf(kind, this.table.schema, this.table.name, name)

  private constraint(name: string): Address | undefined {
    return CONSTRAINTS.map((kind) => this.at(kind, name)).find((address) => this.reading.standing.find(address))
  }

  private options(set: Readonly<Record<string, string | undefined>>): void {
    this.reading.set(tableAddress(this.table), 'options', withSettings(this.table.options, set))
  }

  /** What a table has from now on beside what it had: constraints, and what a key asks of its columns. */
  private become(was: Table, now: Table): void {
    for (const kind of CONSTRAINTS) {
      const old = new Set<object>(members(was, kind))
      for (const member of members(now, kind)) if (!old.has(member)) this.reading.add(now, kind, member)
    }
    if (now.columns !== was.columns)
      for (const column of now.columns)
        if (!was.columns.includes(column)) this.reading.set(this.at('column', column.name), 'nullable', column.nullable)
  }

  make(): void {
    const { said } = this
    if (said.take('add')) return this.add()
    if (said.take('drop', 'constraint')) return this.dropConstraint()
    if (said.take('drop')) return this.dropColumn()
    if (said.take('alter', 'constraint')) return this.alterConstraint()
    if (said.take('alter')) return this.alterColumn()
    if (said.take('rename')) return this.rename()
    if (said.take('validate', 'constraint')) return this.validate(said.name())
    if (said.is('enable') || said.is('disable')) return this.switch(said.next().toLowerCase() === 'enable')
    if (said.take('force', 'row', 'level', 'security')) return this.security(undefined, true)
    if (said.take('no', 'force', 'row', 'level', 'security')) return this.security(undefined, false)
    if (said.take('cluster', 'on')) return this.options({ 'cluster on': said.name() })
    if (said.take('set', 'without', 'cluster')) return this.options({ 'cluster on': undefined })
    if (said.take('set', 'without', 'oids') || said.take('set', 'with', 'oids')) return
    if (said.take('set', 'logged')) return this.options({ persistence: undefined })
    if (said.take('set', 'unlogged')) return this.options({ persistence: 'unlogged' })
    if (said.take('set', 'tablespace')) return this.options({ tablespace: said.name() })
    if (said.take('set', 'access', 'method')) {
      const method = said.name()
      return this.options({ 'access method': method === 'heap' || method === 'default' ? undefined : method })
    }
    if (said.take('set', 'schema')) return this.reading.move(tableAddress(this.table), said.name())
    if (said.take('set')) return this.options(settingsIn(said.group()))
    if (said.take('reset'))
      return this.options(
        Object.fromEntries(
          said
            .group()
            .parts()
            .map((part) => [part.path().join('.'), undefined])
        )
      )
    if (said.take('owner', 'to')) return this.reading.set(tableAddress(this.table), 'owner', said.name())
    if (said.take('replica', 'identity')) return this.identity()
    if (said.take('attach', 'partition')) return this.attach()
    if (said.take('detach', 'partition')) return this.detach()
    if (said.take('inherit')) return this.inherit(true)
    if (said.take('no', 'inherit')) return this.inherit(false)
    throw new NotUnderstood(`A table is not changed by “${said.word().toUpperCase()}”.`)
  }

  private add(): void {
    const { said, reading } = this
    if (BEGINS.has(said.word()) && !(said.is('exclude') && said.word(1) !== 'using' && said.word(1) !== '(')) {
      const name = said.take('constraint') ? said.name() : undefined
      if (said.take('not', 'null')) {
        const column = said.name()
        if (takeWhen(said).valid) reading.set(this.at('column', column), 'nullable', false)
        return
      }
      if (said.is('primary', 'key', 'using') || said.is('unique', 'using')) return this.usingIndex(name)
      return this.constrain([takeConstraint(said, name, this.table, reading)])
    }
    said.take('column')
    const gently = said.take('if', 'not', 'exists')
    const { table } = this
    const name = said.copy().name()
    if (table.columns.some((column) => column.name === name)) {
      if (!gently) throw new NotUnderstood(`${table.name} has a column ${name} already.`)
      said.until(new Set())
      return
    }
    const { column, constraints, sequence } = takeColumn(said, table, reading, new Set())
    if (sequence) {
      const { ownedBy: _later, ...alone } = sequence
      reading.create('sequence', alone)
    }
    reading.add(table, 'column', column)
    if (sequence) reading.replace('sequence', sequence)
    this.toChildren((child) => {
      if (!child.columns.some((other) => other.name === column.name))
        reading.add(child, 'column', { ...column, inherited: true })
    })
    this.constrain(constraints)
  }

  /** One index becomes a key. */
  private usingIndex(name: string | undefined): void {
    const { said, reading, table } = this
    const kind = said.next().toLowerCase() === 'primary' ? 'primaryKey' : 'unique'
    said.take('key')
    said.expect('using', 'index')
    const index = said.name()
    const found = table.indexes.find((other) => other.name === index)
    if (!found) throw new NotUnderstood(`${table.name} has no index ${index}.`)
    const { deferrable } = takeWhen(said)
    const key: Key = {
      name: name ?? index,
      columns: found.parts.map(({ column }) => column ?? ''),
      ...(found.include ? { include: found.include } : {}),
      ...(found.nullsAlike ? { nullsAlike: true as const } : {}),
      ...(deferrable === 'no' ? {} : { deferrable }),
      ...(found.options ? { options: found.options } : {})
    }
    reading.drop(this.at('index', index))
    const { name: own, ...value } = key
    this.constrain([{ kind, name: own, value }])
  }

  private constrain(drafts: readonly Draft[]): void {
    if (drafts.length === 0) return
    const { reading, table } = this
    const now = withConstraints(table, drafts, reading)
    this.become(table, now)
    const checks = now.checks.filter(
      (check) => !table.checks.includes(check) && check.options?.['no inherit'] === undefined
    )
    for (const check of checks)
      this.toChildren((child) => {
        if (!child.checks.some(({ name }) => name === check.name))
          reading.add(child, 'check', { ...check, inherited: true })
      })
    if (now.options?.['partition by'] === undefined) return
    const keys = [
      ...(now.primaryKey === table.primaryKey || !now.primaryKey ? [] : [now.primaryKey]),
      ...now.uniques.filter((key) => !table.uniques.includes(key))
    ]
    if (keys.length === 0) return
    const whole = { ...now, indexes: [], uniques: now.uniques.filter((key) => keys.includes(key)) }
    const { primaryKey: _all, ...rest } = whole
    this.toChildren((child) => asPart(reading, child, now.primaryKey && keys.includes(now.primaryKey) ? whole : rest))
  }

  /** What is done to a table is done to those that inherit from it and to its partitions. */
  private toChildren(what: (child: Table) => void, of: Table = this.table): void {
    if (this.alone || !this.reading.hasChildren) return
    const isOf = (place: { readonly schema: string; readonly name: string }) =>
      place.schema === of.schema && place.name === of.name
    const children = this.reading
      .catalog()
      .tables.filter(({ inherits = [], partition }) => inherits.some(isOf) || (partition && isOf(partition.of)))
    for (const { schema, name } of children) {
      const child = this.reading.standing.table(schema, name)
      if (!child) continue
      what(child)
      this.toChildren(what, child)
    }
  }

  private dropConstraint(): void {
    const { said } = this
    const gently = said.take('if', 'exists')
    const name = said.name()
    const cascade = said.takeOne('cascade', 'restrict') === 'cascade'
    const address = this.constraint(name)
    if (!address) {
      if (gently) return
      throw new NotUnderstood(`${this.table.name} has no constraint ${name}.`)
    }
    remove(address, cascade, this.reading)
    if (address.kind === 'check')
      this.toChildren((child) => {
        const own = child.checks.find((check) => check.name === name && check.inherited)
        if (own) this.reading.drop(memberAddress(child, 'check', own))
      })
  }

  private dropColumn(): void {
    const { said, reading } = this
    said.take('column')
    const gently = said.take('if', 'exists')
    const name = said.name()
    const cascade = said.takeOne('cascade', 'restrict') === 'cascade'
    if (gently && !this.table.columns.some((column) => column.name === name)) return
    this.column(name)
    this.toChildren((child) => {
      const own = child.columns.find((column) => column.name === name && column.inherited)
      if (own) remove(memberAddress(child, 'column', own), cascade, reading)
    })
    remove(this.at('column', name), cascade, reading)
  }

  private alterConstraint(): void {
    const { said, reading } = this
    const address = this.constraint(said.name())
    const { deferrable } = takeWhen(said)
    if (address?.kind !== 'foreignKey') throw new NotUnderstood('It is no foreign key that could be changed.')
    reading.set(address, 'deferrable', deferrable)
  }

  private validate(name: string): void {
    const address = this.constraint(name)
    if (!address) throw new NotUnderstood(`${this.table.name} has no constraint ${name}.`)
    const found = this.reading.standing.find(address) as { readonly options?: Record<string, string> }
    this.reading.set(address, 'options', withSettings(found.options, { 'not valid': undefined }))
  }

  private rename(): void {
    const { said, reading, table } = this
    if (said.take('to')) return reading.rename(tableAddress(table), said.name())
    const isConstraint = said.take('constraint')
    if (!isConstraint) said.take('column')
    const name = said.name()
    said.expect('to')
    const to = said.name()
    const address = isConstraint ? this.constraint(name) : this.at('column', this.column(name).name)
    if (!address) throw new NotUnderstood(`${table.name} has no constraint ${name}.`)
    if (!isConstraint)
      this.toChildren((child) => {
        if (child.columns.some((column) => column.name === name))
          reading.rename(addressOf('column', child.schema, child.name, name), to)
      })
    reading.rename(address, to)
  }

  private switch(on: boolean): void {
    const { said, reading, table } = this
    if (said.take('row', 'level', 'security')) return this.security(on, undefined)
    const how = said.takeOne('replica', 'always')
    const kind = said.takeOne('trigger', 'rule')
    if (!kind) throw new NotUnderstood(`Nothing is switched by “${said.word()}”.`)
    const enabled = on ? how : 'no'
    const name = said.name()
    const list = (kind === 'trigger' ? table.triggers : table.rules) ?? []
    const all = kind === 'trigger' && /^(all|user)$/.test(name) && !list.some((other) => other.name === name)
    const chosen = all ? list : list.filter((other) => other.name === name)
    if (!all && chosen.length === 0) throw new NotUnderstood(`${table.name} has no ${kind} ${name}.`)
    for (const { name: own } of chosen) reading.set(this.at(kind, own), 'enabled', enabled)
  }

  private security(on: boolean | undefined, forced: boolean | undefined): void {
    const was = this.table.options?.['row security'] ?? 'off'
    const isOn = on ?? (was === 'on' || was === 'forced')
    const isForced = forced ?? was.startsWith('forced')
    this.options({ 'row security': isOn ? (isForced ? 'forced' : 'on') : isForced ? 'forced, off' : undefined })
  }

  private identity(): void {
    const { said } = this
    if (said.take('using', 'index')) return this.options({ 'replica identity': `index ${said.name()}` })
    const how = said.takeOne('full', 'nothing', 'default')
    this.options({ 'replica identity': how === 'default' ? undefined : how })
  }

  private attach(): void {
    const { said, reading, table } = this
    const path = said.path()
    const part = reading.table(path)
    const bound = takeBound(said)
    const checks = new Set(table.checks.map(({ name }) => name))
    const now: Table = {
      ...part,
      columns: part.columns.map((column) => ({ ...column, inherited: true as const })),
      checks: part.checks.map((check) => (checks.has(check.name) ? { ...check, inherited: true as const } : check)),
      partition: { of: { schema: table.schema, name: table.name }, bound }
    }
    const address = tableAddress(part)
    reading.apply(
      { action: 'drop', address, object: { kind: 'table', value: part } },
      { action: 'create', address, object: { kind: 'table', value: now } }
    )
    reading.hasChildren = true
    adoptIndexes(reading, now, table)
  }

  private detach(): void {
    const { said, reading } = this
    const part = reading.table(said.path())
    said.takeOne('concurrently', 'finalize')
    const { partition: _gone, ...rest } = part
    const free = <T extends { readonly options?: Record<string, string> | undefined }>(member: T): T => {
      const options = withSettings(member.options, { 'part of': undefined })
      const { options: _was, ...bare } = member
      return (options ? { ...bare, options } : bare) as T
    }
    const own = <T extends { readonly inherited?: true }>({ inherited: _not, ...member }: T) => member
    reading.replace('table', {
      ...rest,
      columns: rest.columns.map(own) as Table['columns'],
      checks: rest.checks.map(own) as Table['checks'],
      uniques: rest.uniques.map((key) => free(key as never)),
      indexes: rest.indexes.map((index) => free(index as never)),
      ...(rest.primaryKey ? { primaryKey: free(rest.primaryKey as never) as Key } : {})
    })
  }

  private inherit(from: boolean): void {
    const { said, reading, table } = this
    const parent = reading.table(said.path())
    const place = { schema: parent.schema, name: parent.name }
    const others = (table.inherits ?? []).filter((other) => other.schema !== place.schema || other.name !== place.name)
    const inherits = from ? [...others, place] : others
    reading.set(tableAddress(table), 'inherits', inherits.length ? inherits : undefined)
    if (from) reading.hasChildren = true
  }

  private alterColumn(): void {
    const { said, reading } = this
    said.take('column')
    const name = said.name()
    const column = this.column(name)
    const address = this.at('column', name)
    const set = (property: string, value: unknown) => {
      reading.set(address, property, value)
      if (property === 'default') return
      this.toChildren((child) => {
        if (child.columns.some((other) => other.name === name))
          reading.set(addressOf('column', child.schema, child.name, name), property, value)
      })
    }
    const options = (values: Readonly<Record<string, string | undefined>>) =>
      reading.set(address, 'options', withSettings(this.column(name).options, values))
    if (said.take('set', 'data', 'type') || said.take('type')) {
      const { type, refs } = takeType(said, reading)
      set('type', type)
      set('collation', said.take('collate') ? takeCollation(said, reading) : undefined)
      const calls = (column.refs ?? []).filter(({ to }) => to.kind !== 'type')
      const now = [...(refs ?? []), ...calls]
      reading.set(address, 'refs', now.length ? now : undefined)
      if (said.take('using')) said.until(new Set())
    } else if (said.take('set', 'default')) {
      const { text, refs } = tableText(said.until(new Set()), reading)
      reading.set(address, 'default', presetOf(text, column.type))
      const types = (column.refs ?? []).filter(({ to }) => to.kind === 'type')
      const now = [...types, ...(refs ?? [])]
      reading.set(address, 'refs', now.length ? now : undefined)
    } else if (said.take('drop', 'default')) reading.set(address, 'default', undefined)
    else if (said.take('set', 'not', 'null')) set('nullable', false)
    else if (said.take('drop', 'not', 'null')) set('nullable', true)
    else if (said.take('drop', 'expression')) {
      said.take('if', 'exists')
      set('generated', undefined)
      set('virtual', undefined)
    } else if (said.take('set', 'expression', 'as')) set('generated', tableText(said.inside(), reading).text)
    else if (said.take('drop', 'identity')) {
      said.take('if', 'exists')
      reading.set(address, 'identity', undefined)
      reading.set(address, 'counting', undefined)
    } else if (said.take('add', 'generated')) {
      const always = said.take('always')
      if (!always) said.expect('by', 'default')
      said.expect('as', 'identity')
      const counting = takeIdentity(said, column, this.table, reading, new Set())
      reading.set(address, 'identity', always ? 'always' : 'by default')
      reading.set(address, 'counting', counting)
    } else if (said.take('set', 'statistics')) {
      const count = said.take('-') ? `-${said.next()}` : said.next()
      options({ statistics: count === '-1' || count === 'default' ? undefined : count })
    } else if (said.take('set', 'storage')) options({ storage: said.next().toLowerCase() })
    else if (said.take('set', 'compression')) {
      const compression = said.name()
      options({ compression: compression === 'default' ? undefined : compression })
    } else if (said.is('set', '(')) {
      said.take('set')
      options(settingsIn(said.group()))
    } else if (said.take('reset')) options(Object.fromEntries(said.names().map((key) => [key, undefined])))
    else if (said.is('set') || said.is('restart')) this.counting(column, address)
    else throw new NotUnderstood(`A column is not changed by “${said.word().toUpperCase()}”.`)
  }

  /** `SET GENERATED ALWAYS SET INCREMENT BY 7`. */
  private counting(column: Column, address: Address): void {
    const { said, reading } = this
    const { counting: was = {} } = column
    const { name, cycle, ...rest } = was
    const now: SaidCounting = { type: column.type.name, ...rest, ...(cycle ? { cycle: true } : {}) }
    while (!said.done) {
      if (said.take('restart')) {
        said.take('with')
        if (!said.done && !said.is('set')) said.next()
        continue
      }
      said.expect('set')
      if (said.take('generated')) {
        const always = said.take('always')
        if (!always) said.expect('by', 'default')
        reading.set(address, 'identity', always ? 'always' : 'by default')
      } else if (!takeCounting(said, now, reading))
        throw new NotUnderstood(`Nothing of a sequence is said by “${said.word()}”.`)
    }
    reading.set(address, 'counting', { ...counted(now), ...(name === undefined ? {} : { name }) })
  }
}

/** A partition that comes to a table has its indexes: those that are like them become parts of them. */
function adoptIndexes(reading: Reading, part: Table, whole: Table): void {
  const like = (a: object, b: object) => {
    const bare = (object: object) =>
      JSON.stringify(
        Object.entries({ ...object, name: '', comment: '', options: '' }).sort(([x], [y]) => (x < y ? -1 : 1))
      )
    return bare(a) === bare(b)
  }
  const missing: { -readonly [K in 'primaryKey' | 'uniques' | 'indexes']?: Table[K] } = {}
  const mark = (kind: MemberKind, own: { readonly name: string; readonly options?: object }, name: string) =>
    reading.set(addressOf(kind, part.schema, part.name, own.name), 'options', { ...own.options, 'part of': name })
  if (whole.primaryKey) {
    if (part.primaryKey && like(part.primaryKey, whole.primaryKey))
      mark('primaryKey', part.primaryKey, whole.primaryKey.name)
    else if (!part.primaryKey) missing.primaryKey = whole.primaryKey
  }
  const pair = <T extends { readonly name: string; readonly options?: object }>(
    kind: MemberKind,
    owns: readonly T[],
    wholes: readonly T[]
  ): T[] =>
    wholes.filter((one) => {
      const own = owns.find((other) => like(other, one))
      if (own) mark(kind, own, one.name)
      return !own
    })
  missing.uniques = pair('unique', part.uniques, whole.uniques)
  missing.indexes = pair('index', part.indexes, whole.indexes)
  const { primaryKey: _key, ...rest } = whole
  asPart(reading, part, {
    ...rest,
    uniques: missing.uniques,
    indexes: missing.indexes,
    ...(missing.primaryKey ? { primaryKey: missing.primaryKey } : {})
  })
}
