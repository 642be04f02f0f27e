// A design, looked at as somebody would who has to live with it: what is found, how grave, why, and what mends it.
import { derive, type Derived } from '../derive'
import type { Design, Grading, Target } from '../design'
import { dialect } from '../dialects'
import type { Severity } from '../notice'
import { subjectOf, type Found } from './check'
import { CHECKS } from './checks'
import { ownFindings } from './own'

export interface Finding extends Found {
  readonly check: string
  readonly title: string
  readonly why: string
  readonly grade: Severity
}

/** A check that found something which does not count, by a word and a reason of somebody's. */
export interface Silenced extends Omit<Finding, 'grade'> {
  readonly reason: string
}

export interface Review {
  /** The gravest first; of one check, in the order of names. */
  readonly findings: readonly Finding[]
  readonly silenced: readonly Silenced[]
}

const GRAVITY: Readonly<Record<Severity, number>> = { error: 0, warning: 1, info: 2 }

/** Reviews a design for one target, by all checks and the design's own. Rejects where the target's engine is not known here. */
export const review = async (design: Design, target: Target, derived?: Derived): Promise<Review> =>
  graded(design, [...findings(design, target, derived), ...(await ownFindings(design))])

function findings(design: Design, target: Target, derived?: Derived): Finding[] {
  const engine = dialect(target.engine, target.version)
  if (!engine) throw new Error(`The engine ${target.engine} is not known here.`)
  const subject = subjectOf(design, target, engine, derived ?? derive(design, target, engine))
  return CHECKS.flatMap(({ id, title, why, grade, find }) =>
    find(subject).map((one): Finding => ({ ...one, check: id, title, why, grade }))
  )
}

/** Findings as the design grades them: by what it says of the one object, else of the check. */
function graded(design: Design, found: readonly Finding[]): Review {
  const said = new Map(Object.values(design.grades).map((one) => [`${one.check} ${one.at ?? ''}`, one]))
  const gradingOf = ({ check, at }: Finding): Grading | undefined => said.get(`${check} ${at}`) ?? said.get(`${check} `)
  const findings: Finding[] = []
  const silenced: Silenced[] = []
  for (const finding of found) {
    const { grade = finding.grade, reason = '' } = gradingOf(finding) ?? {}
    const { grade: _grade, ...rest } = finding
    if (grade === 'off') silenced.push({ ...rest, reason })
    else findings.push({ ...finding, grade })
  }
  // Sorting keeps the order of checks within a grade.
  return { findings: findings.sort((a, b) => GRAVITY[a.grade] - GRAVITY[b.grade]), silenced }
}
