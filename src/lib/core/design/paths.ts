// Up to version 2 of the design file, places in a catalogue were said by the names of schema, table and object.

type Loose = Readonly<Record<string, unknown>>

const isLoose = (value: unknown): value is Loose => typeof value === 'object' && value !== null && !Array.isArray(value)
const all = (value: unknown, change: (item: Loose) => unknown): unknown =>
  Array.isArray(value) ? value.map((item: unknown) => (isLoose(item) ? change(item) : item)) : value

/** The targets of a file with paths for places; what is no list of targets stays as it is, and is told later. */
export function withPaths(targets: unknown): { readonly targets?: unknown } {
  if (targets === undefined) return {}
  return {
    targets: all(targets, (target) => ({
      ...target,
      ...('ignored' in target ? { ignored: all(target['ignored'], placeOf) } : {}),
      ...('extras' in target ? { extras: all(target['extras'], extraOf) } : {}),
      ...('handSteps' in target ? { handSteps: all(target['handSteps'], stepOf) } : {})
    }))
  }
}

function placeOf({ schema, table, name, ...rest }: Loose): Loose {
  const names =
    rest['kind'] === 'schema' ? [schema] : rest['kind'] === 'table' ? [schema, table] : [schema, table, name]
  return { ...rest, path: names }
}

function extraOf({ schema, table, ...rest }: Loose): Loose {
  const own = isLoose(rest['value']) ? [rest['value']['name']] : []
  return { ...rest, path: rest['kind'] === 'table' ? [schema, table] : [schema, table, ...own] }
}

/** An anchor is a change, its kind and place, and what it changes; of a table it had the name twice. */
function stepOf(step: Loose): Loose {
  const { anchor } = step
  if (typeof anchor !== 'string') return step
  const parts = anchor.split('/')
  return parts.length === 6 && parts[1] === 'table' && parts[3] === parts[4]
    ? { ...step, anchor: [...parts.slice(0, 4), ...parts.slice(5)].join('/') }
    : step
}
