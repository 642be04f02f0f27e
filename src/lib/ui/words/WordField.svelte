<!-- A field of a list of words: what is refused goes back to what was there. -->
<script lang="ts">
  interface Props {
    readonly label: string
    readonly value: string
    /** Makes the change; false where it is refused. */
    readonly onkeep: (typed: string) => boolean
    readonly placeholder?: string | undefined
    readonly disabled?: boolean
    readonly class?: string
  }
  const { label, value, onkeep, placeholder, disabled = false, class: own = '' }: Props = $props()
</script>

<input
  class="min-w-0 rounded border border-line bg-base-100 px-1.5 py-0.5 {own}"
  aria-label={label}
  title={value}
  {placeholder}
  {value}
  {disabled}
  onchange={(event) => {
    if (!onkeep(event.currentTarget.value)) event.currentTarget.value = value
  }}
/>
