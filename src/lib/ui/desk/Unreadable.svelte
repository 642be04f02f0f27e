<!-- A design that is kept and cannot be read whole: what is wrong, and what can be saved of it. -->
<script lang="ts">
  import { goto } from '$app/navigation'
  import { resolve } from '$app/paths'
  import { mendDesign } from '../../core/derive'
  import { newId } from '../../core/design'
  import { saveDesign, saveFile, storageError } from '../../storage'
  import type { Unread } from './desk.svelte'

  const { unread }: { unread: Unread } = $props()
  const mended = $derived(mendDesign(unread.pieces))
  let failure = $state('')

  async function open() {
    const design = { ...mended.design, id: newId('des'), name: `${mended.design.name} (mended)` }
    try {
      await saveDesign(design, undefined, 0)
      await goto(resolve('/design/[id]', { id: design.id }))
    } catch (error) {
      failure = storageError(error).message
    }
  }
  const toFile = () => saveFile(`${mended.design.name} as it stands.json`, JSON.stringify(unread.pieces, null, 1))
</script>

<p class="mt-2">
  Part of what this browser keeps of it is damaged. Nothing was changed, and it stays on the shelf as it is.
</p>
<ul class="mt-3 list-disc pl-5 text-[13px]">
  {#each mended.left.length > 0 ? mended.left : unread.notices as notice (notice.message)}
    <li>{notice.message}</li>
  {/each}
</ul>
<div class="mt-5 flex gap-2">
  <button class="rounded-md bg-primary px-4 py-2 font-semibold text-primary-content" onclick={open}
    >Open the rest as a design of its own</button
  >
  <button class="rounded-md border border-line bg-base-100 px-4 py-2 font-semibold hover:bg-base-300" onclick={toFile}
    >Save all of it to a file, as it stands</button
  >
</div>
{#if failure}<p role="alert" class="mt-3 text-error">{failure}</p>{/if}
