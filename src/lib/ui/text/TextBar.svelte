<!-- What can be done with a design in words: run it, save it, open another, read about the notation. -->
<script lang="ts">
  import { resolve } from '$app/paths'
  import BookOpen from '@lucide/svelte/icons/book-open'
  import FileDown from '@lucide/svelte/icons/file-down'
  import FileUp from '@lucide/svelte/icons/file-up'
  import FlaskConical from '@lucide/svelte/icons/flask-conical'

  interface Props {
    readonly writable: boolean
    readonly trying: boolean
    readonly ontry: () => void
    readonly onsave: () => void
    readonly onopen: () => void
  }
  const { writable, trying, ontry, onsave, onopen }: Props = $props()
  const button = 'flex items-center gap-1 rounded px-2 py-1 text-[13px] hover:bg-base-300 disabled:opacity-50'
</script>

<div class="flex h-9 shrink-0 items-center gap-1 border-b border-line px-2" role="toolbar" aria-label="Text">
  <button class="{button} {trying ? 'bg-sea-tint text-primary' : ''}" aria-pressed={trying} onclick={ontry}
    ><FlaskConical size={14} aria-hidden="true" />Try it out</button
  >
  <button class={button} onclick={onsave}><FileDown size={14} aria-hidden="true" />Save as text</button>
  <button class={button} disabled={!writable} onclick={onopen}
    ><FileUp size={14} aria-hidden="true" />Open a text</button
  >
  <a class="{button} ml-auto" href={resolve('/language')}><BookOpen size={14} aria-hidden="true" />The notation</a>
</div>
