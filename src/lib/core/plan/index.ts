export { plan, type Migration } from './plan'
export { closure, type Closure, type ClosureInput } from './closure'
export { stepState, type Fact, type Step } from './step'
