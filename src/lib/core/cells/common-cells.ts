// What typing into a field of a column that every entity has means.
import { newCommon, type Common, type Design, type Edit } from '../design'
import type { Changed } from './domain-cells'
import { typedType } from './typed'
import { typedValue, withValues, type ValuedField } from './valued'

export type CommonField = ValuedField | 'name' | 'dbName' | 'required' | 'kept'

/** What each of those that are kept up is, where nobody says otherwise. */
const USUAL: Readonly<Record<NonNullable<Common['kept']>, Pick<Common, 'type' | 'required'>>> = {
  'made at': { type: { kind: 'timestamp' }, required: true },
  'changed at': { type: { kind: 'timestamp' }, required: true },
  'made by': { type: { kind: 'text', length: 128 }, required: false },
  'changed by': { type: { kind: 'text', length: 128 }, required: false }
}

const setCommon = (object: Common): Edit => ({ kind: 'object.set', collection: 'commons', object })

function whyNotCalled(design: Design, id: string, name: string): string | undefined {
  if (name === '') return 'A column needs a name.'
  const same = (other: { readonly id: string; readonly name: string }) =>
    other.id !== id && other.name.toLowerCase() === name.toLowerCase()
  if (Object.values(design.commons).some(same)) return `Every entity has a column “${name}” already.`
  const own = Object.values(design.entities).filter(
    (entity) => !entity.without?.includes(id) && entity.attributes.some(same)
  )
  const [first] = own
  if (!first) return undefined
  const others = own.length > 1 ? ` and ${own.length - 1} more` : ''
  const have = own.length > 1 ? 'have' : 'has'
  return `${first.name}${others} ${have} a column “${name}” already: remove that first, or call this one otherwise.`
}

/** `kept`: what fills it; then its type is the usual one of such. */
export function addCommon(design: Design, name: string, type: string, kept?: Common['kept']): Changed {
  const called = name.trim()
  const error = whyNotCalled(design, '', called)
  if (error !== undefined) return { error }
  if (kept !== undefined && type.trim() === '')
    return { edit: setCommon(newCommon(design, called, { ...USUAL[kept], kept })) }
  const read = typedType(type.trim())
  if ('error' in read) return read
  return { edit: setCommon(newCommon(design, called, { type: read.value.type, ...(kept ? { kept } : {}) })) }
}

export function changeCommon(design: Design, common: Common, field: CommonField, typed: string): Changed {
  const text = typed.trim()
  const set = (values: object): Changed => ({ edit: setCommon(withValues(common, values)) })
  switch (field) {
    case 'name': {
      const error = whyNotCalled(design, common.id, text)
      return error === undefined ? set({ name: text }) : { error }
    }
    case 'dbName':
      return set({ dbName: text === '' ? undefined : text })
    case 'required':
      return set({ required: text === 'required' })
    case 'kept': {
      const kept = text === '' ? undefined : (text as keyof typeof USUAL)
      const fits = kept === undefined || USUAL[kept].type.kind === common.type.kind
      return set({ kept, default: undefined, ...(kept === undefined || fits ? {} : USUAL[kept]) })
    }
    case 'type':
      if (common.kept !== undefined) {
        const read = typedType(text)
        const moment = common.kept.endsWith('at')
        if (!('error' in read) && moment !== ['timestamp', 'date', 'time'].includes(read.value.type.kind))
          return { error: moment ? 'A moment is a timestamp, a date or a time.' : 'A user is a text.' }
      }
      break
    case 'default':
      if (common.kept !== undefined && text !== '') return { error: 'It is filled by itself: it has no other default.' }
  }
  const read = typedValue(common, field, text)
  return 'error' in read ? read : set(read.value)
}

/** It before the one above it, or behind the one below it. */
export function moveCommon(design: Design, common: Common, by: 1 | -1): Changed {
  const all = Object.values(design.commons).sort((a, b) => a.rank - b.rank)
  const other = all[all.findIndex(({ id }) => id === common.id) + by]
  if (!other) return { error: 'It stands at the end.' }
  return {
    edit: {
      kind: 'all',
      edits: [setCommon({ ...common, rank: other.rank }), setCommon({ ...other, rank: common.rank })]
    }
  }
}

/** The entities have it, or do without it, all by one edit. */
export const withCommon = (design: Design, common: string, entities: readonly string[], has: boolean): Edit => ({
  kind: 'all',
  edits: entities.flatMap((id): Edit[] => {
    const entity = design.entities[id]
    if (!entity || !entity.without?.includes(common) === has) return []
    const without = has ? entity.without?.filter((other) => other !== common) : [...(entity.without ?? []), common]
    return [{ kind: 'entity.set', id, set: { without: without?.length ? without : undefined } }]
  })
})
