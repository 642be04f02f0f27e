// The review of a design, or of a database or script as the design that it would become.
import { newTarget, type Design, type Target } from '../lib/core/design'
import { review, type Finding } from '../lib/core/review'
import { CouldNot } from './could-not'
import { open, type Common } from './commands'
import { given, json, type Outcome } from './outcome'
import { readInto } from './read'

/** Ends with 1 where an engine would refuse something; with `strict`, also where there is a warning. */
export async function reviewCommand(source: string, options: Common & { strict?: boolean }): Promise<Outcome> {
  const { engine, names, sources } = await open({ ...options, scripts: true }, source)
  const { designed } = sources[0]
  const read = designed ? undefined : readInto(sources[0], engine, { name: names[0], infer: [] })
  const design = (designed ?? read)?.design
  if (!design) throw new CouldNot(`${source} holds no design.`)
  const target = designed?.target ?? targetIn(design) ?? newTarget('any')
  const { findings, silenced } = await review(design, target)
  // What a database holds already, its engine has not refused.
  const told = designed
    ? findings
    : findings.map((one) => (one.grade === 'error' ? { ...one, grade: 'warning' as const } : one))
  const fails = told.some(({ grade }) => grade === 'error' || (options.strict === true && grade === 'warning'))
  return {
    output: given(
      options,
      options.json ? json({ findings: told.map(plain), silenced: silenced.map(plain) }) : text(told)
    ),
    notices: read?.notices ?? [],
    code: fails ? 1 : 0
  }
}

const targetIn = ({ targets }: Design): Target | undefined => Object.values(targets)[0]

/** Without the edit, which is for the application to make. */
const plain = <T extends Partial<Finding>>({ fix, ...rest }: T) => ({ ...rest, ...(fix ? { fix: fix.label } : {}) })

/** A line each: how grave, which check, what. */
function text(findings: readonly Finding[]): string {
  const width = Math.max(0, ...findings.map(({ check }) => check.length))
  const lines = findings.map(({ grade, check, message }) => `${grade.padEnd(7)}  ${check.padEnd(width)}  ${message}\n`)
  return lines.length > 0 ? lines.join('') : 'Nothing to remark.\n'
}
