// Commands as people type them for the engine's shell: `db.vessel.find({ trade: "tanker" }).limit(5)`. What is typed is read, and
// never run.
import { parseExpressionAt, type CallExpression, type Expression, type NewExpression, type Property } from 'acorn'
import { Binary, Decimal128, Double, EJSON, Int32, Long, ObjectId, UUID, type Document } from 'bson'
import { copy } from './copy'

type Maker = (collection: string, args: readonly unknown[]) => Document

const many =
  (multi: boolean): Maker =>
  (update, [q = {}, u = {}, more = {}]) => ({ update, updates: [{ q, u, multi, ...(more as Document) }] })
const gone =
  (limit: number): Maker =>
  (name, [q = {}]) => ({ delete: name, deletes: [{ q, limit }] })

const METHODS: Readonly<Record<string, Maker>> = {
  find: (find, [filter = {}, projection]) => ({ find, filter, ...(projection === undefined ? {} : { projection }) }),
  findOne: (find, [filter = {}]) => ({ find, filter, limit: 1 }),
  aggregate: (aggregate, [pipeline = []]) => ({ aggregate, pipeline, cursor: {} }),
  countDocuments: (count, [query = {}]) => ({ count, query }),
  distinct: (distinct, [key, query = {}]) => ({ distinct, key, query }),
  insertOne: (insert, [document]) => ({ insert, documents: [document] }),
  insertMany: (insert, [documents]) => ({ insert, documents }),
  updateOne: many(false),
  updateMany: many(true),
  deleteOne: gone(1),
  deleteMany: gone(0),
  drop: (drop) => ({ drop }),
  getIndexes: (listIndexes) => ({ listIndexes })
}
/** What may be said behind a find. */
const CHAINED = ['sort', 'limit', 'skip']

/** "Data Types in mongosh": the shell's words for values that JavaScript has none for. */
const VALUES: Readonly<Record<string, (value?: unknown) => unknown>> = {
  ObjectId: (hex) => (hex === undefined ? new ObjectId() : new ObjectId(String(hex))),
  ISODate: (text) => (text === undefined ? new Date() : new Date(String(text))),
  Date: (text) => (text === undefined ? new Date() : new Date(text as string)),
  UUID: (text) => new UUID(String(text)),
  Long: (text) => Long.fromString(String(text)),
  NumberLong: (text) => Long.fromString(String(text)),
  Int32: (text) => new Int32(Number(text)),
  NumberInt: (text) => new Int32(Number(text)),
  Double: (text) => new Double(Number(text)),
  Decimal128: (text) => Decimal128.fromString(String(text)),
  NumberDecimal: (text) => Decimal128.fromString(String(text)),
  BinData: (text) => Binary.createFromBase64(String(text))
}

const usage = `Write db.vessel.find({ trade: "tanker" }), with ${Object.keys(METHODS).join(', ')}, or a command as JSON.`
const odd = (text: string): Error =>
  new Error(`This is no command that is known here: “${text.slice(0, 40)}”. ${usage}`)

/** A value as it is written; nothing is worked out. Throws a sentence where it is none. */
function valueOf(node: Expression, text: string): unknown {
  const part = text.slice(node.start, node.end)
  switch (node.type) {
    case 'Literal':
      return node.value
    case 'ArrayExpression':
      return node.elements.map((one) => (one && one.type !== 'SpreadElement' ? valueOf(one, text) : null))
    case 'ObjectExpression':
      return Object.fromEntries(
        node.properties.map((property) => {
          if (property.type === 'SpreadElement' || property.computed) throw odd(part)
          return [keyOf(property), valueOf(property.value, text)]
        })
      )
    case 'UnaryExpression': {
      const value = valueOf(node.argument, text)
      if (node.operator !== '-' || typeof value !== 'number') throw odd(part)
      return -value
    }
    case 'TemplateLiteral':
      if (node.expressions.length > 0) throw odd(part)
      return node.quasis[0]?.value.cooked
    case 'CallExpression':
    case 'NewExpression': {
      const make = node.callee.type === 'Identifier' ? VALUES[node.callee.name] : undefined
      if (!make) throw odd(part)
      return make(argsOf(node, text)[0])
    }
    default:
      throw odd(part)
  }
}

const keyOf = ({ key }: Property): string =>
  key.type === 'Identifier' ? key.name : key.type === 'Literal' ? String(key.value) : ''

const argsOf = (node: CallExpression | NewExpression, text: string): unknown[] =>
  node.arguments.map((one) => {
    if (one.type === 'SpreadElement') throw odd(text.slice(one.start, one.end))
    return valueOf(one, text)
  })

/** The calls of a chain behind `db`, the first first: names that are only gone through have no arguments. */
function linksOf(node: Expression, text: string): { readonly name: string; readonly args?: readonly unknown[] }[] {
  if (node.type === 'Identifier' && node.name === 'db') return []
  if (node.type === 'CallExpression' && node.callee.type === 'MemberExpression') {
    const links = linksOf(node.callee, text)
    const last = links.pop()
    return [...links, { name: last?.name ?? '', args: argsOf(node, text) }]
  }
  if (node.type !== 'MemberExpression' || node.object.type === 'Super') throw odd(text)
  const { property, computed } = node
  if (property.type === 'PrivateIdentifier') throw odd(text)
  const name = computed ? String(valueOf(property, text)) : property.type === 'Identifier' ? property.name : ''
  return [...linksOf(node.object, text), { name }]
}

/** The command of a statement, numbers as JavaScript has them: extended JSON, or calls of the shell's. Throws a sentence where it is neither. */
export function commandOf(statement: string): Document {
  const text = bare(statement)
  return text.startsWith('{') ? (EJSON.parse(text) as Document) : copy(typed(text))
}

/** The same, each number of the type that it was written in. */
export function exactCommandOf(statement: string): Document {
  const text = bare(statement)
  return text.startsWith('{') ? (EJSON.parse(text, { relaxed: false }) as Document) : typed(text)
}

const bare = (statement: string): string => statement.trim().replace(/;\s*$/, '')

/** What calls of the shell's stand for. */
function typed(text: string): Document {
  let node: Expression
  try {
    node = parseExpressionAt(text, 0, { ecmaVersion: 2022 })
  } catch {
    throw odd(text)
  }
  const rest = text.slice(node.end).trim()
  if (rest !== '') throw odd(rest)
  const links = linksOf(node, text)
  const [first] = links
  if (first?.name === 'runCommand' && first.args && links.length === 1) return first.args[0] as Document
  const at = links.findIndex(({ args, name }) => args !== undefined && name !== 'getCollection')
  const named = first?.name === 'getCollection' ? [String(first.args?.[0])] : []
  // A collection's name may have dots in it.
  const collection = [...named, ...links.slice(named.length, Math.max(at, 0)).map(({ name }) => name)].join('.')
  const method = links[at]
  const make = method && METHODS[method.name]
  if (!make || collection === '') throw odd(text)
  return links.slice(at + 1).reduce<Document>(
    (command, { name, args }) => {
      if (!args || !CHAINED.includes(name) || !('find' in command)) throw odd(`.${name}`)
      return { ...command, [name]: args[0] }
    },
    make(collection, method.args ?? [])
  )
}
