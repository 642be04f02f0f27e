// Why a browser keeps nothing, in a sentence that says what to do.

export type Trouble = 'denied' | 'newer' | 'blocked' | 'full' | 'failed'

const SENTENCES: Readonly<Record<Trouble, string>> = {
  denied:
    'This browser keeps nothing for this page: a private window does that, or a setting for the data of sites. Allow it to keep data, and load the page again.',
  newer:
    'A newer Ramblet has been used in this browser, and what it keeps cannot be read by this one. Load the page again to get the newer one.',
  blocked:
    'Another tab with an older Ramblet holds what this browser keeps. Close that tab, or load it again; then try again here.',
  full: 'There is no room left for what this browser keeps for this page. Free some space on the disk, or remove designs that are not needed any more.',
  failed: 'What this browser keeps cannot be read or written.'
}

export class StorageError extends Error {
  constructor(
    readonly trouble: Trouble,
    detail = ''
  ) {
    super(detail === '' ? SENTENCES[trouble] : `${SENTENCES[trouble]} (${detail})`)
  }
}

/** The names are those of "Indexed Database API 3.0", section 4 (exceptions), and of the HTML standard for denied access. */
const TROUBLES: Readonly<Record<string, Trouble>> = {
  VersionError: 'newer',
  QuotaExceededError: 'full',
  SecurityError: 'denied',
  NotAllowedError: 'denied'
}

export function storageError(error: unknown): StorageError {
  if (error instanceof StorageError) return error
  const [name, message] =
    error instanceof Error || error instanceof DOMException ? [error.name, error.message] : ['', String(error)]
  // A browser without it at all.
  if (error instanceof ReferenceError || (error instanceof TypeError && /indexedDB|undefined/.test(message)))
    return new StorageError('denied')
  const trouble = Object.hasOwn(TROUBLES, name) ? TROUBLES[name] : undefined
  return trouble ? new StorageError(trouble) : new StorageError('failed', message)
}
