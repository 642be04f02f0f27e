export { HEAD, type Card, type CardRow } from './card'
export { freePlace, inRows, layoutRequest, type LayoutRequest, type Places } from './layout'
export { DAYLIGHT, LAMPLIGHT, type Palette } from './palette'
export { fontRules, lettersOf, type Fonts, type Subset } from './fonts'
export { sheet, type Sheet } from './sheet'
export { svgOf } from './svg'
export { NOTATIONS, notationOf, type LegendItem, type Notation, type NotationId } from './notation'
export {
  around,
  drawnLinks,
  factsByDimension,
  neighbourhood,
  picture,
  shown,
  type AreaShape,
  type Picture,
  type PictureOptions,
  type PlacedCard
} from './picture'
export { withMoved } from './moving'
export { isFront, type PlacedNote } from './notes'
export { pathWithin, type Box, type LineWay, type Route } from './route'
export { starPlaces, type StarRequest } from './stars'
export { aligned, ALIGNMENTS, spaced, type Alignment } from './spacing'
export type { Ink, Shape } from './shapes'
