// What other rules for names would change, before they hold.
import { members, MEMBER_KINDS, KIND_WORDS, type Origin } from '../catalog'
import { edit, type Design, type Edit, type Target } from '../design'
import { dialect } from '../dialects'
import { derive } from './derive'

export interface Renamed {
  /** What it is: `table`, `index`. */
  readonly kind: string
  /** The table that it is in; itself for a table. */
  readonly table: string
  readonly from: string
  readonly to: string
}

/** Every name in a target that an edit of the rules would change; those set by hand stay. Throws where the engine is not known. */
export function renamedBy(design: Design, target: Target, change: Edit): Renamed[] {
  const engine = dialect(target.engine, target.version)
  if (!engine) throw new Error(`The engine ${target.engine} is not known here.`)
  const before = namesIn(design, target, engine)
  const after = edit(design, change)
  return [...namesIn(after, after.targets[target.id] ?? target, engine)].flatMap(([key, { name }]) => {
    const was = before.get(key)
    return was && was.name !== name ? [{ kind: was.kind, table: was.table, from: was.name, to: name }] : []
  })
}

interface Named {
  readonly kind: string
  readonly table: string
  readonly name: string
}

/** Names by what they are of: the same thing has the same origin, whatever it is called. */
function namesIn(design: Design, target: Target, engine: Parameters<typeof derive>[2]): Map<string, Named> {
  const names = new Map<string, Named>()
  const { tables, views = [] } = derive(design, target, engine).catalog
  const note = (kind: string, table: string, name: string, origin: Origin | undefined, more = '') => {
    if (origin) names.set(`${kind} ${origin.id} ${origin.part} ${more}`, { kind, table, name })
  }
  for (const table of tables) {
    note('table', table.name, table.name, table.origin)
    for (const kind of MEMBER_KINDS)
      members(table, kind).forEach((member, i) =>
        // Several columns of a link have one origin each, by their paths; checks of one thing are told apart by their place.
        note(KIND_WORDS[kind], table.name, member.name, member.origin, kind === 'check' ? String(i) : '')
      )
  }
  for (const view of views) note('view', view.name, view.name, view.origin)
  return names
}
