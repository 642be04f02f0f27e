// A database as a file tells of it: compared with, and nothing else.
import type { Catalog } from '../../core/catalog'
import type { LiveDatabase } from '../../live'

const refuse = () => Promise.reject(new Error('A file can only be read: what it says is run where it came from.'))

export const toldDatabase = (catalog: Catalog): LiveDatabase => ({
  engine: catalog.engine,
  catalog: async () => catalog,
  query: refuse,
  rows: refuse,
  endRows: async () => undefined,
  run: refuse,
  close: async () => undefined
})
