// What one engine alone has: the options of an entity's objects in a target, and what is said of them there. They are the target's
// own, beside what the design says for all engines.
import {
  MEMBER_KINDS,
  members,
  optionIn,
  optionProperty,
  propertyOf,
  sameOrigin,
  sameValue,
  withProperty,
  type Catalog,
  type Column,
  type Index,
  type IndexPart,
  type Kind,
  type Options,
  type Origin,
  type Table
} from '../catalog'
import { derive } from '../derive'
import { targetOf, type Departure, type Design, type Edit, type Target } from '../design'
import { dialect as dialectOf, type DeclaredOption, type Dialect } from '../dialects'

/** What options are of: an object that a target has of an entity, or one part of an index. */
export interface OptionPlace {
  readonly kind: Kind
  readonly origin: Origin
  /** Which part of an index, from 0. */
  readonly part?: number
}

export interface SaidOption {
  readonly option: DeclaredOption
  /** Its own, where the option stands for all of such names. */
  readonly name: string
  /** Empty: it is said to be as the engine usually has it, whatever a database has. */
  readonly value: string
}

export interface Optioned extends OptionPlace {
  /** As the target calls it. */
  readonly name: string
  readonly said: readonly SaidOption[]
  /** What can be said of it besides. */
  readonly offered: readonly DeclaredOption[]
}

/** The objects that a target has of an entity, the table first, with what the engine alone can have of each. */
export function optionsOf(design: Design, targetId: string | undefined, entity: string): Optioned[] {
  const { target, engine } = placed(design, targetId)
  const table = tableOf(derive(design, target, engine).catalog, entity)
  return table ? objectsOf(table).flatMap((one) => optioned(one, engine, target.departures)) : []
}

/**
 * The edit that says an option of something, or does not say it any more: then a database has what it has. An empty value is what is
 * usual. Or, in a sentence, why that is none. `name` is the option's own, where it stands for all of such names.
 */
export function withOption(
  design: Design,
  targetId: string,
  place: OptionPlace,
  name: string,
  value: string | undefined
): Edit | string {
  const { target, engine } = placed(design, targetId)
  const option = declared(engine, place, name)
  if (!option)
    return `${engine.profile.label} has no ${name} of ${place.kind === 'index' ? 'an index' : `a ${place.kind}`}.`
  const why =
    value === undefined || (value === '' && !option.at)
      ? undefined
      : (whyNoValue(option, value) ?? engine.whyNoOption?.(name, value))
  if (why !== undefined) return why
  const { departures = [], ...rest } = target
  const { at } = option
  const property = !at ? optionProperty(name) : 'part' in at ? 'parts' : at.property
  const isSame = (one: Departure) =>
    one.id === place.origin.id && one.part === place.origin.part && 'property' in one && one.property === property
  const others = departures.filter((one) => !isSame(one))
  const found = (within: readonly Departure[]) =>
    derive(design, { ...rest, departures: [...within] }, engine)
      .catalog.tables.flatMap(objectsOf)
      .find((one) => one.kind === place.kind && one.part === place.part && sameOrigin(one.origin, place.origin))?.value
  const without = found(others)
  if (!without) return 'What it would be said of is there no more.'
  const said = { ...place.origin, property }
  const departure = (): Departure | undefined => {
    if (at && 'part' in at) {
      const given = (without as Index).parts
      const now = (found(departures) as Index | undefined)?.parts ?? given
      const set = at.part === 'length' ? Number(value) : value
      const parts = now.map((part, i) =>
        i === place.part ? withProperty<IndexPart>(part, at.part, value === undefined ? undefined : set) : part
      )
      return sameValue(parts, given) ? undefined : { ...said, value: parts, instead: { value: given } }
    }
    const isUsual =
      place.kind === 'column' && !at && value !== undefined && engine.isUsual?.(without as Column, name, value)
    if (isUsual || (value !== undefined && value === option.usual)) return said
    const before = at
      ? propertyOf(without, at.property)
      : (propertyOf(without, 'options') as Options | undefined)?.[name]
    if (value === undefined || value === before) return undefined
    return value === '' ? said : { ...said, value }
  }
  const made = departure()
  const next = made ? [...others, made] : others
  return {
    kind: 'object.set',
    collection: 'targets',
    object: { ...rest, ...(next.length > 0 ? { departures: next } : {}) }
  }
}

function placed(design: Design, targetId: string | undefined): { target: Target; engine: Dialect } {
  const target = targetOf(design, targetId)
  const engine = dialectOf(target.engine, target.version)
  if (!engine) throw new Error(`The engine ${target.engine} is not known here.`)
  return { target, engine }
}

interface Found extends OptionPlace {
  readonly name: string
  readonly value: object
}

const tableOf = (catalog: Catalog, entity: string): Table | undefined =>
  catalog.tables.find(({ origin }) => origin?.id === entity && origin.part === 'table')

function objectsOf(table: Table): Found[] {
  const own: Found[] = table.origin ? [{ kind: 'table', origin: table.origin, name: table.name, value: table }] : []
  const inside = MEMBER_KINDS.flatMap((kind) =>
    (members(table, kind) as readonly { readonly name: string; readonly origin?: Origin }[]).flatMap((value) => {
      const { name, origin } = value
      if (!origin) return []
      const parts = kind === 'index' ? (value as Index).parts : []
      return [
        { kind, origin, name, value },
        ...parts.map(({ column, expression }, part): Found => ({
          kind,
          origin,
          part,
          name: `${name}, ${column ?? expression ?? ''}`,
          value
        }))
      ]
    })
  )
  return [...own, ...inside]
}

const isOf = (option: DeclaredOption, { kind, part }: OptionPlace): boolean =>
  option.on.includes(kind) && (option.at !== undefined && 'part' in option.at) === (part !== undefined)

/** What is said of it among the options, or in its place; an option of every name stands for all that no other does. */
function optioned({ value, ...found }: Found, engine: Dialect, departures: readonly Departure[] = []): Optioned[] {
  const options = engine.options.filter((option) => isOf(option, found) && !option.found)
  if (options.length === 0) return []
  const among = (found.part === undefined && (propertyOf(value, 'options') as Options | undefined)) || {}
  const placedIn = options.flatMap((option) => {
    const { at } = option
    if (!at) return []
    const said = 'part' in at ? (value as Index).parts[found.part ?? 0]?.[at.part] : propertyOf(value, at.property)
    return typeof said === 'string' || typeof said === 'number'
      ? [{ option, name: option.name, value: String(said) }]
      : []
  })
  const said: SaidOption[] = [
    ...placedIn,
    ...Object.entries(among).flatMap(([name, text]) => {
      const option = declared(engine, found, name)
      return option && !option.found ? [{ option, name, value: text }] : []
    })
  ]
  for (const departure of found.part === undefined ? departures : []) {
    if (!sameOrigin(departure, found.origin) || 'absent' in departure) continue
    const name = optionIn(departure.property)
    const option = name === undefined ? undefined : declared(engine, found, name)
    // What has become something else than an option, as allowed values a type, is said all the same.
    const isSaid = said.some((one) => one.name === name)
    if (option && name !== undefined && !isSaid) said.push({ option, name, value: String(departure.value ?? '') })
  }
  const taken = new Set(said.map(({ name }) => name))
  return [{ ...found, said, offered: options.filter(({ name, every }) => every !== undefined || !taken.has(name)) }]
}

const declared = (engine: Dialect, place: OptionPlace, name: string): DeclaredOption | undefined =>
  engine.options.find((option) => isOf(option, place) && option.every === undefined && option.name === name) ??
  engine.options.find((option) => isOf(option, place) && option.every?.test(name) === true)

/** A name as it stands in a statement, in parts where it has them. */
const WORDED = /^("[^"\0]+"|[\p{L}_][\p{L}\d_$]*)(\.("[^"\0]+"|[\p{L}_][\p{L}\d_$]*))*$/u

/** Why a value is none of an option's, in a sentence. */
export function whyNoValue({ name, values, at }: DeclaredOption, value: string): string | undefined {
  if (value.trim() === '') return `Say what ${name} is, or take it away.`
  if (typeof values !== 'string') return values.includes(value) ? undefined : `${name} is one of ${values.join(', ')}.`
  if (values === 'a number') return /^-?\d+(\.\d+)?$/.test(value) ? undefined : `${name} is a number.`
  if (values === 'a name' && at && !WORDED.test(value))
    return `${name} is a name as the engine writes it, in quotes if it must be: "C", de_x_icu.`
  if (values !== 'json') return undefined
  try {
    JSON.parse(value)
    return undefined
  } catch (error) {
    return `${name} is JSON, and this is none: ${error instanceof Error ? error.message : String(error)}`
  }
}
