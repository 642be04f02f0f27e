// A team's own checks: JSONata over the design, as its documentation (docs.jsonata.org) has the language.
import jsonata from 'jsonata'
import { plainName, plainTable } from '../derive'
import { typeWords, type Design, type OwnCheck } from '../design'
import { printType } from '../types'
import type { Finding } from './review'

/** Steps of one expression until it is given up: one that goes on and on stops nothing else. */
const MOST_STEPS = 3_000_000

/**
 * What the checks of a design find. An expression gives objects of the design that are wrong, or objects with their `id`
 * and what it `says` of them. One that cannot be worked out is itself a finding, with the reason.
 */
export async function ownFindings(design: Design): Promise<Finding[]> {
  const checks = Object.values(design.checks)
  if (checks.length === 0) return []
  const input = told(design)
  return (await Promise.all(checks.map((check) => findingsOf(check, input)))).flat()
}

async function findingsOf(check: OwnCheck, input: object): Promise<Finding[]> {
  const { id, name, why = '', grade } = check
  const finding = (at: string, message: string): Finding => ({ check: id, title: name, why, grade, at, message })
  try {
    const result: unknown = await bounded(check.expression).evaluate(input)
    const list: unknown[] = Array.isArray(result) ? result : result === undefined || result === false ? [] : [result]
    return list.map((one) => {
      const fields = new Map(typeof one === 'object' && one !== null ? Object.entries(one) : [])
      const words = fields.get('says') ?? fields.get('name') ?? (typeof one === 'string' ? one : '')
      return finding(String(fields.get('id') ?? ''), String(words === '' ? name : words))
    })
  } catch (error) {
    return [finding(id, `“${name}” cannot be worked out: ${whyNot(error)}`)]
  }
}

/** Why an expression is none; nothing where it is one. */
export function whyNoCheck(expression: string): string | undefined {
  try {
    jsonata(expression)
    return undefined
  } catch (error) {
    return whyNot(error)
  }
}

function whyNot(error: unknown): string {
  const { message, position } = error as { message?: string; position?: number }
  return (message ?? String(error)) + (position === undefined ? '' : ` (at character ${position})`)
}

function bounded(text: string): jsonata.Expression {
  const expression = jsonata(text)
  let steps = 0
  const count = () => {
    if (++steps > MOST_STEPS) throw new Error('It takes too many steps.')
  }
  // As "Timeout/Loop protection" of its own exerciser does it.
  expression.assign(Symbol.for('jsonata.__evaluate_entry') as never, count)
  return expression
}

/** The design as an expression sees it: names instead of ids, types as they are typed. */
function told(design: Design): object {
  const name = (id: string) => design.entities[id]?.name ?? design.links[id]?.role ?? ''
  return {
    name: design.name,
    entities: Object.values(design.entities).map((entity) => ({
      id: entity.id,
      name: entity.name,
      dbName: plainTable(entity, design.settings),
      area: entity.area === undefined ? undefined : design.areas[entity.area]?.name,
      namespace: entity.namespace,
      means: entity.means,
      columns: entity.attributes.map((attribute) => ({
        id: attribute.id,
        name: attribute.name,
        dbName: attribute.dbName ?? plainName(attribute.name, design.settings),
        type: typeWords(design, attribute),
        domain: attribute.domain === undefined ? undefined : design.domains[attribute.domain]?.name,
        required: attribute.required,
        key: entity.primaryKey.includes(attribute.id),
        default: attribute.default,
        min: attribute.min,
        max: attribute.max,
        means: attribute.means
      })),
      uniques: entity.uniques.length,
      indexes: entity.indexes.length,
      rules: entity.rules.map(({ name: called, condition }) => ({ name: called, condition }))
    })),
    links: Object.values(design.links).map((link) => ({
      id: link.id,
      from: name(link.child),
      to: name(link.parent),
      role: link.role,
      kind: link.kind,
      required: link.parentRequired,
      partOf: link.identifying,
      onDelete: link.onDelete,
      onUpdate: link.onUpdate
    })),
    domains: Object.values(design.domains).map(({ id, name: called, type }) => ({
      id,
      name: called,
      type: printType(type)
    })),
    views: Object.values(design.views).map(({ id, name: called }) => ({ id, name: called })),
    targets: Object.values(design.targets).map(({ id, name: called, engine, version }) => ({
      id,
      name: called,
      engine,
      version
    }))
  }
}
