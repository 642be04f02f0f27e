// Designs to begin from: small, of things that most applications have, written as rows of the sheet.

/** A column: name | type | filled | default | rules | meaning. An entity's name as the type is a link. */
type Rows = string

export interface Pattern {
  readonly name: string
  readonly about: string
  /** Entities by name, those that others link to first; `key` lists the columns of the key where it is no number. */
  readonly entities: Readonly<Record<string, { readonly means: string; readonly key?: string; readonly rows: Rows }>>
}

export const PATTERNS: readonly Pattern[] = [
  {
    name: 'Accounts and rights',
    about: 'Who may sign in, how, and what each may do.',
    entities: {
      Account: {
        means: 'Somebody, or something, that signs in',
        rows: `email | text(254) | required | | unique | where it is written to
name | text(100) | required
locked | boolean | required | no
created at | timestamp with zone | required | now`
      },
      'Sign-in method': {
        means: 'A way in which an account proves who it is',
        rows: `account | Account | required | | on delete cascade
kind | one of (password, key, other service) | required
secret | text(255) | required | | | hashed, never as it was typed
last used at | timestamp with zone`
      },
      Session: {
        means: 'A sign-in that has not ended yet',
        key: 'token',
        rows: `token | char(44) | required
account | Account | required | | on delete cascade
begun at | timestamp with zone | required | now
ends at | timestamp with zone | required | | index`
      },
      Role: {
        means: 'A set of rights under one name',
        rows: `name | text(60) | required | | unique\nmeaning | text(200)`
      },
      Permission: {
        means: 'One thing that may be done',
        key: 'code',
        rows: `code | text(60) | required | | | such as report.read\nmeaning | text(200)\nroles | many Role`
      },
      Membership: {
        means: 'A role that an account has, for a time or for good',
        rows: `account | Account | required | | on delete cascade
role | Role | required
since | date | required | now
until | date`
      }
    }
  },
  {
    name: 'Record of changes',
    about: 'Who changed what, when, from which value to which.',
    entities: {
      Actor: {
        means: 'A person or a program that changes something',
        rows: `name | text(100) | required | | unique\nkind | one of (person, program) | required | person`
      },
      Change: {
        means: 'One change, made at once',
        rows: `actor | Actor | required
made at | timestamp with zone | required | now | index
what | one of (added, changed, removed) | required
table name | text(128) | required
row key | text(200) | required | | index
reason | text(400)`
      },
      'Changed value': {
        means: 'One column that a change touched',
        key: 'change, column name',
        rows: `change | Change | required | | part of, on delete cascade
column name | text(128) | required
value before | text
value after | text`
      }
    }
  },
  {
    name: 'Bookings of rooms and things',
    about: 'What can be booked, when it is free, and who has it.',
    entities: {
      Resource: {
        means: 'A room or a thing that one can have for a time',
        rows: `name | text(100) | required | | unique\nplaces | small | may be empty | | min 1\nout of use | boolean | required | no`
      },
      'Opening time': {
        means: 'When a resource can be had in a week',
        rows: `resource | Resource | required | | on delete cascade
weekday | small | required | | min 1, max 7 | 1 is Monday
opens at | time | required
closes at | time | required`
      },
      Person: {
        means: 'Somebody who books',
        rows: `name | text(100) | required\nemail | text(254) | required | | unique`
      },
      Booking: {
        means: 'A resource for somebody, from a moment to another',
        rows: `resource | Resource | required
person | Person | required
starts at | timestamp with zone | required | | index
ends at | timestamp with zone | required
state | one of (asked, confirmed, cancelled) | required | asked
remark | text(400)`
      }
    }
  },
  {
    name: 'Documents with versions',
    about: 'Texts that change, each state of them kept, with tags and files.',
    entities: {
      Author: { means: 'Who writes', rows: `name | text(100) | required | | unique` },
      Tag: { means: 'A word to find documents by', key: 'word', rows: `word | text(40) | required` },
      Document: {
        means: 'Something that is written and rewritten',
        rows: `title | text(200) | required\nstate | one of (draft, in use, withdrawn) | required | draft\ntags | many Tag`
      },
      Version: {
        means: 'A document as it was at one moment',
        key: 'document, version no',
        rows: `document | Document | required | | part of, on delete cascade
version no | integer | required | | min 1
author | Author | required
written at | timestamp with zone | required | now
body | text | required
summary | text(400) | | | | what is new in it`
      },
      Attachment: {
        means: 'A file that belongs to a document',
        rows: `document | Document | required | | on delete cascade
file name | text(255) | required
media type | text(100) | required
bytes | big | required | | min 0
content | binary`
      }
    }
  },
  {
    name: 'Queue of work',
    about: 'Jobs that wait, are tried, fail and are tried again.',
    entities: {
      Worker: {
        means: 'A program that does jobs',
        rows: `name | text(100) | required | | unique\nseen at | timestamp with zone`
      },
      Job: {
        means: 'Something to be done once',
        rows: `kind | text(60) | required | | index
data | json
state | one of (waiting, running, done, given up) | required | waiting | index
urgency | small | required | 0
due at | timestamp with zone | required | now
most attempts | small | required | 5 | min 1`
      },
      'Job dependency': {
        means: 'A job that waits for another',
        key: 'job, waits for',
        rows: `job | Job | required | | part of, on delete cascade\nwaits for | Job | required | | part of, on delete cascade`
      },
      Attempt: {
        means: 'One try at a job',
        key: 'job, attempt no',
        rows: `job | Job | required | | part of, on delete cascade
attempt no | small | required | | min 1
worker | Worker | required
begun at | timestamp with zone | required | now
ended at | timestamp with zone
trouble | text | | | | why it failed, if it did`
      }
    }
  },
  {
    name: 'Measurements',
    about: 'Instruments, what they measure, and each reading.',
    entities: {
      Unit: {
        means: 'What a number counts',
        key: 'symbol',
        rows: `symbol | text(12) | required\nname | text(60) | required`
      },
      Quantity: {
        means: 'What can be measured',
        rows: `name | text(60) | required | | unique\nunit | Unit | required`
      },
      Site: {
        means: 'Where instruments stand',
        rows: `name | text(100) | required | | unique
latitude | decimal(8,6) | | | min -90, max 90
longitude | decimal(9,6) | | | min -180, max 180`
      },
      Instrument: {
        means: 'A thing that measures',
        rows: `serial no | text(40) | required | | unique
site | Site
quantity | Quantity | required
checked on | date`
      },
      Reading: {
        means: 'What an instrument showed at a moment',
        key: 'instrument, taken at',
        rows: `instrument | Instrument | required | | part of
taken at | timestamp with zone | required
value | double | required
doubtful | boolean | required | no`
      }
    }
  }
]
