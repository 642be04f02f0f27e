export { followJot } from './follow'
export { linesOf } from './lines'
export { printEntity, printJot } from './print'
export { readJot, type JotRead } from './read'
