// The colours of a drawing outside of the application: those of its two themes (`app.css`).
import type { Ink } from './shapes'

export interface Palette {
  readonly inks: Readonly<Record<Exclude<Ink, 'edge' | 'area'>, string>>
  /** By the tint of an area. */
  readonly edges: readonly string[]
  readonly areas: readonly string[]
}

export const DAYLIGHT: Palette = {
  inks: {
    ink: '#1c2b2d',
    soft: '#566462',
    line: '#d5ccb8',
    sheet: '#fffcf5',
    ground: '#f5f0e4',
    key: '#fbf4e6',
    sea: '#0e5a55'
  },
  edges: ['#2f6a8c', '#0e5a55', '#a5641c', '#82476f', '#6d6a1d', '#4f5296'],
  areas: ['#dde6ea', '#e0e9dd', '#efe2cf', '#eadfe6', '#e2e2d0', '#dfe0ec']
}

export const LAMPLIGHT: Palette = {
  inks: {
    ink: '#efe6d2',
    soft: '#a5b1a9',
    line: '#35494c',
    sheet: '#16282b',
    ground: '#0f1f22',
    key: '#1c3134',
    sea: '#7fc9bd'
  },
  edges: ['#7fb5d6', '#7fc9bd', '#e5b168', '#d59fc4', '#cbc76c', '#a9adec'],
  areas: ['#16303a', '#15322d', '#2f2a1d', '#2c2530', '#282c1a', '#20263a']
}

/** The colour of something, in an area of that tint. */
export function colourOf(palette: Palette, ink: Ink, tint = 1): string {
  const found = ink === 'edge' ? palette.edges[tint] : ink === 'area' ? palette.areas[tint] : palette.inks[ink]
  return found ?? palette.inks.ink
}
