// Boxes that room is taken by, looked up by where they are.
import type { Box } from './route'

const CELL = 120

export class Taken {
  private readonly cells = new Map<string, Box[]>()

  add(box: Box): void {
    for (const key of cellsOf(box)) {
      const list = this.cells.get(key)
      if (list) list.push(box)
      else this.cells.set(key, [box])
    }
  }

  isFree(box: Box): boolean {
    return cellsOf(box).every((key) => (this.cells.get(key) ?? []).every((other) => !overlap(box, other)))
  }
}

function cellsOf({ x, y, width, height }: Box): string[] {
  const keys: string[] = []
  for (let i = Math.floor(x / CELL); i * CELL <= x + width; i++)
    for (let j = Math.floor(y / CELL); j * CELL <= y + height; j++) keys.push(`${i} ${j}`)
  return keys
}

const overlap = (a: Box, b: Box): boolean =>
  a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height
