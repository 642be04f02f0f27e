<!-- Fields that documents told, and nobody has said yet: how many have each, and a word that it is so. -->
<script lang="ts">
  import { branches, type Attribute, type Entity } from '../../core/design'
  import { printType } from '../../core/types'
  import { useDesk } from '../desk/desk.svelte'
  import Part from './Part.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const guessed = $derived(branches(entity).filter(({ attribute }) => attribute.guess !== undefined))
  const nameOf = ({ attribute, path }: (typeof guessed)[number]) =>
    [...path, attribute].map((one: Attribute) => one.name).join(' › ')

  /** In hundredths; what few lack is not all. */
  function share({ of, there }: NonNullable<Attribute['guess']>): string {
    if (there === of) return `in all ${of.toLocaleString('en')}`
    const part = (100 * there) / of
    return `in ${there.toLocaleString('en')} of ${of.toLocaleString('en')}, ${part < 1 ? 'less than 1' : Math.floor(part)} %`
  }
  const sure = (list: typeof guessed) =>
    desk.edit({
      kind: 'all',
      edits: list.map(({ attribute: { id } }) => ({
        kind: 'attribute.set' as const,
        entity: entity.id,
        id,
        set: { guess: undefined } as Partial<Omit<Attribute, 'id'>>
      }))
    })
</script>

{#if guessed.length > 0}
  <Part title="Guessed" hint="by the documents that were looked at">
    <ul class="grid gap-0.5">
      {#each guessed as one (one.attribute.id)}
        {@const { guess, type, required } = one.attribute}
        <li class="flex items-baseline gap-2 rounded border border-line bg-base-100 px-2 py-0.5">
          <span class="min-w-0 flex-1 truncate" title={nameOf(one)}
            >{nameOf(one)}
            <span class="font-mono text-xs text-soft">{printType(type)}{required ? ' required' : ''}</span></span
          >
          {#if guess}<span class="shrink-0 text-xs text-soft"
              >{share(guess)}{guess.longest === undefined ? '' : `, up to ${guess.longest} each`}</span
            >{/if}
          <button class="shrink-0 underline" onclick={() => sure([one])} aria-label="{nameOf(one)} is so"
            >it is so</button
          >
        </li>
      {/each}
    </ul>
    {#if guessed.length > 1}<button class="justify-self-start underline" onclick={() => sure(guessed)}
        >All of them are so</button
      >{/if}
  </Part>
{/if}
