// An entity that does no more than stand between two others, as the many-to-many link that it is.
import { plainName, plainTable } from '../derive'
import { linksAt, newLink, referencesIn, type Design, type Edit, type Entity, type Link } from '../design'

/** The edit that puts the link in its place, under the same names; nothing where the entity says more than a link can. */
export function asManyToMany(design: Design, id: string): Edit | undefined {
  const entity = design.entities[id]
  const ends = entity && endsOf(design, entity)
  if (!entity || !ends || !saysNoMore(design, entity, ends)) return undefined
  const [first, second] = ends
  const [parent, child] = [design.entities[first.parent], design.entities[second.parent]]
  if (!parent || !child || parent.namespace !== entity.namespace) return undefined
  const named = (side: string, link: Link) =>
    Object.entries(link.columns).map(([path, held]) => {
      const attribute = entity.attributes.find((one) => one.id === held)
      return [`${side} ${path}`, attribute?.dbName ?? plainName(attribute?.name ?? '', design.settings)] as const
    })
  const link = newLink(design, parent, child, {
    kind: 'many-to-many',
    dbName: plainTable(entity, design.settings),
    ...(entity.means === undefined ? {} : { means: entity.means }),
    onDelete: first.onDelete,
    onUpdate: first.onUpdate,
    bridge: {
      ...(entity.keyName === undefined ? {} : { key: entity.keyName }),
      foreignKeys: {
        ...(first.dbName === undefined ? {} : { parent: first.dbName }),
        ...(second.dbName === undefined ? {} : { child: second.dbName })
      },
      columns: Object.fromEntries([...named('parent', first), ...named('child', second)])
    }
  })
  return {
    kind: 'all',
    edits: [
      { kind: 'object.remove', collection: 'entities', id },
      { kind: 'link.add', link }
    ]
  }
}

/** The two links that its rows hold, in their order: alike in all that one link says for both. */
function endsOf(design: Design, entity: Entity): readonly [Link, Link] | undefined {
  const place = (link: Link) => entity.order.indexOf(Object.values(link.columns)[0] ?? '')
  const [first, second, more] = linksAt(design, entity.id)
    .filter(({ child }) => child === entity.id)
    .sort((a, b) => place(a) - place(b))
  if (!first || !second || more) return undefined
  const alike = first.onDelete === second.onDelete && first.onUpdate === second.onUpdate
  const plain = [first, second].every(
    ({ kind, parent, parentKey, deferrable, drawnOnly, columns, means }) =>
      kind === 'one-to-many' &&
      parent !== entity.id &&
      parentKey === undefined &&
      !deferrable &&
      !drawnOnly &&
      means === undefined &&
      Object.keys(columns).length > 0
  )
  const rows = [...Object.values(first.columns), ...Object.values(second.columns)]
  const whole = [entity.order, entity.primaryKey].every((list) => list.join() === rows.join())
  return alike && plain && whole ? [first, second] : undefined
}

function saysNoMore(design: Design, entity: Entity, ends: readonly Link[]): boolean {
  const { id, attributes, uniques, rules, indexes } = entity
  const isBare = attributes.every(
    (one) => one.default === undefined && one.means === undefined && one.domain === undefined
  )
  const isNamed =
    linksAt(design, id).some(({ parent }) => parent === id) ||
    Object.values(design.subtypes).some(({ supertype, subtypes }) => supertype === id || subtypes.includes(id)) ||
    Object.values(design.views).some((view) =>
      [view.text, ...Object.values(view.texts)].some((text) =>
        referencesIn(text).some((named) => named.id === id || attributes.some((one) => one.id === named.id))
      )
    )
  // An index that an engine makes for a foreign key is called as that is.
  const isOwn = indexes.every(({ name, unique, parts }) =>
    ends.some(
      ({ dbName, columns }) =>
        dbName === name && !unique && Object.values(columns).join() === parts.map((part) => part.id).join()
    )
  )
  return isBare && isOwn && !isNamed && uniques.length + rules.length === 0
}
