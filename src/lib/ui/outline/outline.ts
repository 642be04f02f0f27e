// Everything in a design as one list of lines, in groups: by area, by schema, or by kind.
import { addressKey, isFree, KINDS, namesOf } from '../../core/catalog'
import { plainTable } from '../../core/derive'
import type { Design, Target } from '../../core/design'
import type { Selection } from '../desk/desk.svelte'

export const GROUPINGS = ['area', 'schema', 'kind'] as const
export type Grouping = (typeof GROUPINGS)[number]

export type OutlineLine =
  | { readonly kind: 'group'; readonly key: string; readonly name: string; readonly count: number }
  | {
      readonly kind: 'item'
      readonly key: string
      readonly name: string
      /** What the engine calls it, where that says more. */
      readonly also: string
      readonly select: Selection
    }

interface Item {
  readonly group: string
  readonly line: OutlineLine & { readonly kind: 'item' }
}

const byName = new Intl.Collator('en', { numeric: true })

/** `wanted` is a part of a name; groups in `closed` show their heads only; what `target` holds is told by kind. */
export function outlineOf(
  design: Design,
  {
    by,
    wanted,
    closed,
    target
  }: { by: Grouping; wanted: string; closed: ReadonlySet<string>; target: Target | undefined }
): OutlineLine[] {
  const text = wanted.trim().toLowerCase()
  const items = [...designed(design, by), ...(by === 'kind' && target ? heldBy(target) : [])].filter(
    ({ line }) => text === '' || line.name.toLowerCase().includes(text) || line.also.toLowerCase().includes(text)
  )
  const groups = new Map<string, Item[]>()
  for (const item of items) groups.set(item.group, [...(groups.get(item.group) ?? []), item])
  const names = [...groups.keys()]
  // Kinds stand in their own order; areas and schemas in that of their names, and what is in none last.
  if (by !== 'kind')
    names.sort((a, b) => Number(a.startsWith('In no ')) - Number(b.startsWith('In no ')) || byName.compare(a, b))
  return names.flatMap((name): OutlineLine[] => {
    const list = groups.get(name) ?? []
    const head: OutlineLine = { kind: 'group', key: `group ${name}`, name, count: list.length }
    if (closed.has(name) && text === '') return [head]
    return [head, ...list.map(({ line }) => line).sort((a, b) => byName.compare(a.name, b.name))]
  })
}

function designed(design: Design, by: Grouping): Item[] {
  const group = ({
    area,
    namespace
  }: {
    readonly area?: string | undefined
    readonly namespace?: string | undefined
  }) =>
    by === 'area'
      ? (area !== undefined && design.areas[area]?.name) || 'In no area'
      : (namespace ?? 'In no schema of its own')
  const also = (one: { readonly name: string; readonly dbName?: string | undefined }) => {
    const called = plainTable(one, design.settings)
    return called === one.name.toLowerCase() ? '' : called
  }
  return [
    ...Object.values(design.entities).map((entity): Item => ({
      group: by === 'kind' ? 'Entities' : group(entity),
      line: {
        kind: 'item',
        key: entity.id,
        name: entity.name,
        also: also(entity),
        select: { kind: 'entity', entity: entity.id }
      }
    })),
    ...Object.values(design.views).map((view): Item => ({
      group: by === 'kind' ? 'Views' : group(view),
      line: { kind: 'item', key: view.id, name: view.name, also: also(view), select: { kind: 'view', view: view.id } }
    }))
  ]
}

const heldBy = ({ id, name: called, extras = [] }: Target): Item[] =>
  extras.map((extra) => {
    const { name, table } = namesOf(extra)
    const many = KINDS[extra.kind].many
    return {
      group: `${many[0]?.toUpperCase() ?? ''}${many.slice(1)}, held by ${called}`,
      line: {
        kind: 'item',
        key: `${id} ${addressKey(extra)}`,
        name,
        also: isFree(extra.kind) ? '' : `of ${table}`,
        select: { kind: 'held', target: id, at: extra }
      }
    }
  })

/** The entities that an entity is linked to: those that it leads to, and those that lead to it. */
export function neighboursOf(
  design: Design,
  entity: string
): { readonly id: string; readonly name: string; readonly leads: boolean }[] {
  const found = new Map<string, { id: string; name: string; leads: boolean }>()
  for (const { parent, child } of Object.values(design.links)) {
    if (parent === child || (parent !== entity && child !== entity)) continue
    const leads = child === entity
    const id = leads ? parent : child
    const name = design.entities[id]?.name
    if (name !== undefined) found.set(`${id} ${leads}`, { id, name, leads })
  }
  return [...found.values()].sort((a, b) => Number(b.leads) - Number(a.leads) || byName.compare(a.name, b.name))
}
