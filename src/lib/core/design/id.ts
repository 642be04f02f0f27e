// Identity for life: made once, never reused, never read as anything but a name.

const alphabet = '0123456789abcdefghjkmnpqrstvwxyz'

export type IdKind =
  | 'des'
  | 'ent'
  | 'att'
  | 'lnk'
  | 'key'
  | 'idx'
  | 'rul'
  | 'stp'
  | 'qry'
  | 'sub'
  | 'are'
  | 'dia'
  | 'tgt'
  | 'vie'
  | 'dom'
  | 'grd'
  | 'chk'
  | 'chp'
  | 'com'
  | 'not'

/** A new id: a word for the kind and 60 random bits. */
export function newId(kind: IdKind): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12))
  return `${kind}_${[...bytes].map((byte) => alphabet[byte % 32]).join('')}`
}
