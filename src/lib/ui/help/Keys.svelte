<!-- A sheet of the keys, over whatever one is at; any way out of it leads back there. -->
<script lang="ts">
  import { resolve } from '$app/paths'
  import KeyLists from './KeyLists.svelte'

  const { onclose }: { onclose: () => void } = $props()
  const shown = (node: HTMLDialogElement) => node.showModal()
</script>

<dialog
  class="m-auto max-h-[85dvh] w-[min(880px,92vw)] overflow-y-auto rounded-lg border border-line bg-base-100 p-5 text-base-content shadow-xl backdrop:bg-black/25"
  aria-label="Keys"
  {@attach shown}
  {onclose}
  onclick={(event) => event.target === event.currentTarget && onclose()}
>
  <div class="mb-3 flex items-baseline gap-3">
    <h2 class="text-lg font-semibold">Keys</h2>
    <a class="text-[13px] underline" href={resolve('/help')}>All of the help</a>
    <button class="ml-auto rounded px-2 py-0.5 text-[13px] hover:bg-base-300" onclick={onclose}>Close</button>
  </div>
  <div class="gap-x-8 md:columns-2"><KeyLists /></div>
</dialog>
