// "CREATE SEQUENCE".
import type { Sequence } from '../../../catalog'
import { NotUnderstood, type Cursor } from '../../../sql'

/** From behind its name on. */
export function readSequence(item: Cursor, name: string): Sequence {
  const found: { -readonly [K in keyof Sequence]?: Sequence[K] } = {}
  const number = () => {
    item.takeOne('=', 'with', 'by')
    const sign = item.takeOne('-', '+')
    return `${sign === '-' ? '-' : ''}${item.next()}`
  }
  while (!item.done) {
    if (item.take('start')) found.start = number()
    else if (item.take('increment')) found.increment = number()
    else if (item.take('minvalue')) found.min = number()
    else if (item.take('maxvalue')) found.max = number()
    else if (item.take('cache')) found.cache = number()
    else if (item.take('nocache')) found.cache = '0'
    else if (item.take('cycle')) found.cycle = true
    else if (item.takeOne('nocycle', 'nominvalue', 'nomaxvalue', 'no')) item.takeOne('minvalue', 'maxvalue')
    else if (item.take('engine')) {
      item.take('=')
      item.next()
    } else throw new NotUnderstood(`Nothing is known of what is said of ${name} from “${item.rest().slice(0, 40)}” on.`)
  }
  const { start, increment, ...rest } = found
  const first = rest.min ?? '1'
  return {
    schema: 'main',
    name,
    ...rest,
    ...(start === undefined || start === first ? {} : { start }),
    ...(increment === undefined || increment === '1' ? {} : { increment })
  }
}
