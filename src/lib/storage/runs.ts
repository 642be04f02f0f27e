// The record of runs: written a line at a time, so that a run that was cut off can be taken up where it was.
import { database, type QueryRecord, type RunEntry, type RunRecord } from './database'

export async function saveRun(run: RunRecord): Promise<void> {
  await (await database()).put('runs', run)
}

/** Kept on the disk, all or none, before it returns: what follows may be cut off. */
export async function appendEntries(entries: readonly RunEntry[]): Promise<void> {
  const tx = (await database()).transaction('entries', 'readwrite', { durability: 'strict' })
  for (const entry of entries) void tx.store.add(entry)
  await tx.done
}

/** The runs of a target, the latest first. */
export async function listRuns(target: string): Promise<RunRecord[]> {
  const runs = await (await database()).getAllFromIndex('runs', 'target', target)
  return runs.sort((a, b) => b.startedAt - a.startedAt)
}

export async function entriesOf(run: string): Promise<RunEntry[]> {
  return (await database()).getAllFromIndex('entries', 'run', run)
}

export async function recordQuery(query: QueryRecord): Promise<void> {
  await (await database()).add('queries', query)
}

/** What was sent to a target by hand, the latest first. */
export async function listQueries(target: string): Promise<QueryRecord[]> {
  return (await (await database()).getAllFromIndex('queries', 'target', target)).reverse()
}
