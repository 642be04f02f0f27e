import type { Check } from '../check'

/** Told by checks of their own, which say what would be better. */
const ELSEWHERE = new Set(['name-shortened', 'name-reserved'])

export const engineChanges: Check = {
  id: 'engine-changes',
  title: 'The engine has it otherwise',
  why: 'What is designed is not, or not quite, what the target holds.',
  grade: 'info',
  find: ({ derived }) =>
    derived.notices.flatMap(({ code, severity, where, message }) =>
      severity === 'error' || ELSEWHERE.has(code) ? [] : [{ at: where ?? '', message }]
    )
}
