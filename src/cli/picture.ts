// A diagram as a file: SVG, PDF or PNG, by the name that is asked for.
import { extname } from 'node:path'
import { targetOf, type Design, type Diagram } from '../lib/core/design'
import {
  DAYLIGHT,
  drawnLinks,
  LAMPLIGHT,
  layoutRequest,
  lettersOf,
  NOTATIONS,
  picture,
  sheet,
  svgOf,
  type NotationId,
  type Picture
} from '../lib/core/picture'
import { arrange } from '../lib/core/picture/arrange'
import { derive } from '../lib/core/derive'
import { dialect, ENGINES } from '../lib/core/dialects'
import type { Notice } from '../lib/core/notice'
import { open, type Common } from './commands'
import { CouldNot } from './could-not'
import { embeddedFonts, fonts, withFontFiles } from './fonts'
import { given, type Outcome } from './outcome'
import { readInto } from './read'

export interface PictureOptions extends Common {
  readonly diagram?: string
  readonly notation?: string
  readonly legend?: boolean
  readonly title?: boolean
  readonly dark?: boolean
  readonly scale?: string
  readonly paper?: string
}

const KINDS = ['.svg', '.pdf', '.png'] as const
const PAPERS = { a4: 'A4', a3: 'A3', letter: 'LETTER' } as const

export async function pictureCommand(source: string, options: PictureOptions): Promise<Outcome> {
  const kind = KINDS.find((one) => one === extname(options.output ?? '').toLowerCase())
  if (kind === undefined) throw new CouldNot('Say what to write with -o: FILE.svg, FILE.pdf or FILE.png.')
  const notation = notationIn(options.notation)
  const paper = options.paper === undefined ? undefined : PAPERS[options.paper.toLowerCase() as keyof typeof PAPERS]
  if (options.paper !== undefined && (paper === undefined || kind !== '.pdf'))
    throw new CouldNot('--paper is for a PDF: A4, A3 or Letter.')
  const scale = Number(options.scale ?? 1)
  if (!(scale > 0 && scale <= 8)) throw new CouldNot('--scale is a number up to 8.')
  // A design is drawn alike for every engine; a database or a script has one of its own.
  const isDesign = ['.jot', '.ramblet'].includes(extname(source).toLowerCase())
  const any = isDesign && options.engine === undefined ? { engine: ENGINES[0]?.id ?? '' } : {}
  const { engine, names, sources } = await open({ ...options, ...any, scripts: true }, source)
  const { designed } = sources[0]
  const read = designed ? undefined : readInto(sources[0], engine, { name: names[0], infer: [] })
  const design = (designed ?? read)?.design
  if (!design) throw new CouldNot(`${source} holds no design.`)
  const diagram = diagramIn(design, options.diagram)
  const drawn = arranged(design, notation === undefined ? diagram : notated(diagram, notation))
  if (drawn.cards.length === 0) throw new CouldNot(`Nothing stands on the diagram “${diagram.name}”.`)
  const palette = options.dark ? LAMPLIGHT : DAYLIGHT
  const one = sheet(drawn, {
    legend: options.legend !== false,
    title: options.title === false ? [] : [design.name, diagram.name, drawn.notation.label],
    tintOf: (area) => design.areas[area]?.tint
  })
  const result = async (): Promise<string | Uint8Array> => {
    if (kind === '.pdf') {
      const { pdfOf } = await import('../lib/core/picture/pdf')
      const title = `${design.name}: ${diagram.name}`
      return pdfOf([one], { palette, fonts: await fonts([one]), title, ...(paper === undefined ? {} : { paper }) })
    }
    if (kind === '.svg') return svgOf(one, { palette, scale, fonts: await embeddedFonts([one]) })
    const { Resvg } = await import('@resvg/resvg-js')
    return withFontFiles([one], (fontFiles) => {
      const font = { loadSystemFonts: false, fontFiles, defaultFontFamily: 'Atkinson Hyperlegible Next' }
      return new Resvg(svgOf(one, { palette }), { font, fitTo: { mode: 'zoom', value: scale } }).render().asPng()
    })
  }
  const { lacking } = lettersOf([one])
  const missing: Notice[] =
    lacking === ''
      ? []
      : [
          {
            code: 'letters',
            severity: 'warning',
            message: `No font that ships has the letters ${lacking}: they are drawn as boxes, but in SVG where its reader has a font with them.`
          }
        ]
  return { output: given(options, await result()), notices: [...(read?.notices ?? []), ...missing], code: 0 }
}

function notationIn(said: string | undefined): NotationId | undefined {
  if (said === undefined) return undefined
  const plain = (text: string) => text.toLowerCase().replaceAll(/[^a-z0-9]/g, '')
  const found = NOTATIONS.find(({ id, label }) => [id, label].map(plain).includes(plain(said)))
  if (!found) throw new CouldNot(`There is no notation “${said}”. Known: ${NOTATIONS.map(({ id }) => id).join(', ')}.`)
  return found.id
}

function diagramIn({ diagrams }: Design, name: string | undefined): Diagram {
  const all = Object.values(diagrams)
  const found = name === undefined ? all[0] : all.find((one) => one.name.toLowerCase() === name.toLowerCase())
  if (!found)
    throw new CouldNot(`There is no diagram “${name ?? ''}”. There are: ${all.map((one) => one.name).join(', ')}.`)
  return found
}

function notated(diagram: Diagram, notation: NotationId): Diagram {
  const { notation: _, ...rest } = diagram
  return notation === 'crows foot' ? rest : { ...rest, notation }
}

/** As it was arranged; a diagram that nobody has arranged is laid out. */
function arranged(design: Design, diagram: Diagram): Picture {
  const target = targetOf(design, diagram.target)
  const engine = diagram.level === 'physical' ? dialect(target.engine, target.version) : undefined
  const options = engine ? { catalog: derive(design, target, engine).catalog } : {}
  const drawn = picture(design, diagram, options)
  const outer = drawn.cards.filter(({ within }) => within === undefined)
  if (drawn.unplaced.length < outer.length) return drawn
  return picture(design, { ...diagram, places: arrange(layoutRequest(drawn, drawnLinks(design))) }, options)
}
