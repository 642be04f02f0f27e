// The laws of changes and plans on random catalogues, for PostgreSQL and for an engine that is unlike it in everything.
import fc from 'fast-check'
import { loadModule, parseSync } from 'libpg-query'
import { beforeAll, describe, expect, it } from 'vitest'
import { asRenamed, catalogs, withOrigins } from '../../../../tests/support/catalogs'
import { applied, apply, canonical, compose, invert, type Catalog, type Change } from '../catalog'
import { compare } from '../compare'
import { dialect as dialectOf, type Dialect } from '../dialects'
import { testingDialect } from '../dialects/testing'
import { nameLength } from '../naming'
import { flatExpression } from '../sql'
import { writeScript, plan, stepState } from '.'

const cases = { numRuns: 300 }
const engines: readonly Dialect[] = [
  dialectOf('postgres') as Dialect,
  dialectOf('firebird', '5.0') as Dialect,
  testingDialect()
]

const expressions = new Set(['default', 'generated', 'expression', 'where'])

/** The same value for catalogues that mean the same, up to the order of things. */
function form(catalog: Catalog, dialect: Dialect): unknown {
  const plain = canonical(catalog)
  const byName = (a: { name: string }, b: { name: string }) => (a.name < b.name ? -1 : 1)
  const tables = plain.tables.map((table) => ({ ...table, columns: [...table.columns].sort(byName) }))
  return JSON.parse(
    JSON.stringify({ ...plain, tables }, (key, value: unknown) =>
      expressions.has(key) && typeof value === 'string' ? flatExpression(value, dialect.write.lexis) : value
    )
  )
}

beforeAll(() => loadModule())

describe.each(engines.map((dialect) => [dialect.profile.label, dialect] as const))('%s', (_, dialect) => {
  /** Two states, the second by name alone or with the identities of the first, so that names move about. */
  const pairs = fc
    .tuple(catalogs(dialect), catalogs(dialect), fc.nat(4), fc.boolean())
    .map(([a, b, shift, renaming]) => {
      const agreed = renaming ? withOrigins(a) : undefined
      return { a, b: agreed ? asRenamed(b, agreed, shift) : b, agreed }
    })
  const changesOf = ({ a, b, agreed }: { a: Catalog; b: Catalog; agreed: Catalog | undefined }) =>
    compare({ wanted: b, live: a, agreed }, dialect).changes

  it('finds no difference between a catalogue and itself', () => {
    fc.assert(
      fc.property(catalogs(dialect), (a) => {
        expect(compare({ wanted: a, live: a }, dialect).changes).toEqual([])
      }),
      cases
    )
  })

  it('apply(compare(A, B), A) = B', () => {
    fc.assert(
      fc.property(pairs, (pair) => {
        expect(form(applied(changesOf(pair), pair.a, dialect.write), dialect)).toEqual(form(pair.b, dialect))
      }),
      cases
    )
  })

  it('apply(invert(changes), B) = A', () => {
    fc.assert(
      fc.property(pairs, (pair) => {
        const changes = changesOf(pair)
        const there = applied(changes, pair.a, dialect.write)
        expect(form(applied(invert(changes), there, dialect.write), dialect)).toEqual(form(pair.a, dialect))
      }),
      cases
    )
  })

  it('apply(compose(a, b), A) = apply(b, apply(a, A)); a change that does not fit is told, and nothing is changed', () => {
    fc.assert(
      fc.property(pairs, (pair) => {
        const changes = changesOf(pair)
        const back = invert(changes)
        const both = compose(changes, back, changes, back)
        expect(form(applied(both, pair.a, dialect.write), dialect)).toEqual(form(pair.a, dialect))
        // What was made is there already, and what went is gone: the second time round, each of them is one too many.
        for (const change of changes) {
          if (change.action !== 'create' && change.action !== 'drop') continue
          const twice = change.action === 'create' ? [...changes, change] : [change, change]
          expect(apply(twice, pair.a, dialect.write)).toMatchObject({
            ok: false,
            notices: [{ code: 'change-not-fitting' }]
          })
        }
      }),
      cases
    )
  })

  it('the effects of a plan’s steps, one after the other, lead to what is wanted; each step knows whether it is done', () => {
    fc.assert(
      fc.property(pairs, (pair) => {
        const { steps, to, left } = plan(pair.a, changesOf(pair), dialect)
        expect(left).toBeUndefined()
        let state = pair.a
        for (const step of steps) {
          if (step.before.length) expect(stepState(step, state, dialect), step.statement).toBe('to do')
          state = applied(step.effects, state, dialect.write)
          if (step.after.length) expect(stepState(step, state, dialect), step.statement).toBe('done')
        }
        expect(form(state, dialect)).toEqual(form(to, dialect))
        expect(form(to, dialect)).toEqual(form(pair.b, dialect))
      }),
      cases
    )
  })

  /** What is computed holds nothing of its own. */
  const drops = (change: Change) =>
    change.action === 'drop' &&
    (change.object.kind === 'table' || (change.object.kind === 'column' && change.object.value.generated === undefined))
  /** Rows that have been copied live on under another name, or in another type. */
  const carries = (change: Change) =>
    change.action === 'rename' || (change.action === 'alter' && change.property === 'type')
  it('drops nothing that holds rows without saying that it loses data', () => {
    fc.assert(
      fc.property(pairs, (pair) => {
        for (const step of plan(pair.a, changesOf(pair), dialect).steps)
          if (step.effects.some(drops) && !step.effects.some(carries))
            expect(step.hazards.map((h) => h.kind)).toContain('loses data')
      }),
      cases
    )
  })

  it('keeps to what the engine can do', () => {
    const { limit, unit } = dialect.profile.names
    fc.assert(
      fc.property(pairs, (pair) => {
        const steps = plan(pair.a, changesOf(pair), dialect).steps
        const statements = [
          ...writeScript(pair.b, dialect, { make: 'both' }).map((s) => s.sql),
          ...steps.map((s) => s.statement)
        ]
        if (!dialect.profile.features.ifExists) expect(statements.join('\n')).not.toMatch(/IF (NOT )?EXISTS/)
        if (!dialect.profile.features.comments) expect(statements.join('\n')).not.toMatch(/COMMENT ON/)
        if (!dialect.profile.features.renameConstraint) expect(statements.join('\n')).not.toMatch(/RENAME CONSTRAINT/)
        if (!dialect.profile.features.transactionalDdl)
          expect(new Set(steps.map((s) => s.group)).size).toBe(steps.length)
        for (const table of pair.b.tables) expect(nameLength(table.name, unit)).toBeLessThanOrEqual(limit)
      }),
      cases
    )
  })

  it.runIf(dialect.profile.id === 'postgres')(
    'every statement is one to PostgreSQL’s own grammar (libpg-query)',
    () => {
      fc.assert(
        fc.property(pairs, (pair) => {
          const steps = plan(pair.a, changesOf(pair), dialect).steps
          const statements = [
            ...writeScript(pair.b, dialect, { make: 'both' }).map((s) => s.sql),
            ...steps.flatMap((s) => [
              s.statement,
              ...s.undo,
              ...(s.preflight ? [s.preflight.count, s.preflight.rows] : [])
            ])
          ]
          for (const statement of statements) expect(parseSync(statement).stmts?.length, statement).toBe(1)
        }),
        cases
      )
    }
  )
})
