import type { Ref } from '../../catalog'

/** What a check stands on beside its own table. */
export function beyond(table: string, all: readonly Ref[] = []): { readonly refs?: readonly Ref[] } {
  const refs = all.filter(({ to }) => to.path[1] !== table)
  return refs.length > 0 ? { refs } : {}
}
