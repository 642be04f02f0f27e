// A reader that knows the notations and nothing of the design: from paths and texts alone it gets back who is linked with whom, how many of
// each there may and must be, what identifies, and who is a subtype of whom. What each notation has signs for is in docs/notations.md.
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { edit, newDesign, newEntity, newLink, type Design, type Link, type Subtypes } from '../design'
import { NOTATIONS, picture, type NotationId } from '.'
import { drawing } from './drawing'
import type { PathShape, Point, TextShape } from './shapes'

interface Bounds {
  readonly entity: string
  readonly least: number
  readonly many: boolean
}
interface Told {
  readonly links: readonly { readonly ends: readonly Bounds[]; readonly identifying: boolean }[]
  readonly groups: readonly {
    readonly supertype: string
    readonly subtypes: readonly string[]
    readonly complete: boolean
    readonly exclusive: boolean
  }[]
}

// ── the paths and texts of a drawing, in one plane ──────────────────────────────────────────────────────────────────────────────────

interface Stroke {
  readonly shape: PathShape
  /** Of each piece that is drawn without lifting the pen, its points; of curves, the ends. */
  readonly runs: readonly (readonly Point[])[]
  readonly curves: number
  readonly arcs: number
}

function strokesAndTexts(design: Design, notation: NotationId): { strokes: Stroke[]; texts: TextShape[] } {
  const diagram = Object.values(design.diagrams)[0]
  if (!diagram) throw new Error('a design has a diagram')
  const { notation: _, ...plain } = diagram
  const drawn = picture(design, notation === 'crows foot' ? plain : { ...plain, notation })
  const [strokes, texts]: [Stroke[], TextShape[]] = [[], []]
  for (const { x, y, shapes } of drawing(drawn))
    for (const shape of shapes)
      if (shape.kind === 'text') texts.push({ ...shape, x: shape.x + x, y: shape.y + y })
      else {
        const runs: Point[][] = []
        for (const [, letter = '', rest = ''] of shape.d.matchAll(/([MLQAZ])([^MLQAZ]*)/g)) {
          const numbers = rest
            .trim()
            .split(/[\s,]+/)
            .map(Number)
          const [ax = 0, ay = 0] = numbers.slice(-2)
          if (letter === 'M') runs.push([[ax + x, ay + y]])
          else if (letter === 'Z') runs.at(-1)?.push(...(runs.at(-1)?.slice(0, 1) ?? []))
          else runs.at(-1)?.push([ax + x, ay + y])
        }
        const count = (letter: string) => shape.d.split(letter).length - 1
        strokes.push({ shape, runs, curves: count('Q'), arcs: count('A') })
      }
  return { strokes, texts }
}

const near = ([ax, ay]: Point, [bx, by]: Point, within = 0.6) => Math.hypot(ax - bx, ay - by) <= within
const middle = (points: readonly Point[]): Point => {
  const unique = points.filter((p, i) => points.findIndex((q) => near(p, q, 0.01)) === i)
  const sum = (axis: 0 | 1) => unique.reduce((all, point) => all + point[axis], 0) / unique.length
  return [sum(0), sum(1)]
}
const isClosed = (run: readonly Point[]) => {
  const [first, last] = [run[0], run.at(-1)]
  return run.length > 2 && first !== undefined && last !== undefined && near(first, last)
}

// ── boxes with names, and the lines between them ──────────────────────────────────────────────────────────────────────────────────────

interface Named {
  readonly name: string
  readonly left: number
  readonly top: number
  readonly right: number
  readonly bottom: number
}

/** Each bold name, and the smallest box that it stands in or right above. */
function boxesOf(strokes: readonly Stroke[], texts: readonly TextShape[]): Named[] {
  const boxes = strokes.flatMap(({ shape, runs }) => {
    const [run] = runs
    if (
      !run ||
      !isClosed(run) ||
      shape.fill !== 'sheet' ||
      run.length < 5 ||
      (run[1]?.[0] ?? 0) - (run[0]?.[0] ?? 0) < 60
    )
      return []
    const [xs, ys] = [run.map(([x]) => x), run.map(([, y]) => y)]
    return [{ left: Math.min(...xs), top: Math.min(...ys), right: Math.max(...xs), bottom: Math.max(...ys) }]
  })
  return texts
    .filter(({ face }) => face === 'bold')
    .flatMap(({ text, x, y }) => {
      const around = boxes.filter((b) => x >= b.left - 3 && x <= b.right && y >= b.top - 8 && y <= b.bottom)
      const [box] = around.sort(
        (a, b) => (a.right - a.left) * (a.bottom - a.top) - (b.right - b.left) * (b.bottom - b.top)
      )
      return box ? [{ ...box, name: text.toLowerCase() }] : []
    })
}

const onEdge = ({ left, top, right, bottom }: Named, [x, y]: Point) =>
  x >= left - 0.6 &&
  x <= right + 0.6 &&
  y >= top - 0.6 &&
  y <= bottom + 0.6 &&
  [x - left, x - right, y - top, y - bottom].some((d) => Math.abs(d) <= 0.6)

interface Line {
  readonly from: Point
  readonly to: Point
  readonly dashed: boolean
  readonly double: boolean
}

const linesOf = (strokes: readonly Stroke[]): Line[] =>
  strokes.flatMap(({ shape, runs, arcs }) => {
    const [run] = runs
    const [from, to] = [run?.[0], run?.at(-1)]
    if (shape.stroke !== 'soft' || shape.fill || arcs > 0 || runs.length !== 1 || !from || !to) return []
    return [{ from, to, dashed: shape.dash !== undefined, double: (shape.width ?? 1) > 3 }]
  })

interface End {
  readonly box: Named
  readonly at: Point
  /** The line, or half of it, that is at this end. */
  readonly line: Line
}
/** Lines that hang together, where they meet boxes. */
interface Chain {
  readonly lines: readonly Line[]
  readonly ends: readonly End[]
  readonly joints: readonly Point[]
}

function chainsOf(
  lines: readonly Line[],
  boxes: readonly Named[],
  tips: readonly (readonly [Point, Point])[]
): Chain[] {
  const left = [...lines]
  const chains: Chain[] = []
  for (let line = left.pop(); line; line = left.pop()) {
    const [own, ends, joints]: [Line[], End[], Point[]] = [[line], [], []]
    const open: (readonly [Point, Line])[] = [
      [line.from, line],
      [line.to, line]
    ]
    for (let next = open.pop(); next; next = open.pop()) {
      const [point, of] = next
      const tip = tips.find(([base]) => near(base, point))
      const box = boxes.filter((one) => onEdge(one, tip?.[1] ?? point)).at(-1)
      if (box) {
        ends.push({ box, at: tip?.[1] ?? point, line: of })
        continue
      }
      if (!joints.some((joint) => near(joint, point))) joints.push(point)
      for (let i = left.length - 1; i >= 0; i--) {
        const other = left[i]
        if (!other || (!near(other.from, point) && !near(other.to, point))) continue
        left.splice(i, 1)
        own.push(other)
        open.push([near(other.from, point) ? other.to : other.from, other])
      }
    }
    if (ends.length > 1) chains.push({ lines: own, ends, joints })
  }
  return chains
}

// ── what the signs of each notation say ──────────────────────────────────────────────────────────────────────────────────────────────

interface Signs {
  /** Marks that belong to an end, for no other end is nearer. */
  strokesAt(end: End): readonly Stroke[]
  textsAt(end: End): readonly string[]
  /** Marks about a point. */
  strokesAbout(point: Point): readonly Stroke[]
}
type Reading = (end: End, other: End, signs: Signs, chain: Chain) => Pick<Bounds, 'least' | 'many'>

const isFoot = ({ runs, shape }: Stroke, at: Point) =>
  shape.stroke === 'ink' &&
  runs.filter((run) => run.length === 2 && run.some((p) => Math.abs(Math.hypot(p[0] - at[0], p[1] - at[1]) - 6) < 0.7))
    .length >= 2 &&
  runs.some((run, i) => runs.some((two, j) => i < j && run[0] && two[0] && near(run[0], two[0])))

const READ: Readonly<Record<NotationId, { bounds: Reading; identifies(chain: Chain, signs: Signs): boolean }>> = {
  'crows foot': {
    bounds: (end, _, { strokesAt }) => {
      const marks = strokesAt(end)
      return {
        many: marks.some((mark) => isFoot(mark, end.at)),
        least: marks.some(({ arcs }) => arcs > 0) ? 0 : 1
      }
    },
    identifies: ({ lines }) => lines.every(({ dashed }) => !dashed)
  },
  idef1x: {
    bounds: (end, _, { strokesAt, textsAt }) => {
      const hasDot = strokesAt(end).some(({ shape, arcs }) => shape.fill === 'ink' && arcs > 0)
      if (!hasDot) return { many: false, least: strokesAt(end).some(({ shape }) => shape.fill === 'ground') ? 0 : 1 }
      const letters = textsAt(end)
      return {
        many: !letters.some((t) => t === 'Z' || t === '1'),
        least: letters.some((t) => t === 'P' || t === '1') ? 1 : 0
      }
    },
    // A line of many to many identifies nothing, though it is solid.
    identifies: ({ lines, ends }, { strokesAt }) =>
      lines.every(({ dashed }) => !dashed) &&
      !ends.every((end) => strokesAt(end).some(({ shape, arcs }) => shape.fill === 'ink' && arcs > 0))
  },
  uml: {
    bounds: (end, _, { textsAt }) => {
      const [, least = '', most = ''] =
        /^(?:(\d)\.\.)?(\d|\*)/.exec(textsAt(end).find((t) => /^\d/.test(t)) ?? '') ?? []
      return { many: most === '*', least: least === '0' ? 0 : 1 }
    },
    identifies: ({ ends }, { textsAt }) => ends.some((end) => textsAt(end).some((text) => text.includes('{id}')))
  },
  barker: {
    // What is at the other end must take part: so there is one at least at this.
    bounds: (end, other, { strokesAt }) => ({
      many: strokesAt(end).some((mark) => isFoot(mark, end.at)),
      least: other.line.dashed ? 0 : 1
    }),
    identifies: ({ ends }, { strokesAt }) =>
      ends.some((end) => strokesAt(end).some(({ runs }) => runs.length === 1 && runs[0]?.length === 2))
  },
  chen: {
    bounds: (end, other, { textsAt }) => ({
      many: textsAt(end).some((text) => text === 'M' || text === 'N'),
      least: other.line.double ? 1 : 0
    }),
    identifies: ({ joints }, { strokesAbout }) => strokesAbout(joints[0] ?? [0, 0]).length > 1
  }
}

function read(design: Design, notation: NotationId): Told {
  const { strokes, texts } = strokesAndTexts(design, notation)
  const boxes = boxesOf(strokes, texts)
  const triangles = strokes.filter(({ runs, arcs }) => arcs === 0 && runs[0]?.length === 4 && isClosed(runs[0]))
  const tips = triangles.flatMap(({ runs: [run = []] }): (readonly [Point, Point])[] => {
    const [tip, a, b] = run
    return tip && a && b ? [[middle([a, b]), tip]] : []
  })
  const chains = chainsOf(linesOf(strokes), boxes, tips)
  const inks = strokes.filter(({ shape }) => shape.stroke === 'ink' || shape.fill === 'ink')
  // What stands in a box is its own; where others stand in it, what is between them is of those.
  const full = boxes.filter((box) => !boxes.some((other) => other !== box && inside(other, box)))
  const free = inks.filter(({ runs }) => !runs[0] || !full.some((box) => runs.flat().every((p) => within(box, p))))
  const all = chains.flatMap(({ ends }) => ends)
  const nearest = (point: Point) =>
    all.reduce<End | undefined>(
      (best, end) => (!best || distance(end.at, point) < distance(best.at, point) ? end : best),
      undefined
    )
  const signs: Signs = {
    strokesAt: (end) =>
      free.filter((mark) => {
        const at = middle(mark.runs.flat())
        return distance(at, end.at) < 24 && nearest(at) === end
      }),
    textsAt: (end) =>
      texts
        .filter(({ x, y, ink }) => ink === 'ink' && distance([x, y], end.at) < 26 && nearest([x, y]) === end)
        .map(({ text }) => text),
    strokesAbout: (point) =>
      free.filter(({ runs }) => runs[0] && isClosed(runs[0]) && near(middle(runs[0]), point, 1.5))
  }
  const symbolOf = ({ joints }: Chain) =>
    strokes.find(
      ({ arcs, runs, shape }) =>
        arcs === 2 && shape.fill === 'ground' && runs[0] && joints.some((j) => near(middle(runs[0] ?? []), j, 1))
    )

  const links: Told['links'][number][] = []
  const groups: Told['groups'][number][] = []
  for (const chain of chains) {
    const symbol = symbolOf(chain)
    const tip = chain.ends.find((end) => tips.some(([, at]) => near(at, end.at)))
    if (!symbol && !tip) {
      const [a, b] = chain.ends
      if (!a || !b || chain.ends.length > 2) continue
      const { bounds, identifies } = READ[notation]
      links.push({
        ends: sorted([
          { entity: a.box.name, ...bounds(a, b, signs, chain) },
          { entity: b.box.name, ...bounds(b, a, signs, chain) }
        ]),
        identifying: identifies(chain, signs)
      })
      continue
    }
    const at = symbol ? middle(symbol.runs[0] ?? []) : (chain.joints[0] ?? [0, 0])
    const letter = texts.find(({ x, y, text }) => text.length === 1 && near([x, y], [at[0], at[1] + 4], 1))?.text
    const bars = free.filter(
      ({ runs }) =>
        runs.length > 0 && runs.every((run) => run.length === 2) && runs.every((run) => distance(middle(run), at) < 15)
    )
    const said = texts.map(({ text }) => text).filter((text) => text.includes('{') && !text.includes('{id}'))
    const [line] = bars
    const isSub = (end: End) =>
      notation === 'idef1x'
        ? // The lines stand on the far side of the circle.
          line !== undefined &&
          distance(end.at, middle(line.runs[0] ?? [])) > 0 &&
          !isBehind(end.at, at, middle(line.runs[0] ?? []))
        : tip
          ? end !== tip
          : signs.strokesAt(end).some(({ curves }) => curves === 2)
    const [above] = chain.ends.filter((end) => !isSub(end))
    const words = tip ? (said.find((text) => near2(texts, text, at)) ?? '') : ''
    groups.push({
      supertype: above?.box.name ?? '',
      subtypes: chain.ends
        .filter(isSub)
        .map(({ box }) => box.name)
        .sort(),
      complete: tip
        ? !words.includes('incomplete')
        : notation === 'idef1x'
          ? line?.runs.length === 2
          : chain.lines.some(({ double }) => double),
      exclusive: tip ? words.includes('disjoint') : letter !== 'o'
    })
  }
  // Boxes within a box are its subtypes: each row is of just one of them.
  for (const outer of notation === 'barker' ? boxes : []) {
    const inner = boxes.filter((box) => box !== outer && inside(box, outer))
    const own = inner.filter((box) => !inner.some((other) => other !== box && inside(box, other)))
    if (own.length > 0)
      groups.push({
        supertype: outer.name,
        subtypes: own.map(({ name }) => name).sort(),
        complete: true,
        exclusive: true
      })
  }
  return canonical({ links, groups })
}

const distance = (a: Point, b: Point) => Math.hypot(a[0] - b[0], a[1] - b[1])
const within = ({ left, top, right, bottom }: Named, [x, y]: Point) =>
  x > left + 0.5 && x < right - 0.5 && y > top + 0.5 && y < bottom - 0.5
const inside = (a: Named, b: Named) => a.left > b.left && a.right < b.right && a.top > b.top && a.bottom < b.bottom
/** Whether a point is on the other side of a circle than its line. */
const isBehind = ([x, y]: Point, [cx, cy]: Point, [lx, ly]: Point) =>
  (x - cx) * (lx - cx) + (y - cy) * (ly - cy) < 0 && distance([x, y], [cx, cy]) < 31
const near2 = (texts: readonly TextShape[], text: string, at: Point) =>
  texts.some((one) => one.text === text && distance([one.x, one.y], at) < 14)
const endKey = ({ entity, least, many }: Bounds) => `${entity} ${least} ${many}`
const inOrder = <T>(list: readonly T[], keyOf: (one: T) => string): T[] =>
  [...list].sort((a, b) => (keyOf(a) < keyOf(b) ? -1 : 1))
const sorted = (ends: readonly Bounds[]) => inOrder(ends, endKey)
const canonical = ({ links, groups }: Told): Told => ({
  links: inOrder(links, ({ ends, identifying }) => `${ends.map(endKey).join()} ${identifying}`),
  groups: inOrder(groups, ({ supertype, subtypes }) => `${supertype} ${subtypes.join()}`)
})

// ── what was meant ──────────────────────────────────────────────────────────────────────────────────────────────────────────────────────

function meant({ entities, links, subtypes }: Design): Told {
  const name = (id: string) => entities[id]?.name.toLowerCase() ?? ''
  return canonical({
    links: Object.values(links).map(({ parent, child, kind, identifying, parentRequired, childRequired }) => ({
      ends: sorted([
        {
          entity: name(parent),
          least: kind !== 'many-to-many' && parentRequired ? 1 : 0,
          many: kind === 'many-to-many'
        },
        { entity: name(child), least: childRequired ? 1 : 0, many: kind !== 'one-to-one' }
      ]),
      identifying
    })),
    groups: Object.values(subtypes).map(({ supertype, subtypes, complete, exclusive }) => ({
      supertype: name(supertype),
      subtypes: subtypes.map(name).sort(),
      complete,
      exclusive
    }))
  })
}

const COUNT = 6
const flag = fc.boolean()
const linkOf = fc.record({
  from: fc.nat(COUNT - 2),
  step: fc.integer({ min: 0, max: COUNT - 1 }),
  kind: fc.constantFrom<Link['kind']>('one-to-many', 'one-to-one', 'many-to-many'),
  identifying: flag,
  parentRequired: flag,
  childRequired: flag
})
const groupOf = fc.record({
  supertype: fc.nat(2),
  size: fc.integer({ min: 1, max: 2 }),
  complete: flag,
  exclusive: flag
})

/** Six entities in two rows, at most two lines at each; who is a subtype is no supertype of whom it is of. */
const designs = fc
  .record({
    links: fc.array(linkOf, { maxLength: 6 }),
    group: fc.option(groupOf),
    turned: flag,
    columns: fc.nat(3),
    ways: fc.constantFrom(undefined, 'straight', 'right-angled', 'curved')
  })
  .map(({ links, group, turned, columns, ways }): Design => {
    const plain = newDesign('Tidewell Harbour')
    const list = Array.from({ length: COUNT }, (_, i) => newEntity(`Berth ${'abcdef'[i]}`))
    const [diagram] = Object.values(plain.diagrams)
    if (!diagram) throw new Error('a design has a diagram')
    const places = Object.fromEntries(
      list.map(({ id }, i) => [
        id,
        turned ? { x: (i % 2) * 620, y: Math.floor(i / 2) * 560 } : { x: (i % 3) * 620, y: Math.floor(i / 3) * 560 }
      ])
    )
    let design = list.reduce<Design>(
      (now, entity) => edit(now, { kind: 'object.set', collection: 'entities', object: entity }),
      plain
    )
    design = edit(design, {
      kind: 'object.set',
      collection: 'diagrams',
      object: {
        ...diagram,
        places,
        ...(ways === undefined ? {} : { lines: ways }),
        ...(columns === 0 ? { columns: 'keys' } : columns === 1 ? { columns: 'names' } : {})
      }
    })
    const lines = new Map<string, number>()
    const isFree = (id: string) => (lines.get(id) ?? 0) < 2
    const take = (id: string) => lines.set(id, (lines.get(id) ?? 0) + 1)
    const ids = list.map(({ id }) => id)
    const members = new Set<string>()
    if (group) {
      const supertype = ids[group.supertype] ?? ''
      const subtypes = ids.slice(3, 3 + group.size)
      ;[supertype, ...subtypes].forEach(take)
      subtypes.forEach((id) => members.add(id))
      const object: Subtypes = {
        id: 'sub_a',
        supertype,
        subtypes,
        discriminator: 'sort',
        complete: group.complete,
        exclusive: group.exclusive
      }
      design = edit(design, { kind: 'object.set', collection: 'subtypes', object })
    }
    const pairs = new Set<string>()
    for (const { from, step, ...said } of links) {
      const [parent, child] = [list[from], list[Math.min(from + step, COUNT - 1)]]
      if (!parent || !child || !isFree(parent.id) || !isFree(child.id) || pairs.has(`${parent.id} ${child.id}`))
        continue
      const isSelf = parent.id === child.id
      // One's own parent identifies nobody, and a subtype is told from others by its supertype's key.
      const identifying = said.identifying && said.kind !== 'many-to-many' && !isSelf && !members.has(child.id)
      if (isSelf && (lines.get(parent.id) ?? 0) > 0) continue
      pairs.add(`${parent.id} ${child.id}`)
      take(parent.id)
      take(child.id)
      const link: Link = {
        ...newLink(design, parent, child),
        ...said,
        identifying,
        parentRequired: identifying || (said.parentRequired && said.kind !== 'many-to-many')
      }
      design = edit(design, { kind: 'link.add', link })
    }
    return design
  })

describe.each(NOTATIONS.map(({ id, label }) => ({ id, label })))('$label', ({ id }) => {
  it('says of every link and subtype all that there is to say, to whoever sees the drawing alone', () => {
    fc.assert(
      fc.property(designs, (design) => {
        expect(read(design, id)).toEqual(meant(design))
      }),
      { numRuns: 300 }
    )
  })
})
