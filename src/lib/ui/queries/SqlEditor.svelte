<!-- An editor for statements, with the names that the database has as completions. -->
<script lang="ts">
  import { autocompletion } from '@codemirror/autocomplete'
  import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
  import { PostgreSQL, SQLite, StandardSQL, MariaSQL, sql } from '@codemirror/lang-sql'
  import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
  import { Compartment, EditorState } from '@codemirror/state'
  import { EditorView, keymap, lineNumbers } from '@codemirror/view'
  import { tags } from '@lezer/highlight'
  import { onMount, untrack } from 'svelte'
  import type { Catalog } from '../../core/catalog'

  interface Props {
    text: string
    readonly engine: string
    readonly live: Catalog | undefined
    readonly onrun: () => void
    readonly label?: string
  }
  let { text = $bindable(), engine, live, onrun, label = 'Statements to send' }: Props = $props()
  let host: HTMLDivElement
  let view: EditorView | undefined
  const language = new Compartment()
  const dialects = { postgres: PostgreSQL, sqlite: SQLite, mariadb: MariaSQL }

  const colours = HighlightStyle.define([
    { tag: tags.keyword, color: 'var(--color-primary)', fontWeight: '600' },
    { tag: [tags.string, tags.special(tags.string)], color: 'var(--color-success)' },
    { tag: tags.number, color: 'var(--color-secondary)' },
    { tag: tags.comment, color: 'var(--color-soft)', fontStyle: 'italic' }
  ])
  const withNames = () =>
    sql({
      dialect: dialects[engine as keyof typeof dialects] ?? StandardSQL,
      schema: Object.fromEntries((live?.tables ?? []).map((t) => [t.name, t.columns.map((column) => column.name)])),
      upperCaseKeywords: true
    })

  onMount(() => {
    view = new EditorView({
      parent: host,
      state: EditorState.create({
        doc: text,
        extensions: [
          lineNumbers(),
          history(),
          keymap.of([
            {
              key: 'Mod-Enter',
              run: () => {
                onrun()
                return true
              }
            },
            ...defaultKeymap,
            ...historyKeymap
          ]),
          language.of(withNames()),
          autocompletion(),
          syntaxHighlighting(colours),
          EditorView.lineWrapping,
          EditorView.contentAttributes.of({ 'aria-label': untrack(() => label) }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged) text = update.state.doc.toString()
          })
        ]
      })
    })
    return () => view?.destroy()
  })
  $effect(() => {
    const wanted = text
    if (view && wanted !== view.state.doc.toString())
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: wanted } })
  })
  $effect(() => {
    const names = withNames()
    view?.dispatch({ effects: language.reconfigure(names) })
  })
</script>

<div bind:this={host} class="editor h-44 shrink-0 overflow-hidden rounded border border-line bg-base-100"></div>

<style>
  .editor :global(.cm-editor) {
    height: 100%;
    font-size: 13px;
  }
  .editor :global(.cm-scroller) {
    font-family: var(--font-mono);
    overflow: auto;
  }
  .editor :global(.cm-gutters) {
    background: transparent;
    color: var(--color-soft);
    border: none;
  }
  .editor :global(.cm-cursor) {
    border-left-color: currentColor;
  }
  .editor :global(.cm-tooltip) {
    background: var(--color-base-100);
    color: inherit;
    border-color: var(--color-line);
  }
</style>
