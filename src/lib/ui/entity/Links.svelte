<!-- The links at an entity, both ways, each with all it has but its columns in the sheet. -->
<script lang="ts">
  import { linksAt, type Entity, type Link } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'
  import Remove from './Remove.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const links = $derived(linksAt(desk.design, entity.id))
  const nameOf = (id: string) => desk.design.entities[id]?.name ?? '?'
  const set = (link: Link, values: Partial<Omit<Link, 'id'>>) =>
    desk.edit({ kind: 'link.set', id: link.id, set: values })
  const text = (typed: string) => (typed.trim() === '' ? undefined : typed.trim())
  const field = 'rounded border border-line bg-base-100 px-1 py-0.5'
  const ACTIONS = ['restrict', 'cascade', 'set null', 'set default', 'no action'] as const
  let open = $state<string>()
</script>

<Part title="Links" hint={links.length === 0 ? 'type an entity’s name as a column’s type' : ''}>
  {#each links as link (link.id)}
    {@const own = link.child === entity.id}
    {@const other = nameOf(own ? link.parent : link.child)}
    {@const said = `${own ? 'to' : 'from'} ${other}${link.role === undefined ? '' : `, ${link.role}`}`}
    <div class="rounded border border-line bg-base-100 px-2 py-1">
      <div class="flex items-center gap-1.5">
        <button
          class="min-w-0 flex-1 truncate text-left"
          aria-expanded={open === link.id}
          onclick={() => {
            open = open === link.id ? undefined : link.id
            desk.select({ kind: 'link', link: link.id })
          }}
          ><b>{said}</b>
          <span class="text-soft"
            >{link.kind === 'many-to-many'
              ? 'many to many'
              : link.kind === 'one-to-one'
                ? 'one to one'
                : ''}{link.parentRequired ? ' required' : ''}{link.identifying
              ? ' part of the key'
              : ''}{link.onDelete === 'restrict' ? '' : `, on delete ${link.onDelete}`}</span
          ></button
        >
        <Remove what="the link {said}" onremove={() => desk.edit({ kind: 'link.remove', id: link.id })} />
      </div>
      {#if open === link.id}
        <div class="grid grid-cols-[110px_1fr] items-center gap-x-1.5 gap-y-1 pt-1">
          <span class="text-soft">{nameOf(link.parent)} is its</span>
          <Field
            label="Role of the link {said}"
            value={link.role ?? ''}
            placeholder={nameOf(link.parent).toLowerCase()}
            onkeep={(typed) => void set(link, { role: text(typed) })}
          />
          {#if link.kind === 'many-to-many'}
            <span class="text-soft">{nameOf(link.child)} is its</span>
            <Field
              label="Role back of the link {said}"
              value={link.childRole ?? ''}
              placeholder={nameOf(link.child).toLowerCase()}
              onkeep={(typed) => void set(link, { childRole: text(typed) })}
            />
          {/if}
          <span class="text-soft">Means</span>
          <Field
            label="Meaning of the link {said}"
            value={link.means ?? ''}
            onkeep={(typed) => void set(link, { means: text(typed) })}
          />
          <span class="text-soft">{link.kind === 'many-to-many' ? 'Bridge table' : 'Foreign key'}</span>
          <Field
            label="Database name of the link {said}"
            mono
            value={link.dbName ?? ''}
            placeholder="name, by rule"
            onkeep={(typed) => void set(link, { dbName: text(typed) })}
          />
          {#if link.kind === 'many-to-many'}
            <span class="text-soft">Its columns</span>
            <span class="flex gap-1.5">
              {#each ['parent', 'child'] as const as side (side)}
                <Field
                  class="flex-1"
                  label="Foreign key of the bridge table to {nameOf(link[side])}"
                  mono
                  value={link.bridge?.foreignKeys?.[side] ?? ''}
                  placeholder="key to {nameOf(link[side])}"
                  onkeep={(typed) => {
                    const { [side]: _old, ...keys } = link.bridge?.foreignKeys ?? {}
                    const name = text(typed)
                    set(link, {
                      bridge: {
                        ...link.bridge,
                        foreignKeys: { ...keys, ...(name === undefined ? {} : { [side]: name }) }
                      }
                    })
                    return undefined
                  }}
                />
              {/each}
            </span>
          {:else}
            <span class="text-soft">When it goes</span>
            <span class="flex flex-wrap items-center gap-1.5">
              <select
                class={field}
                aria-label="On delete of the link {said}"
                value={link.onDelete}
                onchange={(event) => set(link, { onDelete: event.currentTarget.value as Link['onDelete'] })}
              >
                {#each ACTIONS as action (action)}<option>{action}</option>{/each}
              </select>
              <span class="text-soft">when its key changes</span>
              <select
                class={field}
                aria-label="On update of the link {said}"
                value={link.onUpdate}
                onchange={(event) => set(link, { onUpdate: event.currentTarget.value as Link['onUpdate'] })}
              >
                {#each ACTIONS as action (action)}<option>{action}</option>{/each}
              </select>
            </span>
            <span></span>
            <span class="flex flex-wrap gap-3">
              <label class="flex items-center gap-1"
                ><input
                  type="checkbox"
                  class="size-4 accent-primary"
                  checked={link.deferrable === true}
                  onchange={(event) => set(link, { deferrable: event.currentTarget.checked || undefined })}
                />checked at the end of a transaction</label
              >
              <label class="flex items-center gap-1"
                ><input
                  type="checkbox"
                  class="size-4 accent-primary"
                  checked={link.drawnOnly === true}
                  onchange={(event) => set(link, { drawnOnly: event.currentTarget.checked || undefined })}
                />drawn only</label
              >
            </span>
          {/if}
        </div>
      {/if}
    </div>
  {/each}
</Part>
