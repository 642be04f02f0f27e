// The sheet as one long list of lines: for each area its entities, for each entity its head and its rows; then its views.
import { IDENTIFIER, type Design, type Entity, type View } from '../../core/design'
import { logical } from '../../core/derive'
import { printType } from '../../core/types'
import { cellText, COLUMNS, isNewRow, rowsOf, type ColumnName, type Row } from '../../core/cells'

export type Line =
  | { readonly kind: 'area'; readonly key: string; readonly name: string; readonly height: number }
  | {
      readonly kind: 'head'
      readonly key: string
      readonly entity: Entity
      readonly columns: number
      readonly height: number
    }
  /** A column that the design adds by itself: an identifier, a supertype's key, or one that every entity has. */
  | {
      readonly kind: 'given'
      readonly key: string
      readonly entity: Entity
      readonly name: string
      readonly type: string
      readonly why: string
      readonly inKey: boolean
      readonly height: number
    }
  | { readonly kind: 'view'; readonly key: string; readonly view: View; readonly height: number }
  | { readonly kind: 'row'; readonly key: string; readonly entity: Entity; readonly row: Row; readonly height: number }

/** Which rows are shown, and in which order. */
export interface Narrowing {
  /** Only rows that have this; in one column, or in any. */
  readonly text: string
  readonly column?: ColumnName | undefined
  readonly sort?: ColumnName | undefined
  /** Only these, by their lines' keys. */
  readonly only?: ReadonlySet<string> | undefined
}

const ROW = 28

const byName = (a: { readonly name: string }, b: { readonly name: string }) => a.name.localeCompare(b.name)
const inOrder = new Intl.Collator('en', { numeric: true })

/** What the lines of an entity come from. */
const LINES_OF = ['entities', 'links', 'subtypes', 'commons'] as const
const known = new WeakMap<Entity, { design: Design; lines: Line[] }>()

export function linesOf(design: Design, narrowing: Narrowing = { text: '' }): Line[] {
  const entities = Object.values(design.entities).sort(byName)
  const areas = Object.values(design.areas).sort(byName)
  const views = Object.values(design.views).sort(byName)
  const isIn = (area: string | undefined) => (object: { readonly area?: string | undefined }) =>
    area === undefined ? object.area === undefined || !design.areas[object.area] : object.area === area
  const groups = [...areas, { id: undefined, name: 'In no area' }].map(({ id, name }) => {
    const own = entities
      .filter(isIn(id))
      .flatMap((entity) => narrowed(linesOfEntity(design, entity), design, narrowing))
    const shown = isNarrow(narrowing) ? [] : views.filter(isIn(id))
    return {
      key: id ?? 'none',
      name,
      lines: [...own, ...shown.map((view): Line => ({ kind: 'view', key: view.id, view, height: 38 }))]
    }
  })
  return groups
    .filter(({ lines }) => lines.length > 0)
    .flatMap(({ key, name, lines }): Line[] => [
      ...(areas.length > 0 ? [{ kind: 'area' as const, key, name, height: 30 }] : []),
      ...lines
    ])
}

const isNarrow = ({ text, only }: Narrowing) => text.trim() !== '' || only !== undefined

/** The lines of an entity that are shown; none where no row of it is. */
function narrowed(lines: Line[], design: Design, narrowing: Narrowing): Line[] {
  const { text, column, sort, only } = narrowing
  if (!isNarrow(narrowing) && sort === undefined) return lines
  const words = text.trim().toLowerCase()
  const says = (line: Line & { kind: 'row' }, name: ColumnName) => cellText(design, line.entity, line.row, name)
  const meant = lines.filter(
    (line): line is Line & { kind: 'row' } =>
      line.kind === 'row' &&
      !isNewRow(line.row.id) &&
      (only === undefined || only.has(line.key)) &&
      (words === '' || (column ? [column] : COLUMNS).some((name) => says(line, name).toLowerCase().includes(words)))
  )
  if (sort !== undefined) meant.sort((a, b) => inOrder.compare(says(a, sort), says(b, sort)))
  if (!isNarrow(narrowing)) {
    const rows = new Set<Line>(meant)
    return [
      ...lines.filter((line) => line.kind !== 'row'),
      ...meant,
      ...lines.filter((line) => line.kind === 'row' && !rows.has(line))
    ]
  }
  const head = lines.filter(({ kind }) => kind === 'head')
  return meant.length > 0 ? [...head, ...meant] : []
}

function linesOfEntity(design: Design, entity: Entity): Line[] {
  const before = known.get(entity)
  if (before && LINES_OF.every((part) => before.design[part] === design[part])) return before.lines
  const rows = rowsOf(design, entity)
  const columns = logical(design).entity(entity.id)?.columns ?? []
  const given = columns.filter((column) => column.row === undefined)
  const common = columns.filter((column) => column.common !== undefined)
  const lines: Line[] = [
    {
      kind: 'head',
      key: entity.id,
      entity,
      columns: rows.filter(({ id, depth }) => !isNewRow(id) && depth === 0).length + given.length + common.length,
      height: 52
    },
    ...given.map((column): Line => ({
      kind: 'given',
      key: `${entity.id} ${column.path}`,
      entity,
      name: column.name,
      type: printType(column.type),
      why:
        column.path === IDENTIFIER
          ? `${column.identity ? 'numbered by the engine; ' : ''}added, since no column is marked as key`
          : 'the key of what it is a kind of',
      inKey: true,
      height: ROW
    })),
    ...rows.map((row): Line => ({ kind: 'row', key: `${entity.id} ${row.id}`, entity, row, height: ROW })),
    ...common.map((column): Line => ({
      kind: 'given',
      key: `${entity.id} ${column.path}`,
      entity,
      name: column.name,
      type: printType(column.type),
      why: `every entity has it${column.common?.kept ? '; filled by itself' : ''}`,
      inKey: false,
      height: ROW
    }))
  ]
  known.set(entity, { design, lines })
  return lines
}
