<!-- What must hold in each row: conditions over its columns, in the words of the engine in view. -->
<script lang="ts">
  import { newId, type Entity, type Rule } from '../../core/design'
  import { dialect } from '../../core/dialects'
  import { printCondition, typedCondition } from '../../core/cells'
  import { logical } from '../../core/derive'
  import { useDesk } from '../desk/desk.svelte'
  import Field from './Field.svelte'
  import Part from './Part.svelte'
  import Remove from './Remove.svelte'

  const { entity }: { entity: Entity } = $props()
  const desk = useDesk()
  const engine = $derived(dialect(desk.shown.engine, desk.shown.version))
  const names = $derived((logical(desk.design).entity(entity.id)?.columns ?? []).map(({ dbName }) => dbName))
  const text = (typed: string) => (typed.trim() === '' ? undefined : typed.trim())
  const WORD = /[\p{L}\p{N}_]+$/u

  function keep(typed: string, rule: Rule): string | undefined {
    if (!engine) return undefined
    const read = typedCondition(desk.design, entity, typed, engine)
    if ('error' in read) return read.error
    desk.edit({ kind: 'part.set', entity: entity.id, list: 'rules', part: { ...rule, condition: read.value } })
    return undefined
  }
  function rename(rule: Rule, dbName: string | undefined) {
    const { dbName: _dbName, ...rest } = rule
    desk.edit({
      kind: 'part.set',
      entity: entity.id,
      list: 'rules',
      part: { ...rest, ...(dbName === undefined ? {} : { dbName }) }
    })
  }
</script>

{#if engine}
  <Part title="Rules" hint="what must hold in each row">
    {#each entity.rules as rule (rule.id)}
      {@const said = printCondition(desk.design, entity, rule.condition, engine)}
      <div class="flex items-start gap-1.5">
        <Field
          class="min-w-40 flex-1"
          label="Rule: {said}"
          mono
          value={said}
          words={names}
          word={WORD}
          onkeep={(typed) => keep(typed, rule)}
        />
        <Field
          class="w-36"
          label="Name of the rule {said}"
          mono
          value={rule.dbName ?? ''}
          placeholder={rule.name ?? 'name, by rule'}
          onkeep={(typed) => void rename(rule, text(typed))}
        />
        <Remove
          what="the rule {said}"
          onremove={() => desk.edit({ kind: 'part.remove', list: 'rules', entity: entity.id, id: rule.id })}
        />
      </div>
    {/each}
    <Field
      label="A new rule"
      mono
      value=""
      fresh
      placeholder="add: departs_at > arrives_at"
      words={names}
      word={WORD}
      onkeep={(typed) => (typed.trim() === '' ? undefined : keep(typed, { id: newId('rul'), condition: '' }))}
    />
  </Part>
{/if}
