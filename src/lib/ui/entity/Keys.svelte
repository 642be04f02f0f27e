<!-- What tells rows apart, what is unique, and the indexes: each a list of columns as one types it. -->
<script lang="ts">
  import { IDENTIFIER, newId, type Entity, type Index } from '../../core/design'
  import { printCondition, printList, rowNames, typedCondition, typedList, type Part as Listed } from '../../core/cells'
  import { logical } from '../../core/derive'
  import { dialect } from '../../core/dialects'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'
  import Remove from './Remove.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const names = $derived([...rowNames(desk.design, entity).values()])
  const text = (typed: string) => (typed.trim() === '' ? undefined : typed.trim())
  const field = 'rounded border border-line bg-base-100 px-1.5 py-0.5'
  const subtype = $derived(Object.values(desk.design.subtypes).some(({ subtypes }) => subtypes.includes(entity.id)))
  const usual = $derived(desk.design.settings.identifier)

  /** Reads a list, and does something with it; or says why it is none. */
  function listed(typed: string, ordered: boolean, take: (parts: readonly Listed[]) => string | undefined | void) {
    const read = typedList(desk.design, entity, typed, ordered)
    return 'error' in read ? read.error : (take(read.value) ?? undefined)
  }
  const ids = (parts: readonly Listed[]) => parts.map(({ id }) => id)

  function setKey(parts: readonly Listed[]) {
    const key = ids(parts).filter((id) => id !== IDENTIFIER)
    const links = key.filter((id) => desk.design.links[id])
    const gone = entity.primaryKey.filter((id) => desk.design.links[id] && !key.includes(id))
    desk.edit({
      kind: 'all',
      edits: [
        ...links.map((id) => ({ kind: 'link.set', id, set: { identifying: true } }) as const),
        ...gone.map((id) => ({ kind: 'link.set', id, set: { identifying: false } }) as const),
        // No part of a key is empty.
        ...key
          .filter((id) => !desk.design.links[id])
          .map((id) => ({ kind: 'attribute.set', entity: entity.id, id, set: { required: true } }) as const),
        { kind: 'entity.set', id: entity.id, set: { primaryKey: key } }
      ]
    })
  }
  const setIdentifier = (values: NonNullable<Entity['identifier']>) => {
    const next = Object.fromEntries(
      Object.entries({ ...entity.identifier, ...values }).filter(([, value]) => value !== undefined)
    )
    desk.edit({ kind: 'entity.set', id: entity.id, set: { identifier: Object.keys(next).length ? next : undefined } })
  }
  /** A whole number of the identifier, or why it is none. */
  function count(which: 'start' | 'step', typed: string): string | undefined {
    const said = text(typed)
    if (said !== undefined && (!/^-?\d{1,15}$/.test(said) || (which === 'step' && Number(said) === 0)))
      return which === 'step' ? 'A whole number other than 0.' : 'A whole number.'
    setIdentifier({ [which]: said === undefined ? undefined : Number(said) })
    return undefined
  }
  const engine = $derived(dialect(desk.shown.engine, desk.shown.version))
  const columns = $derived((logical(desk.design).entity(entity.id)?.columns ?? []).map(({ dbName }) => dbName))
  const WORD = /[\p{L}\p{N}_]+$/u
  function only(index: Index, typed: string): string | undefined {
    const { where: _was, ...rest } = index
    if (typed.trim() === '') return void setIndex(rest)
    const read = engine && typedCondition(desk.design, entity, typed, engine)
    if (!read) return undefined
    if ('error' in read) return read.error
    return void setIndex({ ...rest, where: read.value })
  }
  const setIndex = (index: Index) => desk.edit({ kind: 'part.set', entity: entity.id, list: 'indexes', part: index })
  const named = <T extends object>(object: T, name: string | undefined) => ({
    ...object,
    ...(name === undefined ? {} : { name })
  })
</script>

<Part
  title="Key"
  hint={entity.primaryKey.length === 0 ? (subtype ? 'that of what it is a kind of' : 'a number that is added') : ''}
>
  <div class="flex flex-wrap items-start gap-1.5">
    <Field
      class="min-w-40 flex-1"
      label="Columns of the key"
      value={printList(desk.design, entity, entity.primaryKey)}
      placeholder="columns, separated by commas"
      words={names}
      onkeep={(typed) => listed(typed, false, setKey)}
    />
    <Field
      class="w-36"
      label="Name of the key in databases"
      mono
      value={entity.keyName ?? ''}
      placeholder="name, by rule"
      onkeep={(typed) => void desk.edit({ kind: 'entity.set', id: entity.id, set: { keyName: text(typed) } })}
    />
  </div>
  {#if entity.primaryKey.length === 0 && !subtype}
    <div class="flex flex-wrap items-center gap-1.5">
      <span class="text-soft">called</span>
      <Field
        class="w-24"
        label="Name of the identifier"
        value={entity.identifier?.name ?? ''}
        placeholder="id"
        onkeep={(typed) => void setIdentifier({ name: text(typed) })}
      />
      <Field
        class="w-24"
        label="Database name of the identifier"
        mono
        value={entity.identifier?.dbName ?? ''}
        placeholder="by rule"
        onkeep={(typed) => void setIdentifier({ dbName: text(typed) })}
      />
      <select
        class={field}
        aria-label="Kind of the identifier"
        value={entity.identifier?.kind ?? ''}
        onchange={(event) =>
          setIdentifier({
            kind: (event.currentTarget.value || undefined) as NonNullable<Entity['identifier']>['kind']
          })}
      >
        <option value="">{usual}, as in all entities</option>
        {#each ['small', 'integer', 'big', 'uuid'] as kind (kind)}<option value={kind}>{kind}</option>{/each}
      </select>
      {#if (entity.identifier?.kind ?? usual) !== 'uuid'}
        <span class="flex items-center gap-1 text-soft">
          from
          <Field
            class="w-20"
            label="The first number of the identifier"
            value={String(entity.identifier?.start ?? '')}
            placeholder="1"
            onkeep={(typed) => count('start', typed)}
          />
          in steps of
          <Field
            class="w-16"
            label="The step of the identifier"
            value={String(entity.identifier?.step ?? '')}
            placeholder="1"
            onkeep={(typed) => count('step', typed)}
          />
        </span>
      {/if}
    </div>
  {/if}
</Part>

<Part title="Unique">
  {#each entity.uniques as key (key.id)}
    {@const said = printList(desk.design, entity, key.parts)}
    <div class="flex items-start gap-1.5">
      <Field
        class="min-w-32 flex-1"
        label="Unique columns: {said}"
        value={said}
        words={names}
        onkeep={(typed) =>
          listed(typed, false, (parts) => {
            if (parts.length === 0) return 'Say which columns, or remove it.'
            desk.edit({ kind: 'part.set', entity: entity.id, list: 'uniques', part: { ...key, parts: ids(parts) } })
          })}
      />
      <Field
        class="w-36"
        label="Name of the rule that {said} is unique"
        mono
        value={key.name ?? ''}
        placeholder="name, by rule"
        onkeep={(typed) => {
          const { name: _name, ...rest } = key
          desk.edit({ kind: 'part.set', entity: entity.id, list: 'uniques', part: named(rest, text(typed)) })
          return undefined
        }}
      />
      <Remove
        what="the rule that {said} is unique"
        onremove={() => desk.edit({ kind: 'part.remove', list: 'uniques', entity: entity.id, id: key.id })}
      />
    </div>
  {/each}
  <Field
    label="Columns that are unique together"
    value=""
    fresh
    placeholder="add: columns that are unique together"
    words={names}
    onkeep={(typed) =>
      listed(typed, false, (parts) => {
        if (parts.length > 0)
          desk.edit({
            kind: 'part.set',
            entity: entity.id,
            list: 'uniques',
            part: { id: newId('key'), parts: ids(parts) }
          })
      })}
  />
</Part>

<Part title="Indexes" hint="“down” after a column: its greatest value first">
  {#each entity.indexes as index (index.id)}
    {@const said = printList(desk.design, entity, index.parts)}
    <div class="flex flex-wrap items-start gap-1.5">
      <Field
        class="min-w-32 flex-1"
        label="Columns of the index {said}"
        value={said}
        words={names}
        onkeep={(typed) =>
          listed(typed, true, (parts) => {
            if (parts.length === 0) return 'Say which columns, or remove it.'
            setIndex({ ...index, parts: [...parts] })
          })}
      />
      <label class="flex items-center gap-1 py-0.5"
        ><input
          type="checkbox"
          class="size-4 accent-primary"
          aria-label="The index {said} is unique"
          checked={index.unique}
          onchange={(event) => setIndex({ ...index, unique: event.currentTarget.checked })}
        />unique</label
      >
      <Field
        class="w-36"
        label="Name of the index {said}"
        mono
        value={index.name ?? ''}
        placeholder="name, by rule"
        onkeep={(typed) => {
          const { name: _name, ...rest } = index
          setIndex(named(rest, text(typed)))
          return undefined
        }}
      />
      {#if engine}
        <Field
          class="min-w-32 flex-1"
          label="Only rows of the index {said}"
          mono
          value={index.where === undefined ? '' : printCondition(desk.design, entity, index.where, engine)}
          placeholder="all rows"
          words={columns}
          word={WORD}
          onkeep={(typed) => only(index, typed)}
        />
      {/if}
      <Remove
        what="the index {said}"
        onremove={() => desk.edit({ kind: 'part.remove', list: 'indexes', entity: entity.id, id: index.id })}
      />
    </div>
  {/each}
  <Field
    label="Columns of a new index"
    value=""
    fresh
    placeholder="add: columns of an index"
    words={names}
    onkeep={(typed) =>
      listed(typed, true, (parts) => {
        if (parts.length > 0) setIndex({ id: newId('idx'), unique: false, parts: [...parts] })
      })}
  />
</Part>
