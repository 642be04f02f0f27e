import type { Link } from '../../design'
import type { Check, Found } from '../check'

export const requiredCircle: Check = {
  id: 'required-circle',
  title: 'Required links in a circle',
  why: 'No first row can ever be written: each needs one that is there before it.',
  grade: 'warning',
  find: ({ design, links }) => {
    const out = new Map<string, Link[]>()
    for (const link of links)
      if ((link.parentRequired || link.identifying) && !link.deferrable)
        out.set(link.child, [...(out.get(link.child) ?? []), link])
    const state = new Map<string, 'open' | 'done'>()
    const found: Found[] = []
    // A walk without recursion: a chain of entities may be long.
    for (const start of out.keys()) {
      const way: { readonly at: string; readonly next: Link[] }[] = []
      const enter = (at: string) => {
        state.set(at, 'open')
        way.push({ at, next: [...(out.get(at) ?? [])] })
      }
      if (!state.has(start)) enter(start)
      for (let step = way.at(-1); step; step = way.at(-1)) {
        const link = step.next.pop()
        if (!link) {
          state.set(step.at, 'done')
          way.pop()
        } else if (state.get(link.parent) === 'open') {
          const from = way.findIndex(({ at }) => at === link.parent)
          const names = way.slice(from).map(({ at }) => design.entities[at]?.name ?? '')
          found.push({
            at: link.id,
            message:
              names.length === 1
                ? `Each ${names.join()} needs another ${names.join()}: the first cannot be written.`
                : `${names.join(' needs ')} needs ${names[0] ?? ''}: none of them can be written first.`,
            ...(link.identifying
              ? {}
              : {
                  fix: {
                    label: 'Let this link be empty',
                    edit: { kind: 'link.set', id: link.id, set: { parentRequired: false } }
                  }
                })
          })
        } else if (!state.has(link.parent)) enter(link.parent)
      }
    }
    return found
  }
}
