// What foreign keys say: "FOREIGN KEY".
import type { ForeignKey, ReferentialAction } from '../../../catalog'
import type { Cursor } from '../../../sql'

export function references(item: Cursor, columns: readonly string[]): Omit<ForeignKey, 'name'> {
  item.expect('references')
  const table = item.name()
  const keys = item.word() === '(' ? item.names() : []
  let [onDelete, onUpdate]: [ReferentialAction, ReferentialAction] = ['no action', 'no action']
  for (;;) {
    if (item.take('on', 'delete')) onDelete = action(item)
    else if (item.take('on', 'update')) onUpdate = action(item)
    else break
  }
  return { columns, references: { schema: 'main', table, columns: keys }, onDelete, onUpdate, deferrable: 'no' }
}

function action(item: Cursor): ReferentialAction {
  const first = item.next().toLowerCase()
  if (first === 'restrict') return 'no action'
  return (first === 'set' || first === 'no' ? `${first} ${item.next().toLowerCase()}` : first) as ReferentialAction
}
