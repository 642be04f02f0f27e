export { withAreas, type AreasBy } from './areas'
export { adopt, type Adopted } from './adopt'
export { leftOut } from './leave'
export { take, takeHere, type Taken } from './take'
