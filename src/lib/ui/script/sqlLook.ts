// How SQL looks wherever it is shown to be read.
import { PostgreSQL, sql } from '@codemirror/lang-sql'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import type { Extension } from '@codemirror/state'
import { EditorView } from '@codemirror/view'
import { tags } from '@lezer/highlight'

const colours = HighlightStyle.define([
  { tag: tags.keyword, color: 'var(--color-primary)' },
  { tag: tags.typeName, color: 'var(--color-secondary)' },
  { tag: tags.string, color: 'var(--color-accent)' },
  { tag: tags.number, color: 'var(--color-secondary)' },
  { tag: tags.comment, color: 'var(--soft)' }
])
const look = EditorView.theme({
  '&': {
    height: '100%',
    fontSize: '13px',
    backgroundColor: 'var(--color-base-100)',
    color: 'var(--color-base-content)'
  },
  '.cm-scroller': { fontFamily: 'var(--font-mono)', lineHeight: '1.5' },
  '.cm-gutters': { backgroundColor: 'var(--color-base-100)', color: 'var(--soft)', border: 'none' },
  '.cm-chosen': { backgroundColor: 'var(--sea-tint)' },
  '&.cm-focused': { outline: 'none' }
})

export const sqlLook = (): Extension => [sql({ dialect: PostgreSQL }), syntaxHighlighting(colours), look]
