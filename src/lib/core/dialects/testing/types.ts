// Types of no real engine, called and counted otherwise than anybody's: what leans on one engine's words for them fails here.
import type { DataType } from '../../catalog'
import type { NeutralType, StoredType } from '../../types'
import type { TypeSystem } from '../dialect'
import { oneOfAsText, typeSystem, type Carried } from '../standard'

/** `WORD<20>`, `SUM<8:2>`: upper case, with brackets of its own. */
const canonical = (type: string): string => type.trim().toUpperCase().replace(/\s+/g, '')

const plain: readonly (readonly [NeutralType['kind'], string])[] = [
  ['tiny', 'COUNT1'],
  ['small', 'COUNT2'],
  ['integer', 'COUNT4'],
  ['big', 'COUNT8'],
  ['float', 'MEASURE4'],
  ['double', 'MEASURE8'],
  ['boolean', 'FLAG'],
  ['date', 'DAY'],
  ['time', 'CLOCK'],
  ['timestamp', 'MOMENT'],
  ['interval', 'SPAN'],
  ['json', 'TREE'],
  ['binary', 'BYTES']
]

function fromNeutral(type: StoredType): Carried {
  switch (type.kind) {
    case 'text':
      return { type: type.length === undefined ? 'PAGE' : `WORD<${type.length}>`, grade: 'exact' }
    case 'char':
      return { type: `CODE<${type.length}>`, grade: 'exact' }
    case 'decimal':
      return { type: `SUM<${type.precision}:${type.scale}>`, grade: 'exact' }
    case 'uuid':
    case 'xml':
      return { type: 'WORD<36>', grade: 'emulated', note: `there is no ${type.kind}: it is kept as text` }
    case 'oneOf':
      return oneOfAsText(type.values)
    case 'native':
      return { type: type.text, grade: 'exact' }
    default:
      return { type: plain.find(([kind]) => kind === type.kind)?.[1] ?? 'PAGE', grade: 'exact' }
  }
}

function toNeutral(_: DataType, type: string): NeutralType {
  const [, name = type, first, second] = /^([A-Z]+\d?)<(\d+)(?::(\d+))?>$/.exec(type) ?? []
  if (name === 'WORD' && first) return { kind: 'text', length: Number(first) }
  if (name === 'CODE' && first) return { kind: 'char', length: Number(first) }
  if (name === 'SUM' && first) return { kind: 'decimal', precision: Number(first), scale: Number(second ?? 0) }
  if (type === 'PAGE') return { kind: 'text' }
  const kind = plain.find(([, word]) => word === type)?.[0]
  return kind ? ({ kind } as NeutralType) : { kind: 'native', text: type }
}

export const testingTypes: TypeSystem = typeSystem({
  fromNeutral,
  toNeutral,
  canonical,
  describe: () => ({ range: 'as the engine has it', bytes: 'as the engine has it' })
})
