import type { Check } from '../check'

export const bareSubtype: Check = {
  id: 'bare-subtype',
  title: 'Subtype that says nothing of its own',
  why: 'A kind without columns or links of its own is a value of a column, not a table.',
  grade: 'info',
  find: ({ design }) => {
    const linked = new Set(Object.values(design.links).flatMap(({ parent, child }) => [parent, child]))
    const above = new Set(Object.values(design.subtypes).map(({ supertype }) => supertype))
    return Object.values(design.subtypes).flatMap(({ subtypes }) =>
      subtypes.flatMap((id) => {
        const entity = design.entities[id]
        const bare = entity?.attributes.length === 0 && !linked.has(id) && !above.has(id)
        return bare ? [{ at: id, message: `${entity.name} has nothing that its supertype has not.` }] : []
      })
    )
  }
}
