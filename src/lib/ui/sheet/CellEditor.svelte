<!-- The field that is open in a cell: what is typed, the types to choose from, and why it is not taken. -->
<script lang="ts">
  import { cellText, isNewRow, type Cell } from '../../core/cells'
  import { useDesk } from '../desk/desk.svelte'
  import { TITLES } from './columns.svelte'
  import type { Grid } from './grid.svelte'
  import TypeChoices from './TypeChoices.svelte'
  import type { RowLine } from './walk'

  interface Props {
    readonly grid: Grid
    readonly cell: Cell
    readonly line: RowLine
    /** There is more room above than below. */
    readonly low: boolean
  }
  const { grid, cell, line, low }: Props = $props()
  const desk = useDesk()
  const typing = $derived(grid.editing ?? { text: '', error: '', marked: -1 })
  const isType = $derived(cell.column === 'type')
  const name = $derived(
    isNewRow(cell.row)
      ? line.row.within
        ? 'a new field'
        : 'a new column'
      : cellText(desk.design, line.entity, line.row, 'name')
  )
  let marked = $state(-1)

  const focused = (node: HTMLInputElement) => {
    node.focus()
    node.setSelectionRange(node.value.length, node.value.length)
  }
</script>

<input
  class="absolute inset-0 w-full min-w-0 border-2 border-primary bg-base-100 px-1 {isType
    ? 'font-mono text-[13px]'
    : ''}"
  aria-label="{TITLES[cell.column]} of {name}"
  aria-invalid={typing.error !== ''}
  aria-describedby={typing.error === '' ? undefined : 'cell-error'}
  role={isType ? 'combobox' : undefined}
  aria-expanded={isType ? true : undefined}
  aria-controls={isType ? 'type-choices' : undefined}
  aria-activedescendant={isType && marked >= 0 ? `type-choices-${marked}` : undefined}
  value={typing.text}
  oninput={(event) => grid.type(event.currentTarget.value)}
  onblur={() => grid.leaveCell(cell)}
  {@attach focused}
/>
{#if isType}
  <TypeChoices
    id="type-choices"
    design={desk.design}
    text={typing.text}
    marked={typing.marked}
    above={low}
    onlist={(choices) => {
      grid.choices = choices
      marked = typing.marked < 0 && choices.first !== undefined ? 0 : typing.marked
    }}
    onchoose={(text) => {
      const done = grid.finish(cell, text)
      if (done !== false) void grid.go({ ...cell, row: done.row }, { keep: true })
    }}
  />
{/if}
<!-- On the side where no list is. -->
{#if typing.error}
  <p
    role="alert"
    id="cell-error"
    class="absolute left-0 z-40 w-64 rounded border border-error bg-brick-tint px-2 py-1 text-xs text-error {low ===
    isType
      ? 'top-full mt-1'
      : 'bottom-full mb-1'}"
  >
    {typing.error}
  </p>
{/if}
