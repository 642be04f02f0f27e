<!-- Where documents are kept: whether those of a link's child are in its parent's, and what comes of either. -->
<script lang="ts">
  import type { Link } from '../../core/design'
  import { embedding } from '../../core/review'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'

  interface Props {
    readonly link: Link
    /** The link in words, to those who hear it. */
    readonly said: string
    readonly onset: (values: Partial<Omit<Link, 'id'>>) => void
  }
  const { link, said, onset }: Props = $props()
  const id = $props.id()
  const desk = useDesk()
  const nameOf = (of: string) => desk.design.entities[of]?.name ?? '?'
  const found = $derived(embedding(desk.design, link))
  const isPair = $derived(link.kind === 'many-to-many')
  const isProposed = (embed: boolean) => link.embedded === undefined && found.embed === embed
  const ways = $derived([
    {
      embed: false,
      label: isPair ? 'a document for each pair' : `by itself, and refers to ${nameOf(link.parent)}`,
      costs: found.referred
    },
    { embed: true, label: isPair ? `a list in each ${found.home}` : `within ${found.home}`, costs: found.embedded }
  ])
</script>

<span class="self-start pt-0.5 text-soft" {id}>As a document</span>
<div class="grid gap-1" role="radiogroup" aria-labelledby={id}>
  {#if found.impossible !== undefined}
    <p class="text-soft">{nameOf(link.child)} is kept by itself. {found.impossible}</p>
  {:else}
    {#each ways as { embed, label, costs } (embed)}
      <div>
        <label class="flex items-center gap-1.5"
          ><input
            type="radio"
            class="size-4 accent-primary"
            name="{id}-{link.id}"
            aria-describedby="{id}-{embed}"
            checked={link.embedded === embed}
            onchange={() => onset({ embedded: embed })}
          />{label}{#if isProposed(embed)}<span class="rounded bg-base-300 px-1 text-xs">proposed</span>{/if}</label
        >
        <ul id="{id}-{embed}" class="ml-5.5 list-disc pl-3 text-xs text-soft">
          {#if isProposed(embed)}{#each found.reasons as reason (reason)}<li class="text-base-content">
                {reason}
              </li>{/each}{/if}
          {#each costs as cost (cost)}<li>{cost}</li>{/each}
        </ul>
      </div>
    {/each}
    {#if link.embedded === undefined}<p class="text-xs text-soft">
        Not said yet: until then {isPair ? 'each pair is a document' : 'it refers'}.
      </p>{/if}
    {#if link.embedded && !isPair}
      <label class="flex items-center gap-1.5"
        ><span class="text-soft">there it is called</span>
        <Field
          label="What {nameOf(link.parent)} calls what it holds by the link {said}"
          value={link.childRole ?? ''}
          placeholder={nameOf(link.child).toLowerCase()}
          onkeep={(typed) =>
            void onset({ childRole: typed.trim() === '' ? undefined : typed.trim() } as Partial<Omit<Link, 'id'>>)}
        /></label
      >
    {/if}
  {/if}
</div>
