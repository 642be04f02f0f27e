// Which commands only read: a pipeline that ends in "$out" or "$merge" writes.
import { commandIn } from './commands'

/** Why a statement may do more than read, in a sentence; nothing where it cannot. */
export function whyNotReading(statement: string, reads: readonly string[]): string | undefined {
  const command = commandIn(statement)
  if (!command) return 'This is no command: write it as JSON, such as {"find":"vessel","filter":{}}.'
  const [word = ''] = Object.keys(command)
  if (!reads.includes(word)) return `“${word}” may change something: only ${reads.join(', ')} are let through.`
  const { pipeline } = command
  const writes = Array.isArray(pipeline)
    ? pipeline.find((stage) => typeof stage === 'object' && stage !== null && ('$out' in stage || '$merge' in stage))
    : undefined
  return writes === undefined ? undefined : 'A pipeline that ends in $out or $merge writes.'
}
