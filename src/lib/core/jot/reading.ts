// What a reading of a text knows by now: the design before, the names that are said, and what is wrong.
import type { Design, Domain, Entity, Link } from '../design'
import type { Notice } from '../notice'
import type { Line } from './lines'
import { keyNameIn, keyNameOf } from './guessed-link'
import { NOTHING_GONE, type Gone } from './gone'
import { saysOf, type Known, type Says } from './says'

export interface Block {
  readonly line: Line
  readonly name: string
  readonly dbName?: string
  readonly area?: string
  readonly namespace?: string
  readonly collection?: true
  readonly kindOf?: {
    readonly supertype: string
    readonly discriminator?: string
    readonly complete: boolean
    readonly exclusive: boolean
  }
}

export type Row =
  | { readonly kind: 'attribute'; readonly id: string; readonly says: Says }
  /** `called` is what stands before the colon, where that is not what the link is called. */
  | { readonly kind: 'link'; readonly id: string; readonly says: Says; readonly called?: string }

/** What an entity's lines say, before its lists have the ids of what they name. */
export interface Draft {
  readonly block: Block
  readonly entity: Entity
  readonly rows: readonly Row[]
  readonly links: readonly Link[]
  readonly clauses: readonly Line[]
}

export class Reading {
  readonly notices: Notice[] = []
  /** The line, from 1, of each object that has one. */
  readonly lines = new Map<string, number>()
  readonly domains: Map<string, Domain>
  /** Entities by their names, before anything is known of what is in them. */
  readonly shells: Map<string, Entity>
  /** The same by the names that they had before. */
  readonly before = new Map<string, Entity>()
  readonly known: Known = {
    // What has got another name in this text is still known by the one before, where other lines have that.
    entity: (name) => this.shells.get(name.toLowerCase()) ?? this.before.get(name.toLowerCase()),
    domain: (name) => this.domains.get(name.toLowerCase())
  }
  /** What no line stood for before. */
  readonly fresh = new Set<string>()
  private readonly said = new Map<string, Says>()
  /** The blocks of entities, where all are read. */
  readonly blocks = new Map<string, Block>()
  private readonly keys = new Map<string, string | undefined>()
  private ids: ReadonlySet<string> | undefined

  constructor(
    readonly text: string,
    readonly base: Design,
    { domains, shells }: Pick<Reading, 'domains' | 'shells'> = { domains: new Map(), shells: new Map() },
    readonly gone: Gone = NOTHING_GONE
  ) {
    this.domains = domains
    this.shells = shells
  }

  /** What the key of an entity is called; nothing where it is of several columns. */
  keyName(entity: Entity): string | undefined {
    if (!this.keys.has(entity.id)) {
      const block = this.blocks.get(entity.id)
      const name = block
        ? block.kindOf
          ? undefined
          : keyNameIn(this, block.line.inside)
        : keyNameOf(this.base, entity)
      this.keys.set(entity.id, name)
    }
    return this.keys.get(entity.id)
  }

  /** An entity as it was before, or lately. */
  was(id: string): Entity | undefined {
    return this.base.entities[id] ?? this.gone.entities.findLast((one) => one.id === id)
  }

  /** Whether an entity of before is one of the text. */
  isThere(entity: string): boolean {
    this.ids ??= new Set([...this.shells.values()].map(({ id }) => id))
    return this.ids.has(entity)
  }

  /** What stands behind a colon: many lines say the same. */
  says(tail: string): Says {
    const before = this.said.get(tail)
    if (before) return before
    const says = saysOf(tail, this.known)
    this.said.set(tail, says)
    return says
  }

  say(code: string, line: Line, at: number, message: string, severity: Notice['severity'] = 'error') {
    const before = this.text.slice(0, line.at + at)
    const column = before.length - (before.lastIndexOf('\n') + 1) + 1
    const number = before.split('\n').length
    this.notices.push({ code, severity, message, where: `${number}:${column}` })
  }

  odd(says: Says, line: Line, from: number) {
    for (const { at, why } of says.odd) this.say('jot-word', line, from + at, why)
  }
}
