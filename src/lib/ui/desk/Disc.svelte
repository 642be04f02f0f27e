<!-- How far a target is, as a shape: full in step, half behind, empty unknown, crossed in trouble. -->
<script lang="ts">
  import type { Disc } from './words'
  const { disc }: { disc: Disc } = $props()
</script>

<svg
  viewBox="0 0 16 16"
  width="16"
  height="16"
  aria-hidden="true"
  class={disc === 'crossed' ? 'text-error' : 'text-primary'}
>
  <circle
    cx="8"
    cy="8"
    r="6.2"
    fill={disc === 'full' ? 'currentColor' : 'none'}
    stroke="currentColor"
    stroke-width="2"
  />
  {#if disc === 'half'}<path d="M8 1.8a6.2 6.2 0 0 0 0 12.4z" fill="currentColor" />{/if}
  {#if disc === 'crossed'}<path d="M4.5 4.5l7 7m0-7l-7 7" stroke="currentColor" stroke-width="2" />{/if}
</svg>
