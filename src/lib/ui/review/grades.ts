// How grave something is, in words.
import type { Grading } from '../../core/design'
import type { Finding } from '../../core/review'

export const GRADES: readonly {
  readonly grade: Finding['grade']
  readonly title: string
  readonly one: string
  readonly many: string
}[] = [
  { grade: 'error', title: 'Must be mended', one: 'error', many: 'errors' },
  { grade: 'warning', title: 'Likely trouble', one: 'warning', many: 'warnings' },
  { grade: 'info', title: 'Worth a thought', one: 'remark', many: 'remarks' }
]

export const GRADE_CHOICES: readonly { readonly grade: Grading['grade']; readonly words: string }[] = [
  { grade: 'error', words: 'must be mended' },
  { grade: 'warning', words: 'likely trouble' },
  { grade: 'info', words: 'worth a thought' },
  { grade: 'off', words: 'is passed over' }
]
