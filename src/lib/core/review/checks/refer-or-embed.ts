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
          const { embed, reasons, held, home } = embedding(design, link)
          if (link.embedded !== undefined || !embed) return []
          return {
            at: link.id,
            message: `${held.charAt(0).toUpperCase()}${held.slice(1)} could be kept in ${home}. ${reasons.join(' ')}`,
            fix: { label: `Keep it in ${home}`, edit: { kind: 'link.set', id: link.id, set: { embedded: true } } }
          }
        })
      : []
}
