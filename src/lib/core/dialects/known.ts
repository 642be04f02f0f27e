// The engines by name and version: all that can be said of them without what makes them different.
export interface Known {
  readonly id: string
  readonly label: string
  readonly versions: readonly string[]
  /** How it runs where the application does: itself, or as something that answers in its place by its manual. */
  readonly here?: 'embedded' | 'stand-in'
  /** What such a stand-in does not do as the engine would, in words that “, and refuses …” may follow. */
  readonly standIn?: string
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
  {
    id: 'mysql',
    label: 'MySQL',
    versions: ['5.7', '8.0', '8.4'],
    here: 'stand-in',
    served: true,
    standIn: 'It keeps whole numbers to 64 bits and decimals to fifteen digits, runs no triggers or routines'
  },
  { id: 'firebird', label: 'Firebird', versions: ['3.0', '4.0', '5.0'], served: true },
  { id: 'sqlite', label: 'SQLite', versions: ['3.35', '3.45', '3.50'], here: 'embedded' },
  {
    id: 'mongodb',
    label: 'MongoDB',
    versions: ['5.0', '6.0', '7.0', '8.0'],
    here: 'stand-in',
    served: true,
    standIn: 'It keeps numbers as the browser does'
  }
] as const satisfies readonly Known[]

export type EngineId = (typeof KNOWN)[number]['id']

export const versionsOf = (engine: EngineId): readonly string[] => KNOWN.find(({ id }) => id === engine)?.versions ?? []
