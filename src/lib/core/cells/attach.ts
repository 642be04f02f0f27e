// Columns of one name and type together, wherever they stand; a domain for many of them at once; domains of another design.
import { newDomain, newId, type Attribute, type Design, type Domain, type Edit, type Entity } from '../design'
import { printType } from '../types'
import { whyNotCalled, type Changed } from './domain-cells'

/** Columns that one calls alike and that are of one type. */
export interface ColumnGroup {
  readonly key: string
  readonly name: string
  readonly type: string
  readonly columns: readonly { readonly entity: Entity; readonly attribute: Attribute }[]
  /** The domains that they are of. */
  readonly domains: readonly string[]
}

interface Wanted {
  /** A part of a column's, an entity's or a domain's name. */
  readonly text?: string
  /** Only columns that are of no domain. */
  readonly without?: boolean
  /** Each column by itself. */
  readonly apart?: boolean
}

const inOrder = new Intl.Collator('en', { numeric: true })

/** Those of the most columns first, then by name. */
export function columnGroups(design: Design, { text = '', without = false, apart = false }: Wanted): ColumnGroup[] {
  const words = text.trim().toLowerCase()
  const groups = new Map<string, { name: string; type: string; columns: { entity: Entity; attribute: Attribute }[] }>()
  for (const entity of Object.values(design.entities))
    for (const attribute of entity.attributes) {
      if (without && attribute.domain !== undefined) continue
      const domain = design.domains[attribute.domain ?? '']?.name ?? ''
      if (words && ![attribute.name, entity.name, domain].some((name) => name.toLowerCase().includes(words))) continue
      const [name, type] = [attribute.name, printType(attribute.type)]
      const key = apart ? attribute.id : `${name.toLowerCase()} ${type}`
      const group = groups.get(key)
      if (group) group.columns.push({ entity, attribute })
      else groups.set(key, { name, type, columns: [{ entity, attribute }] })
    }
  return [...groups]
    .map(([key, group]): ColumnGroup => ({ key, ...group, domains: domainsOf(group.columns) }))
    .sort((a, b) => b.columns.length - a.columns.length || inOrder.compare(a.name, b.name))
}

const domainsOf = (columns: ColumnGroup['columns']): string[] => [
  ...new Set(columns.flatMap(({ attribute }) => attribute.domain ?? []))
]

/** All columns of some groups are of a domain, or of none. */
export const attach = (groups: readonly ColumnGroup[], domain: string | undefined): Edit => ({
  kind: 'all',
  edits: groups.flatMap(({ columns }) =>
    columns.flatMap(({ entity, attribute }): Edit[] =>
      attribute.domain === domain
        ? []
        : [{ kind: 'attribute.set', entity: entity.id, id: attribute.id, set: { domain } as Partial<Attribute> }]
    )
  )
})

/** A domain of what the columns have, and they are of it. */
export function domainFrom(design: Design, groups: readonly ColumnGroup[], name: string): Changed {
  const called = name.trim()
  const error = whyNotCalled(design, '', called)
  if (error !== undefined) return { error }
  const all = groups.flatMap(({ columns }) => columns.map(({ attribute }) => attribute))
  const [first] = all
  if (!first) return { error: 'Choose the columns that it is made from.' }
  const other = all.find(({ type }) => printType(type) !== printType(first.type))
  if (other)
    return {
      error: `${first.name} is ${printType(first.type)} and ${other.name} is ${printType(other.type)}: columns of one domain are of one type.`
    }
  const common = (['default', 'min', 'max', 'letters'] as const).filter((field) =>
    all.every((one) => one[field] !== undefined && one[field] === first[field])
  )
  const domain = newDomain(called, {
    type: first.type,
    ...Object.fromEntries(common.map((field) => [field, first[field]]))
  })
  return {
    edit: {
      kind: 'all',
      edits: [{ kind: 'object.set', collection: 'domains', object: domain }, attach(groups, domain.id)]
    }
  }
}

/** Domains of another design, as they are there; those of a name that is taken here are left, and told. */
export function copyDomains(design: Design, domains: readonly Domain[]): { edit: Edit; left: readonly string[] } {
  const left: string[] = []
  const edits = domains.flatMap((domain): Edit[] => {
    const why = whyNotCalled(design, '', domain.name)
    if (why === undefined)
      return [{ kind: 'object.set', collection: 'domains', object: { ...domain, id: newId('dom') } }]
    left.push(`${domain.name} is left: ${why}`)
    return []
  })
  return { edit: { kind: 'all', edits }, left }
}
