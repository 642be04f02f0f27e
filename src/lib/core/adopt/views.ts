// Views that a database has otherwise, brought into the design.
import { findFree, namesOf, type Change, type View } from '../catalog'
import { inReferences } from '../derive'
import { newView, own, type Edit, type View as DesignView } from '../design'
import { businessName } from './names'
import type { Edits, Place } from './place'

/** The edits for a change of a view. */
export function viewEdits(change: Change, place: Place): Edits {
  if (change.action === 'create') return change.object.kind === 'view' ? addedView(change.object.value, place) : []
  const { schema, name } = namesOf(change.address)
  const origin = findFree(place.catalog, 'view', schema, name)?.origin ?? change.origin
  const view = origin && place.design.views[origin.id]
  if (!view) return 'It comes from nothing in the design.'
  const set = (values: Partial<DesignView>): Edit[] => [
    { kind: 'object.set', collection: 'views', object: { ...view, ...values } }
  ]
  if (change.action === 'drop') return [{ kind: 'object.remove', collection: 'views', id: view.id }]
  if (change.action === 'rename') return set({ dbName: change.to })
  const { property, to } = change
  if (property === 'comment') {
    const { means: _means, ...rest } = view
    return [
      { kind: 'object.set', collection: 'views', object: to === undefined ? rest : { ...rest, means: String(to) } }
    ]
  }
  if (property !== 'query') return 'The design cannot say this yet.'
  const text = inReferences(String(to), place.catalog, place.dialect)
  const { id } = place.dialect.profile
  return own(view.texts, id) === undefined ? set({ text }) : set({ texts: { ...view.texts, [id]: text } })
}

function addedView(view: View, { design, catalog, dialect }: Place): Edits {
  if (view.materialized || view.options || view.columns || view.indexes || view.triggers || view.rules || view.notes)
    return 'The design cannot say all of this view: take it for this target only.'
  if (view.schema !== dialect.profile.defaultSchema) return 'The design cannot say yet in which schema a view is.'
  const { name, dbName } = businessName(view.name, { dialect, settings: design.settings }, false)
  const text = inReferences(view.query, catalog, dialect)
  return [
    {
      kind: 'object.set',
      collection: 'views',
      object: newView(name, {
        ...(dbName === undefined ? {} : { dbName }),
        ...(view.comment === undefined ? {} : { means: view.comment }),
        text
      })
    }
  ]
}
