// Whether a document meets a query. One may ask for what meets a validator, or does not ("$jsonSchema", "Query Conditions").
import type { Document } from 'bson'
import { misfit } from './fits'
import { tested } from './operators'

type Test = (document: Document) => boolean

const EACH: Readonly<Record<string, (tests: readonly Test[]) => Test>> = {
  $and: (tests) => (document) => tests.every((test) => test(document)),
  $or: (tests) => (document) => tests.some((test) => test(document)),
  $nor: (tests) => (document) => !tests.some((test) => test(document))
}

export function meets(query: Document): Test {
  const plain: Document = {}
  const tests: Test[] = []
  for (const [word, said] of Object.entries(query)) {
    const all = EACH[word]
    if (word === '$jsonSchema') tests.push((document) => misfit(document, said) === undefined)
    else if (all && Array.isArray(said)) tests.push(all((said as Document[]).map(meets)))
    else plain[word] = said as unknown
  }
  if (Object.keys(plain).length > 0) {
    tests.push(tested(plain))
  }
  return (document) => tests.every((test) => test(document))
}
