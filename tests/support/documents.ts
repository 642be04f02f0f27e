// Documents that fit a collection, each of its own, and what a stand-in is opened with.
import type { Column, DataType, Table } from '../../src/lib/core/catalog'
import { newDesign } from '../../src/lib/core/design'
import { readJot } from '../../src/lib/core/jot'
import { openMongodbStandIn } from '../../src/lib/live/mongodb/stand-in'
import type { LiveDatabase } from '../../src/lib/live'

/** A design of documents: nested to any depth, lists, maps, several types. */
export const DOCUMENTS = readJot(
  `domain Mark: text(8) upper

entity Berth
  code: text(8) key
  depth: decimal(5,2) min 0

entity Vessel
  imo: integer required unique means the number painted on the hull
  name: text(80) required
  trade: one of (bulk, tanker, ferry)
  mark: Mark
  index (name, trade desc)

collection Inspection
  vessel: Vessel required
  berth: Berth
  taken at: timestamp required
  place: object
    spot: text(8) required
    depth: decimal(5,2)
  findings: list of object
    code: text(10) required
    severity: one of (minor, major)
    photos: list of object
      url: text(40) required
  measures: map of text(10) to integer
  lamps: map of text(10) to object
    lit: boolean required
    colour: text(10)
  remark: text or integer
  index (taken at desc, vessel)
`,
  newDesign('Tidewell')
).design

export type Plain = { readonly [key: string]: unknown }

export const emptyStandIn = (): Promise<LiveDatabase> =>
  openMongodbStandIn({ load: async () => undefined, save: async () => undefined })

const holderOf = (path: string) => /^(.*)\.[^.]*$/.exec(path)?.[1]?.replace(/(\[\]|\{\})+$/, '')

/** As extended JSON; `n` tells documents apart, and which optional fields are there. */
export function documentFor({ columns }: Pick<Table, 'columns'>, n: number): Plain {
  const inside = (holder: string | undefined): Plain =>
    Object.fromEntries(
      columns
        .filter(({ name, nullable }) => holderOf(name) === holder && (!nullable || (n + name.length) % 3 > 0))
        .map((column) => [column.name.slice(column.name.lastIndexOf('.') + 1), valueFor(column, column.type)])
    )
  const valueFor = (column: Column, type: DataType): unknown => {
    if (type.of) return [valueFor(column, type.of)]
    const { values, minimum, maximum } = column.options ?? {}
    if (values !== undefined) return (JSON.parse(values) as unknown[])[n % 2] ?? (JSON.parse(values) as unknown[])[0]
    const [length = 30] = (type.args ?? []).map(Number)
    const number = Math.min(Math.max(n, Number(minimum ?? n)), Number(maximum ?? Infinity))
    switch (type.name) {
      case 'object':
        return inside(column.name)
      case 'map':
        return { k: valueFor({ ...column, options: {} }, { name: type.args?.[0]?.replace(/\(.*/, '') ?? 'int' }) }
      case 'string': {
        const [, least] = (type.args ?? []).map(Number)
        // Digits are letters of neither sort: they fit any pattern for those.
        return String(n)
          .padStart(least ?? 1, '0')
          .slice(0, length)
      }
      case 'int':
      case 'long':
      case 'double':
      case 'decimal':
        return number
      case 'bool':
        return n % 2 === 0
      case 'date':
        return { $date: new Date(1e12 + n * 1e7).toISOString() }
      case 'objectId':
        return { $oid: n.toString(16).padStart(24, '0') }
      case 'binData':
        return { $binary: { base64: Buffer.from(String(n)).toString('base64'), subType: '00' } }
      case 'either':
        return valueFor({ ...column, options: {} }, { name: type.args?.[0]?.replace(/\(.*/, '') ?? 'int' })
      default:
        return `v${n}`
    }
  }
  return inside(undefined)
}
