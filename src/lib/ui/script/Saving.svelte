<!-- What a script will do, said before it is saved. -->
<script lang="ts">
  import { KINDS, type Kind } from '../../core/catalog'
  import { summaryOf, type Statement } from '../../core/plan'

  interface Props {
    readonly statements: readonly Statement[]
    readonly fileName: string
    readonly files: number
    readonly onsave: () => void
    readonly onleave: () => void
  }
  const { statements, fileName, files, onsave, onleave }: Props = $props()
  const VERBS = { make: 'makes', remove: 'removes', change: 'changes', describe: 'describes' } as const
  const said = $derived.by(() => {
    const byVerb = new Map<string, string[]>()
    for (const [key, count] of summaryOf(statements)) {
      const [verb = '', kind = ''] = key.split(' ')
      const { word, many } = KINDS[kind as Kind]
      byVerb.set(verb, [...(byVerb.get(verb) ?? []), `${count.toLocaleString('en')} ${count === 1 ? word : many}`])
    }
    return [...byVerb].map(([verb, things]) => `${VERBS[verb as keyof typeof VERBS]} ${things.join(', ')}`)
  })
  const removes = $derived(said.some((sentence) => sentence.startsWith('removes')))
</script>

<div
  role="group"
  aria-label="Before it is saved"
  class="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3 py-1.5 text-[13px] {removes
    ? 'bg-brick-tint'
    : 'bg-sea-tint'}"
>
  <p class="min-w-60 flex-1">
    It {said.join('; ') || 'does nothing'}.
    {#if removes}<b class="text-error">Rows that are there go with what is removed.</b>{/if}
    <span class="block text-soft">{fileName}{files > 1 ? `, ${files.toLocaleString('en')} files` : ''}</span>
  </p>
  <button
    {@attach (button) => button.focus()}
    class="rounded bg-primary px-2.5 py-1 font-semibold text-primary-content"
    onclick={onsave}>Save the file</button
  >
  <button class="px-1 text-soft underline" onclick={onleave}>Leave it</button>
</div>
