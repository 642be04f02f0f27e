export { HEAD, NAME_X, ROW, type Card, type CardRow } from './card'
export { freePlace, inRows, layoutRequest, type LayoutRequest, type Places } from './layout'
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
