// The engines by name and version: all that can be said of them without what makes them different.
export interface Known {
  readonly id: string
  readonly label: string
  readonly versions: readonly string[]
  /** How it runs where the application does: itself, or as something that answers in its place by its manual. */
  readonly here?: 'embedded' | 'stand-in'
  /** It can be reached on a server. */
  readonly served?: true
}

export const KNOWN = [
  {
    id: 'postgres',
    label: 'PostgreSQL',
    versions: ['13', '14', '15', '16', '17', '18'],
    here: 'embedded',
    served: true
  },
  { id: 'mariadb', label: 'MariaDB', versions: ['10.6', '10.11', '11.4', '11.8'], served: true },
  { id: 'mysql', label: 'MySQL', versions: ['5.7', '8.0', '8.4'] },
  { id: 'firebird', label: 'Firebird', versions: ['3.0', '4.0', '5.0'], served: true },
  { id: 'sqlite', label: 'SQLite', versions: ['3.35', '3.45', '3.50'], here: 'embedded' },
  { id: 'mongodb', label: 'MongoDB', versions: ['5.0', '6.0', '7.0', '8.0'], here: 'stand-in', served: true }
] as const satisfies readonly Known[]

export type EngineId = (typeof KNOWN)[number]['id']

export const versionsOf = (engine: EngineId): readonly string[] => KNOWN.find(({ id }) => id === engine)?.versions ?? []
