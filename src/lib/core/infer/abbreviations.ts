// Short words that the names of a database are made of, and what people say for them.
import type { Catalog } from '../catalog'
import { singular, wordsOf } from './words'

export interface LikelyAbbreviation {
  readonly short: string
  readonly long: string
  /** From 0 to 1. */
  readonly sure: number
  readonly why: string
  /** How many names it stands in. */
  readonly count: number
}

/** What is written short in names of columns and tables, and stands for one thing only: common practice, no source. */
const USUAL: Readonly<Record<string, string>> = {
  acct: 'account',
  addr: 'address',
  amt: 'amount',
  attr: 'attribute',
  avg: 'average',
  bal: 'balance',
  calc: 'calculated',
  cat: 'category',
  cd: 'code',
  cfg: 'configuration',
  cmt: 'comment',
  cnt: 'count',
  ctry: 'country',
  curr: 'current',
  cust: 'customer',
  def: 'definition',
  dept: 'department',
  descr: 'description',
  dest: 'destination',
  diff: 'difference',
  dir: 'direction',
  dist: 'distance',
  doc: 'document',
  dsc: 'description',
  dt: 'date',
  emp: 'employee',
  eqp: 'equipment',
  exp: 'expiry',
  ext: 'external',
  grp: 'group',
  hist: 'history',
  hr: 'hour',
  idx: 'index',
  img: 'image',
  insp: 'inspection',
  int: 'internal',
  inv: 'invoice',
  lang: 'language',
  lat: 'latitude',
  len: 'length',
  lng: 'longitude',
  loc: 'location',
  lon: 'longitude',
  lvl: 'level',
  max: 'maximum',
  mgr: 'manager',
  min: 'minimum',
  mod: 'modified',
  msg: 'message',
  nbr: 'number',
  nm: 'name',
  num: 'number',
  obj: 'object',
  org: 'organisation',
  orig: 'original',
  param: 'parameter',
  pct: 'percent',
  perm: 'permission',
  pos: 'position',
  pref: 'preference',
  prev: 'previous',
  prio: 'priority',
  prof: 'profile',
  prop: 'property',
  pwd: 'password',
  qty: 'quantity',
  rcv: 'received',
  rec: 'record',
  ref: 'reference',
  reg: 'registration',
  rel: 'relation',
  req: 'request',
  resp: 'response',
  rev: 'revision',
  sched: 'schedule',
  sec: 'second',
  seq: 'sequence',
  src: 'source',
  stat: 'status',
  std: 'standard',
  svc: 'service',
  tel: 'telephone',
  temp: 'temperature',
  tmp: 'temporary',
  tot: 'total',
  tx: 'transaction',
  txt: 'text',
  val: 'value',
  ver: 'version',
  vol: 'volume',
  wgt: 'weight',
  wt: 'weight'
}

/** What stands for more than one thing, or is a word of its own. */
const DOUBTFUL = new Set(
  'cat curr def dir dist emp exp ext int inv mod pos prof rec reg rel req rev sec stat temp tot hr max min'.split(' ')
)

/** From here on it is taken for one unless somebody says otherwise. */
const LIKELY = 0.9
const POSSIBLE = 0.6

/** What is written short in the names of tables and columns; what stands in most names first. */
export function likelyAbbreviations({ tables }: Catalog): LikelyAbbreviation[] {
  const counts = new Map<string, number>()
  for (const { name, columns } of tables)
    for (const called of [name, ...columns.map((column) => column.name)])
      for (const word of new Set(wordsOf(called))) counts.set(word, (counts.get(word) ?? 0) + 1)
  const bare = new Map<string, string[]>()
  for (const long of new Set([...counts.keys()].map(singular))) {
    const key = bones(long)
    if (key !== long) bare.set(key, [...(bare.get(key) ?? []), long])
  }
  const found = [...counts].flatMap(([short, count]): LikelyAbbreviation[] => {
    const usual = Object.hasOwn(USUAL, short) ? USUAL[short] : undefined
    if (usual !== undefined) {
      const doubtful = DOUBTFUL.has(short)
      const why = doubtful ? 'it can stand for other things, too' : 'it is commonly written so'
      return [{ short, long: usual, count, sure: doubtful ? POSSIBLE : LIKELY, why }]
    }
    const [long, another] = short.length < 3 ? [] : (bare.get(short) ?? [])
    return long === undefined || another !== undefined || long.length < short.length + 2
      ? []
      : [{ short, long, count, sure: POSSIBLE, why: `other names have ${long} written out` }]
  })
  return found.sort((a, b) => b.count - a.count || (a.short < b.short ? -1 : 1))
}

/** What is left of a word without the vowels inside: `vssl` of `vessel`. */
const bones = (word: string): string => word.charAt(0) + word.slice(1).replace(/[aeiou]/g, '')
