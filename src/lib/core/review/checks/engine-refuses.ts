import type { Check } from '../check'

export const engineRefuses: Check = {
  id: 'engine-refuses',
  title: 'The engine would refuse it',
  why: 'No script that holds it runs.',
  grade: 'error',
  find: ({ derived }) =>
    derived.notices.flatMap(({ severity, where, message }) =>
      severity === 'error' ? [{ at: where ?? '', message }] : []
    )
}
