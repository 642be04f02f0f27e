// Columns that are of one domain: those of a type that the database has as one, and those that somebody said are.
import { findFree, sameValue, tableKey, type Catalog, type Column, type Relation } from '../catalog'
import { newDomain, Names, type Attribute, type Draft } from '../design'
import { businessName, type Naming } from './names'

/** Columns that share a meaning, and what that is called. */
export interface ColumnGroup {
  readonly name: string
  readonly columns: readonly (Relation & { readonly column: string })[]
}

const columnKey = ({ schema, name }: Relation, column: string) => `${tableKey(schema, name)} ${column}`

export class Domains {
  private readonly groups: ReadonlyMap<string, string>
  private readonly names = new Names()
  /** The domain of each group, or of each type of the database's own. */
  private readonly made = new Map<string, string>()

  constructor(
    private readonly catalog: Catalog,
    private readonly naming: Naming,
    private readonly draft: Draft,
    groups: readonly ColumnGroup[]
  ) {
    this.groups = new Map(
      groups.flatMap(({ name, columns }) => columns.map((place) => [columnKey(place, place.column), name] as const))
    )
  }

  /** A column's attribute, of its domain where there is one of its type. */
  joined(table: Relation, column: Column, attribute: Attribute): Attribute {
    const { type } = column
    const own =
      type.schema === undefined || type.of ? undefined : findFree(this.catalog, 'type', type.schema, type.name)
    const group = this.groups.get(columnKey(table, column.name))
    const key =
      own?.form === 'domain' ? `type ${own.schema} ${own.name}` : group === undefined ? undefined : `group ${group}`
    if (key === undefined) return attribute
    const known = this.made.get(key)
    const domain =
      (known === undefined ? undefined : this.draft.now.domains[known]) ??
      newDomain(this.names.take(own ? businessName(own.name, this.naming, true).name : (group ?? '')), {
        type: attribute.type,
        ...(own?.comment === undefined ? {} : { means: own.comment })
      })
    if (known === undefined) {
      this.draft.put('domains', domain)
      this.made.set(key, domain.id)
    }
    return sameValue(domain.type, attribute.type) ? { ...attribute, domain: domain.id } : attribute
  }
}
