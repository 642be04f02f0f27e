// What is kept for a target: its embedded database, and what both sides last agreed on.
import type { Catalog } from '../core/catalog'
import { database } from './database'

/** One name for a target of a design in all that is kept for it. */
export const targetKey = (design: string, target: string): string => `${design}/${target}`

export const loadDump = async (key: string): Promise<Blob | undefined> => (await database()).get('dumps', key)

export async function saveDump(key: string, dump: Blob): Promise<void> {
  // Kept only once it is on the disk: a run is told done after this.
  const tx = (await database()).transaction('dumps', 'readwrite', { durability: 'strict' })
  void tx.store.put(dump, key)
  await tx.done
}

export const loadAgreed = async (key: string): Promise<Catalog | undefined> => (await database()).get('agreed', key)

export async function saveAgreed(key: string, agreed: Catalog): Promise<void> {
  await (await database()).put('agreed', agreed, key)
}
