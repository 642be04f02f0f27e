import { newId } from '../../design'
import type { Check, Found } from '../check'

export const linkWithoutIndex: Check = {
  id: 'link-without-index',
  title: 'Foreign key without an index',
  why: 'Each change or removal of a parent, and each join, looks through the whole table.',
  grade: 'info',
  find: ({ design, derived, engine, links }) => {
    if (engine.profile.features.indexesForeignKeys) return []
    const known = new Map(links.map((link) => [link.id, link]))
    return derived.catalog.tables.flatMap((table): Found[] => {
      const leads = [
        ...[table.primaryKey, ...table.uniques].flatMap((key) => (key ? [key.columns] : [])),
        ...table.indexes.map(({ parts }) => parts.map(({ column }) => column ?? ''))
      ]
      return table.foreignKeys.flatMap(({ columns, origin }): Found[] => {
        const link = known.get(origin?.id ?? '')
        const [child, parent] = [design.entities[link?.child ?? ''], design.entities[link?.parent ?? '']]
        const led = leads.some((lead) => columns.every((column) => lead.slice(0, columns.length).includes(column)))
        if (!link || !child || !parent || led || origin?.part !== 'fk') return []
        const held = Object.values(link.columns)
        const parts = (held.length > 0 ? held : [link.id]).map((id) => ({ id, descending: false }))
        return [
          {
            at: link.id,
            message: `${child.name}: no index begins with the link to ${parent.name}.`,
            fix: {
              label: 'Add an index',
              edit: {
                kind: 'part.set',
                list: 'indexes',
                entity: child.id,
                part: { id: newId('idx'), unique: false, parts }
              }
            }
          }
        ]
      })
    })
  }
}
