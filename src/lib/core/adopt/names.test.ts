// Names there and back: two hundred names of tables and columns, by each way of naming.
import { expect, it } from 'vitest'
import { newDesign, type Settings } from '../design'
import { dialect, ENGINES, type Dialect } from '../dialects'
import { databaseName, join, tableWords } from '../naming'
import { businessName } from './names'

const FIRST =
  'vessel berth quay tide cargo pilot tug buoy port agent customer tariff fee inspection permit country region crane dock lock'.split(
    ' '
  )
const LAST = 'line category status address history entry box class quantity day'.split(' ')
const NAMES = FIRST.flatMap((first) => LAST.map((last) => `${first} ${last}`))
const settings = (values: Partial<Settings>): Settings => ({ ...newDesign('Names').settings, ...values })
const abbreviations = { addr: 'address', qty: 'quantity', cust: 'customer', cat: 'category' }

it.each(ENGINES.flatMap(({ id }) => dialect(id) ?? []).map((engine) => [engine.profile.label, engine] as const))(
  '%s',
  (_, engine: Dialect) => {
    expect(NAMES).toHaveLength(200)
    for (const said of [
      settings({}),
      settings({ tables: 'plural' }),
      settings({ tables: 'singular' }),
      settings({ tables: 'plural', abbreviations })
    ]) {
      const rules = { ...engine.profile.names, ...said, tablePrefix: '' }
      for (const name of NAMES) {
        const [table, column] = [join(tableWords(name, rules), rules), databaseName(name, rules)]
        const entity = businessName(table, { dialect: engine, settings: said }, true)
        expect(entity).toEqual({ name: name.replace(/^./, (letter) => letter.toUpperCase()) })
        expect(businessName(column, { dialect: engine, settings: said }, false)).toEqual({ name })
      }
    }
  }
)

it('short words of others are spelled out, and names that no rule would give back are kept', () => {
  const engine = dialect('postgres') as Dialect
  const words = settings({ abbreviations: { ...abbreviations, ln: 'line' } })
  expect(businessName('cust_addr_ln', { dialect: engine, settings: words }, false)).toEqual({
    name: 'customer address line'
  })
  expect(businessName('Cust Addr', { dialect: engine, settings: words }, false)).toEqual({
    name: 'customer address',
    dbName: 'Cust Addr'
  })
  expect(businessName('vessel', { dialect: engine, settings: settings({ tables: 'plural' }) }, true)).toEqual({
    name: 'Vessel',
    dbName: 'vessel'
  })
})
