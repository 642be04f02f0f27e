// The script of a design that is being edited: after each edit, what it does not reach is neither derived nor written again.
import { sameValue, type Address } from '../catalog'
import { deriveAgain, type Standing } from '../derive'
import type { Design, ScriptSettings, Target } from '../design'
import type { Dialect } from '../dialects'
import type { Notice } from '../notice'
import { writeAgain, type Statement, type Written } from '../plan'

export interface LiveState {
  readonly statements: readonly Statement[]
  readonly notices: readonly Notice[]
}

export class LiveScript {
  private standing: Standing | undefined
  private written: Written | undefined

  /** `only`: of these entities, by their ids. Statements that stay are the same objects. */
  update(
    design: Design,
    target: Target,
    engine: Dialect,
    { make, without }: ScriptSettings = {},
    only?: ReadonlySet<string>
  ): LiveState {
    const { catalog, notices } = this.derive(design, target, engine)
    const tables = only && catalog.tables.filter(({ origin }) => origin && only.has(origin.id)).map(({ name }) => name)
    const options = {
      ...(make ? { make } : {}),
      ...(without ? { without } : {}),
      ...(tables ? { only: new Set(tables) } : {})
    }
    this.written = writeAgain(catalog, engine, options, this.written)
    return { statements: this.written.statements, notices }
  }

  derive(design: Design, target: Target, engine: Dialect): Standing {
    const before = this.standing
    // One that was made for the moment says the same in other objects.
    const same = before && sameValue(pick(before.target), pick(target)) ? before.target : pick(target)
    this.standing = deriveAgain(design, same, engine, before)
    return this.standing
  }

  /** The objects of the catalogue that come from these of the design. */
  places(ids: readonly string[]): readonly Address[] {
    const trace = this.standing?.trace()
    return ids.flatMap((id) => trace?.get(id) ?? [])
  }
}

const pick = ({
  subtypeTables,
  schemas,
  nested,
  departures,
  extras,
  naming
}: Standing['target']): Standing['target'] => ({
  subtypeTables,
  schemas,
  ...(nested ? { nested } : {}),
  ...(departures ? { departures } : {}),
  ...(extras ? { extras } : {}),
  ...(naming ? { naming } : {})
})
