export { migrationScript, plan, type Migration } from './plan'
export { closure, closureOfTaking, type Closure, type ClosureInput } from './closure'
export { stepState, type Fact, type Group, type Step } from './step'
export { stepKey, weave } from './weave'
