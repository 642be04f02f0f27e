export { plan, type Migration } from './plan'
export { stepState, type Fact, type Step } from './step'
