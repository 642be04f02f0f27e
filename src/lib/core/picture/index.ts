export { HEAD, type Card, type CardRow } from './card'
export { freePlace, inRows, layoutRequest, type LayoutRequest, type Places } from './layout'
export { DAYLIGHT, LAMPLIGHT, type Palette } from './palette'
export { fontRules } from './fonts'
export { sheet, type Sheet } from './sheet'
export { svgOf } from './svg'
export { NOTATIONS, notationOf, type LegendItem, type Notation, type NotationId } from './notation'
export {
  around,
  drawnLinks,
  neighbourhood,
  picture,
  shown,
  type AreaShape,
  type Picture,
  type PlacedCard
} from './picture'
export { pathWithin, type Box, type Route } from './route'
export type { Ink, Shape } from './shapes'
