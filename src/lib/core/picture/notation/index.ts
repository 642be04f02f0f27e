import { barker } from './barker'
import { chen } from './chen'
import { crowsFoot } from './crows-foot'
import { idef1x } from './idef1x'
import type { Notation, NotationId } from './notation'
import { uml } from './uml'

export const NOTATIONS: readonly Notation[] = [crowsFoot, idef1x, uml, barker, chen]

/** The notation of that name; crow's foot where none is said. */
export const notationOf = (id: NotationId | undefined): Notation =>
  NOTATIONS.find((notation) => notation.id === id) ?? crowsFoot

export type {
  CardForm,
  DrawnLink,
  EndAt,
  GroupAt,
  LegendItem,
  LineShape,
  LinkAt,
  Notation,
  NotationId
} from './notation'
