// Records whose keys come from people or files: every key is kept or refused, also `__proto__` and `constructor`, which
// the usual schema of a record leaves out without a word.
import * as v from 'valibot'

type Fields = Readonly<Record<string, unknown>>

export const keyed = <T>(
  key: v.GenericSchema<unknown, string>,
  value: v.GenericSchema<unknown, T>
): v.GenericSchema<unknown, Record<string, T>> =>
  v.pipe(
    v.custom<Fields>((input) => typeof input === 'object' && input !== null && !Array.isArray(input), 'an object'),
    v.rawTransform(({ dataset, addIssue, NEVER }) => {
      const read: [string, T][] = []
      let failed = false
      for (const [name, inner] of Object.entries(dataset.value)) {
        const found = { name: v.safeParse(key, name), inner: v.safeParse(value, inner) }
        if (found.name.success && found.inner.success) read.push([name, found.inner.output])
        else {
          failed = true
          const [issue] = [...(found.name.issues ?? []), ...(found.inner.issues ?? [])]
          const at = { type: 'object', origin: 'value', input: dataset.value, key: name, value: inner } as const
          if (issue)
            addIssue({ message: issue.message, path: [at, ...((issue.path ?? []) as (typeof at)[])] as [typeof at] })
        }
      }
      // What is made from entries has each as its own, whatever it is called.
      return failed ? NEVER : Object.fromEntries(read)
    })
  )

/** What is kept under a word of people's: never what every object has by itself. */
export const own = <T>(record: Readonly<Record<string, T>>, key: string): T | undefined =>
  Object.hasOwn(record, key) ? record[key] : undefined
