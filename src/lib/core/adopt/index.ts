export { adopt, type Adopted } from './adopt'
export { take, takeHere, type Taken } from './take'
