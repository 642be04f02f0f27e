// Names for one target: by rule unless set by hand, cut to fit, unique where the engine wants it, with a word about each
// that a person would not expect.
import {
  constraintName,
  inLetters,
  join,
  linkColumnName,
  nameLength,
  patterned,
  shorten,
  tableWords,
  wordsOf,
  type NamingRules
} from '../naming'
import { tableKey, type MemberKind } from '../catalog'
import type { Settings } from '../design'
import { nameScope } from './clashes'
import { nameKey, type Dialect } from '../dialects'
import type { Notice } from '../notice'

export type Prefix = Parameters<typeof constraintName>[0]

const KINDS: Readonly<Record<Prefix, MemberKind>> = {
  pk: 'primaryKey',
  uq: 'unique',
  fk: 'foreignKey',
  ck: 'check',
  ix: 'index'
}

export class Namer {
  /** Names that must be the only ones where they are, and the table that each was given in. */
  readonly claims = new Map<string, string>()
  /** Of these, those that something else wanted too. */
  readonly wantedTwice = new Set<string>()
  readonly rules: NamingRules
  /** The same for what is only a part of a name: it is cut when it is whole. */
  private readonly uncut: NamingRules
  /** What columns are called, by their words: many tables have columns of one name. */
  private readonly columns = new Map<string, string>()
  /** Names as they fit: many tables have columns of one name. */
  private readonly fits = new Map<string, string>()

  constructor(
    private readonly dialect: Dialect,
    { tablePrefix, abbreviations, tables, patterns, letters, separator }: Settings,
    private readonly notices: Notice[]
  ) {
    this.rules = { ...dialect.profile.names, tablePrefix, abbreviations, tables, patterns, letters, separator }
    this.uncut = { ...this.rules, limit: Infinity }
  }

  /** A table's or view's name: prefix, pattern and rule, or as it was set by hand. */
  table(
    object: { readonly id: string; readonly name: string; readonly dbName?: string | undefined },
    kind: 'table' | 'view' = 'table'
  ): string {
    if (object.dbName !== undefined) return this.byHand(object.dbName, object.id)
    const { tablePrefix, patterns } = this.rules
    const name = join(tableWords(object.name, this.rules), this.uncut)
    const full = patterned(kind, { name }, patterns)
    return this.fitted(this.made([tablePrefix.replace(/_$/, ''), full]), object.id)
  }

  /** The table of a link, named after the two that it joins. */
  bridge(parent: string, child: string, role: readonly string[], id: string): string {
    const [a, b] = [this.plain(parent), this.plain(child)]
    return this.fitted(this.made([patterned('bridge', { parent: a, child: b }, this.rules.patterns), ...role]), id)
  }

  /** The column of such a table: what it calls the other side, and that one's key. */
  linkColumn(called: string, keyColumn: string, id: string): string {
    const name = linkColumnName(called, keyColumn, this.uncut)
    return this.fitted(this.made([patterned('column', { name }, this.rules.patterns)]), id)
  }

  /** A column's name from words joined by underscores. */
  column(dbName: string, fixed: boolean, id: string): string {
    if (fixed) return this.byHand(dbName, id)
    let full = this.columns.get(dbName)
    if (full === undefined)
      this.columns.set(dbName, (full = this.made([patterned('column', { name: dbName }, this.rules.patterns)])))
    return this.fitted(full, id)
  }

  /** A constraint's or index's name, made unique in its schema or its table, as the engine wants it. */
  constraint(prefix: Prefix, parts: readonly string[], home: { schema: string; table: string }, id: string): string {
    const full = inLetters(
      constraintName(
        prefix,
        parts.map((part) => this.plain(part)),
        this.uncut
      ),
      this.rules
    )
    for (let n = 1; ; n++) {
      const name = this.fitted(n === 1 ? full : `${full}_${n}`, id, n === 1)
      if (this.claim(KINDS[prefix], home, name)) return name
    }
  }

  /**
   * The name given by hand, as the engine can have it, else the one by rule: that, too, where something else has the name already and
   * the engine has it once in a schema. Where it has it once in a table, it is a mistake, which is told elsewhere.
   */
  member(
    prefix: Prefix,
    given: string | undefined,
    parts: readonly string[],
    home: { schema: string; table: string },
    id: string
  ): string {
    if (given === undefined) return this.constraint(prefix, parts, home, id)
    const name = this.byHand(given, id)
    const kind = KINDS[prefix]
    if (this.claim(kind, home, name)) return name
    if (nameScope(kind, home, this.dialect) === tableKey(home.schema, home.table)) return name
    const ruled = this.constraint(prefix, parts, home, id)
    this.notices.push({
      code: 'name-taken',
      severity: 'warning',
      where: id,
      message: `Something else is called “${name}”, and ${this.dialect.profile.label} has such a name once in a schema: of ${home.table} it is called ${ruled}.`
    })
    return ruled
  }

  /** A table's name that was given by hand. */
  tableByHand = (given: string, id: string): string => this.byHand(given, id)

  /** A table's name, so that nothing else gets it by rule. */
  claimTable = ({ schema, name }: { readonly schema: string; readonly name: string }): boolean =>
    this.claim('table', { schema, table: name }, name)

  private claimOf = (kind: 'table' | MemberKind, home: { schema: string; table: string }, given: string): string =>
    `${nameScope(kind, home, this.dialect)}\0${nameKey(kind, given, this.dialect)}`

  /** True the first time a name is claimed where it must be the only one, however the engine lets it be spelled. */
  private claim(kind: 'table' | MemberKind, home: { schema: string; table: string }, given: string): boolean {
    const claim = this.claimOf(kind, home, given)
    if (this.claims.has(claim)) {
      this.wantedTwice.add(claim)
      return false
    }
    this.claims.set(claim, tableKey(home.schema, home.table))
    return true
  }

  /** A name given by hand is used as it is, once it fits. */
  private byHand(given: string, id: string): string {
    const { limit, unit, fold } = this.rules
    // Plain lower case is what people type; it means the engine's own case, not a name to be quoted.
    const name = fold === 'upper' && /^[a-z_][a-z0-9_]*$/.test(given) ? given.toUpperCase() : given
    return nameLength(name, unit) <= limit ? this.noted(name, id) : this.fitted(name, id)
  }

  /** A name of parts, in the letters that the rules want. */
  private made = (parts: readonly string[]): string => inLetters(join(parts, this.uncut), this.rules)

  /** The words of a name that is made already, where they would run into each other. */
  private plain = (name: string): string =>
    this.rules.letters === 'camel' || this.rules.letters === 'pascal' ? wordsOf(name).join('_') : name

  private fitted(full: string, id: string, tell = true): string {
    const kept = this.fits.get(full) ?? this.fit(full)
    if (tell && kept.length < full.length)
      this.notices.push({
        code: 'name-shortened',
        severity: 'info',
        where: id,
        message: `“${full}” is longer than the ${this.rules.limit} ${this.rules.unit} that ${this.dialect.profile.label} allows: it is called ${kept}.`
      })
    return tell ? this.noted(kept, id) : kept
  }

  private fit(full: string): string {
    const name = shorten(full, this.rules.limit, this.rules.unit)
    const kept = this.rules.fold === 'upper' && this.rules.letters === undefined ? name.toUpperCase() : name
    this.fits.set(full, kept)
    return kept
  }

  private noted(name: string, id: string): string {
    if (this.dialect.profile.names.reserved.has(name.toLowerCase()))
      this.notices.push({
        code: 'name-reserved',
        severity: 'warning',
        where: id,
        message: `“${name}” is a reserved word in ${this.dialect.profile.label}: it is quoted, and every query must quote it too.`
      })
    return name
  }
}
