<!-- Paths and texts of a drawing, in the colours of the theme. -->
<script lang="ts">
  import type { Ink, Shape } from '../../core/picture'

  interface Props {
    readonly shapes: readonly Shape[]
    /** Of the area that they are in. */
    readonly tint?: number
    /** All lines in this colour. */
    readonly stroke?: string
  }
  const { shapes, tint = 1, stroke }: Props = $props()
  const COLOURS: Readonly<Record<Exclude<Ink, 'edge' | 'area'>, string>> = {
    ink: 'var(--color-base-content)',
    soft: 'var(--soft)',
    line: 'var(--line)',
    sheet: 'var(--color-base-100)',
    ground: 'var(--color-base-200)',
    key: 'var(--key-tint)',
    sea: 'var(--color-primary)'
  }
  const colour = (ink: Ink): string => (ink === 'edge' || ink === 'area' ? `var(--${ink}-${tint})` : COLOURS[ink])
</script>

{#each shapes as shape, i (i)}
  {#if shape.kind === 'path'}
    <path
      d={shape.d}
      fill={shape.fill ? colour(shape.fill) : 'none'}
      stroke={shape.stroke ? (stroke ?? colour(shape.stroke)) : undefined}
      stroke-width={shape.stroke ? (shape.width ?? 1) : undefined}
      stroke-dasharray={shape.dash}
    />
  {:else}
    <text
      x={shape.x}
      y={shape.y}
      fill={colour(shape.ink)}
      text-anchor={shape.anchor}
      text-decoration={shape.underlined ? 'underline' : undefined}
      class={shape.face === 'mono' ? 'font-mono' : shape.face === 'bold' ? 'font-[650]' : undefined}
      font-size={shape.size}>{shape.text}</text
    >
  {/if}
{/each}
