export { printEntity, printJot } from './print'
export { readJot, type JotRead } from './read'
