export { take, takeHere, type Taken } from './take'
