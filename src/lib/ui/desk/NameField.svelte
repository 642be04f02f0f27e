<!-- A name that may be refused: then the old one stands again, and the answer says why. -->
<script lang="ts">
  interface Props {
    readonly label: string
    readonly name: string
    readonly rename: (name: string) => string | undefined
  }
  const { label, name, rename }: Props = $props()
  let refused = $state('')
</script>

<label class="flex items-center gap-1.5">
  {label}
  <input
    class="w-36 rounded border border-line bg-base-100 px-1.5 py-0.5 font-semibold"
    value={name}
    onchange={(event) => {
      refused = rename(event.currentTarget.value) ?? ''
      if (refused) event.currentTarget.value = name
    }}
  />
</label>
{#if refused}<span role="alert" class="text-error">{refused}</span>{/if}
