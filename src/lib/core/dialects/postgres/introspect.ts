// Asks a PostgreSQL server what it holds: all questions at once, in one transaction, so that the answers are of one moment.
import { addressOf, type Catalog, type Table, type UnreadObject, type View } from '../../catalog'
import type { CatalogQueries, RunQuery } from '../dialect'
import { postgresByHand } from './by-hand'
import {
  defaultRightsOf,
  extensionOf,
  policyOf,
  routineOf,
  ruleOf,
  schemaOf,
  sequenceOf,
  triggerOf,
  typeOf,
  viewOf
} from './others'
import { DEFAULT_SCHEMA } from './profile'
import { lookThrough, PUBLIC_PATH, questions } from './queries'
import { references } from './refs'
import { tableOf, type CommentOf } from './relations'
import { groupBy, optional, partsOf, some, str, type Row } from './rows'

type Asked = ReturnType<typeof questions>
type Answers = { readonly [K in keyof (Asked['plain'] & Asked['qualified'])]: readonly Row[] }

/**
 * What tables say is printed with bare names for what is in the schema `public`; what is carried as it is names everything
 * with its schema, so that it means the same wherever it is run.
 */
async function ask(query: RunQuery, { plain, qualified }: Asked): Promise<Answers> {
  const named = [...Object.entries(plain), ...Object.entries(qualified)]
  const asked = [
    'BEGIN ISOLATION LEVEL REPEATABLE READ READ ONLY',
    // To compile a question takes longer than to answer it.
    'SET LOCAL jit = off',
    lookThrough(PUBLIC_PATH),
    ...Object.values(plain),
    lookThrough(`''`),
    ...Object.values(qualified),
    'COMMIT'
  ].map((sql) => query(sql))
  try {
    const answers = await Promise.all(asked)
    const rows = [
      ...answers.slice(3, 3 + Object.keys(plain).length),
      ...answers.slice(4 + Object.keys(plain).length, -1)
    ]
    return Object.fromEntries(named.map(([name], i) => [name, rows[i] ?? []])) as unknown as Answers
  } catch (error) {
    await Promise.allSettled(asked)
    await query('ROLLBACK').catch(() => undefined)
    throw error
  }
}

async function versionOf(query: RunQuery): Promise<number> {
  const [known] = await query(`SELECT current_setting('server_version_num')::int / 10000 AS version`)
  return Number(known?.['version'])
}

async function read(query: RunQuery, schemas?: readonly string[], version?: string): Promise<Catalog> {
  const answers = await ask(query, questions(schemas, version === undefined ? await versionOf(query) : Number(version)))
  const byId = (rows: readonly Row[]) => groupBy(rows, (row) => str(row, 'id'))
  const byHome = (rows: readonly Row[]) => {
    const found = groupBy(rows, (row) => JSON.stringify([str(row, 'schema'), str(row, 'home')]))
    return (row: Row) => found(JSON.stringify([str(row, 'schema'), str(row, 'name')]))
  }
  const [columns, constraints, indexes] = [byId(answers.columns), byId(answers.constraints), byId(answers.indexes)]
  const [triggers, policies, rules] = [byHome(answers.triggers), byHome(answers.policies), byHome(answers.rules)]
  const comments = partsOf(answers.comments, (row) => `${str(row, 'class')} ${str(row, 'id')}`)
  const names = partsOf(answers.columns, (row) => str(row, 'id'))
  const identities = partsOf(answers.identities, (row) => str(row, 'id'))
  const nameOf = (id: unknown, number: unknown) => {
    const row = names(String(id), number)
    return row ? str(row, 'name') : ''
  }
  const refsOf = references(answers, nameOf)
  const commentOf: CommentOf = (catalog, id, number = 0) => {
    const row = answers.comments.length > 0 ? comments(`${catalog} ${String(id)}`, number) : undefined
    return row ? { comment: str(row, 'comment') } : {}
  }
  const full = <K extends string, T>(key: K, list: readonly T[]) => some(key, list.length ? list : undefined)

  const tables = answers.tables.map((row): Table => {
    const id = str(row, 'oid')
    return {
      ...tableOf(row, {
        columns: columns(id),
        constraints: constraints(id),
        indexes: indexes(id),
        commentOf,
        nameOf,
        refsOf,
        identityOf: (table, number) => identities(String(table), number)
      }),
      ...full(
        'triggers',
        triggers(row).map((trigger) => triggerOf(trigger, refsOf))
      ),
      ...full(
        'policies',
        policies(row).map((policy) => policyOf(policy, refsOf))
      ),
      ...full(
        'rules',
        rules(row).map((rule) => ruleOf(rule, refsOf))
      )
    }
  })
  const views = answers.views.map((row): View =>
    viewOf(row, {
      indexes: indexes(str(row, 'oid')),
      commentOf,
      triggers: triggers(row).map((trigger) => triggerOf(trigger, refsOf)),
      rules: rules(row).map((rule) => ruleOf(rule, refsOf)),
      refsOf
    })
  )
  const [server] = answers.server
  return {
    engine: 'postgres',
    defaultSchema: DEFAULT_SCHEMA,
    ...some('serverVersion', server && optional(server, 'version')),
    ...full('schemas', answers.schemas.map(schemaOf)),
    ...full('extensions', answers.extensions.map(extensionOf)),
    ...full(
      'types',
      answers.types.map((row) => typeOf(row, refsOf))
    ),
    ...full('sequences', answers.sequences.map(sequenceOf)),
    ...full(
      'routines',
      answers.routines.map((row) => routineOf(row, refsOf))
    ),
    tables,
    ...full('views', views),
    ...full('defaultRights', answers.defaultRights.map(defaultRightsOf)),
    unread: answers.unread.map((row): UnreadObject => {
      const of = row['of'] as readonly (readonly string[])[] | null
      return {
        kind: str(row, 'kind'),
        name: str(row, 'name'),
        ...(of ? { of: of.map((path) => addressOf('column', ...path)) } : {})
      }
    })
  }
}

export const postgresQueries: CatalogQueries = { read, byHand: postgresByHand }
