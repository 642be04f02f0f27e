// The engines that there are, without loading what is known of them.
import { KNOWN } from '../lib/core/dialects/known'
import { given, json, type Outcome } from './outcome'

export async function enginesCommand(options: { json?: boolean }): Promise<Outcome> {
  const text = options.json
    ? json(KNOWN)
    : KNOWN.map(({ id, label, versions }) => `${id}  ${label}  ${versions.join(' ')}\n`).join('')
  return { output: given({}, text), notices: [], code: 0 }
}
