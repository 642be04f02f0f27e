<!-- The links at an entity, both ways, each with all it has but its columns in the sheet. -->
<script lang="ts">
  import { logical, plainName, sidesOf } from '../../core/derive'
  import { linksAt, type Entity, type Link } from '../../core/design'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import ReferOrEmbed from './ReferOrEmbed.svelte'
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

  function phrase(link: Link, way: 'down' | 'up', said: string | undefined) {
    const { [way]: _old, ...rest } = link.phrase ?? {}
    const next = said === undefined ? rest : { ...rest, [way]: said }
    set(link, { phrase: Object.keys(next).length > 0 ? next : undefined })
  }
  /** The columns of a link's own table: one for each that is in the keys of the two sides. */
  function bridgeColumns(link: Link) {
    const model = logical(desk.design)
    return sidesOf(link, desk.design).flatMap(({ side, entity: other, called }) =>
      (model.entity(other)?.key ?? []).map((column) => ({
        path: `${side} ${column.path}`,
        to: `${nameOf(other)} ${column.name}`,
        rule: `${plainName(called, desk.design.settings)}_${column.dbName}`
      }))
    )
  }
  function nameColumn(link: Link, path: string, name: string | undefined) {
    const { [path]: _old, ...columns } = link.bridge?.columns ?? {}
    set(link, { bridge: { ...link.bridge, columns: name === undefined ? columns : { ...columns, [path]: name } } })
  }
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
              : ''}{link.onDelete === 'restrict' ? '' : `, on delete ${link.onDelete}`}{link.embedded
              ? ', embedded'
              : ''}</span
          ></button
        >
        <Remove
          what="the link {said}"
          onremove={() => desk.edit({ kind: 'object.remove', collection: 'links', id: link.id })}
        />
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
          <span class="text-soft">One reads it</span>
          <span class="flex flex-wrap items-center gap-1.5">
            {nameOf(link.parent)}
            <Field
              class="min-w-20 flex-1"
              label="How the link {said} reads"
              value={link.phrase?.down ?? ''}
              placeholder="has"
              onkeep={(typed) => void phrase(link, 'down', text(typed))}
            />
            {nameOf(link.child)}, and back
            <Field
              class="min-w-20 flex-1"
              label="How the link {said} reads back"
              value={link.phrase?.up ?? ''}
              placeholder="is of"
              onkeep={(typed) => void phrase(link, 'up', text(typed))}
            />
          </span>
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
            <span class="grid gap-1">
              {#each bridgeColumns(link) as { path, rule, to } (path)}
                <Field
                  label="Column of the bridge table to {to}"
                  mono
                  value={link.bridge?.columns?.[path] ?? ''}
                  placeholder="{rule}, by rule"
                  onkeep={(typed) => void nameColumn(link, path, text(typed))}
                />
              {/each}
            </span>
            <span class="text-soft">Its foreign keys</span>
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
            <ReferOrEmbed {link} {said} onset={(values) => void set(link, values)} />
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
            <ReferOrEmbed {link} {said} onset={(values) => void set(link, values)} />
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
