import type { Check } from '../check'
import { embedding } from '../embedding'

export const referOrEmbed: Check = {
  id: 'refer-or-embed',
  title: 'It could be kept within another',
  why: 'What is read and changed together is best one document; what grows or is led to by others is best apart. Nobody has said yet which it is.',
  grade: 'info',
  find: ({ design, links, engine }) =>
    engine.profile.features.fields
      ? links.flatMap((link) => {
          const { embed, reasons } = embedding(design, link)
          const [child, parent] = [design.entities[link.child]?.name ?? '', design.entities[link.parent]?.name ?? '']
          if (link.embedded !== undefined || !embed) return []
          return {
            at: link.id,
            message: `${child} could be kept in ${parent}. ${reasons.join(' ')}`,
            fix: { label: `Keep it in ${parent}`, edit: { kind: 'link.set', id: link.id, set: { embedded: true } } }
          }
        })
      : []
}
