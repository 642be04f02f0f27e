// What goes between the app's server and the thread that a session's driver runs in.
import type { DatabaseSettings } from '../../core/dialects'
import type { LiveDatabase } from '../../live'
import type { Access } from '../open'

export type Asked = 'open' | 'databases' | 'make' | Exclude<keyof LiveDatabase, 'engine'>

export interface Question {
  readonly id: number
  readonly what: Asked
  readonly args: readonly unknown[]
}

export interface Opening {
  readonly engine: string
  readonly access: Access
  /** Of a database that is to be made. */
  readonly settings?: DatabaseSettings
}

export type Reply =
  | { readonly id: number; readonly value: unknown }
  | { readonly id: number; readonly error: { readonly name: string; readonly message: string } }
