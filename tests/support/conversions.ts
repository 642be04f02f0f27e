// Types of each engine with values at their edges, for trying every pair of them.

/** What a value looks like in SQL, by type. */
export type Samples = Readonly<Record<string, readonly string[]>>

const mariadb: Samples = {
  tinyint: ['0', '127', '-128'],
  'tinyint(1)': ['1'],
  smallint: ['-32768', '32767', '1999'],
  int: ['1', '-2147483648', '2147483647', '20240229'],
  'int unsigned': ['4294967295', '7'],
  bigint: ['9223372036854775807', '-9223372036854775808', '7', '20240229123000'],
  'bigint unsigned': ['18446744073709551615'],
  'decimal(4,1)': ['1.5', '999.9', '-0.4'],
  'decimal(12,4)': ['1.0005', '12345678.4321', '-0.5'],
  'decimal(30,10)': ['12345678901234567890.0123456789'],
  float: ['1.5', '1e30', '-0.1', '16777216'],
  double: ['1.5', '2.5', '1e10', '1e300', '-0.5', '123456789.123'],
  'bit(8)': ["b'101'", "b'11111111'"],
  year: ['2024', '1901'],
  'char(6)': ["'ab'", "'sixsix'", "'12'", "'1.5'", "''"],
  'varchar(6)': ["'a'", "'sixsix'", "''", "'b '", "'30'"],
  'varchar(40)': [
    ...[
      "'a longer text'",
      "' 12 '",
      "'12abc'",
      "'1e3'",
      "'-5'",
      "'1.55555'",
      "'99999999999999999999'",
      "'0x1F'",
      "'é'"
    ],
    ...[
      "'2024-02-29'",
      "'2024-02-30'",
      "'2024-02-29 12:30:00'",
      "'2024-02-29 12:30'",
      "'10:11:12'",
      "'10:99'",
      "'20240229'"
    ],
    ...[
      "'2024'",
      "'n'",
      "'Y'",
      "'y,n'",
      "'b,a'",
      "'true'",
      '\'{"a":1}\'',
      "'::1'",
      "'00000000-0000-4000-8000-000000000001'"
    ]
  ],
  longtext: ["'any text at all, and more of it than forty characters'", "'12'"],
  "enum('n','y')": ["'y'", "'n'"],
  "enum('n','y','Maybe')": ["'Maybe'", "'y'"],
  "set('a','b')": ["'a,b'", "''", "'b'"],
  'binary(3)': ["'abc'", "x'0001ff'"],
  'varbinary(10)': ["'12'", "x'ff00'", "'abc'"],
  longblob: ["'12'", "x'ff'"],
  date: ["'2024-02-29'", "'1000-01-01'"],
  time: ["'10:11:12'", "'-838:59:59'", "'00:00:05'"],
  'time(6)': ["'10:11:12.345678'"],
  'datetime(6)': ["'2024-02-29 12:30:00.25'", "'2024-02-29 00:00:00'", "'1000-01-01 00:00:00'"],
  datetime: ["'2024-02-29 12:30:00'"],
  timestamp: ["'2024-02-29 12:30:00'"],
  json: ['\'{"a":1}\'', "'12'", '\'"x"\''],
  uuid: ["'00000000-0000-4000-8000-000000000001'"],
  inet6: ["'::1'"]
}

const quoted = (samples: Samples): Samples =>
  Object.fromEntries(Object.entries(samples).map(([type, list]) => [type, list.map((text) => `'${text}'`)]))

const postgres: Samples = quoted({
  smallint: ['1', '-7', '32767'],
  integer: ['1', '70000', '-2147483648'],
  bigint: ['2', '9000000000'],
  'numeric(6,2)': ['1.25', '-9999.99', '12'],
  'numeric(12,4)': ['1.2345', '12345678.4321', '21474836'],
  numeric: ['1.5', '99999999999999999999', 'NaN'],
  real: ['1.5', '100000', 'NaN'],
  'double precision': ['2.25', '1e300', 'Infinity'],
  'varchar(4)': ['a', '12', 'full', 'yes'],
  'varchar(20)': ['a longer text', '17', '2024-02-29', ' -5 ', '99999999999', '123456.789'],
  text: ['true', '3.99', '10:30', 'any text at all', '00000000-0000-4000-8000-000000000001', '1e3', ''],
  'char(3)': ['ab', 'NLD'],
  boolean: ['true', 'false'],
  date: ['2024-02-29'],
  time: ['12:30:00.5'],
  timetz: ['12:30:00+00'],
  timestamp: ['2024-02-29 12:30:00'],
  timestamptz: ['2024-02-29 12:30:00+00'],
  interval: ['3 days 04:05:06', '10:00'],
  uuid: ['00000000-0000-4000-8000-000000000001'],
  json: ['{"b": 1, "a": 2}', '12', 'true'],
  jsonb: ['{"a": 1}', '3.5'],
  bytea: ['\\x6162'],
  inet: ['10.0.0.1', '10.0.0.0/8'],
  cidr: ['10.0.0.0/8'],
  'integer[]': ['{1,2}'],
  'text[]': ['{a,b}', '{1,2}']
})

const firebird: Samples = {
  smallint: ['1', '-32768', '32767', '0'],
  integer: ['7', '70000', '-2147483647'],
  bigint: ['7', '9000000000', '-9223372036854775807'],
  'numeric(4,1)': ['1.5', '3276.7'],
  'decimal(4,1)': ['1.5', '123.4'],
  'numeric(8,2)': ['1.25', '-12345.67', '21474836.47'],
  'numeric(12,4)': ['1.0005', '12345678.4321'],
  float: ['1.5', '-2.25'],
  'double precision': ['1.5', '2.5', '1e10'],
  'varchar(6)': ["'a'", "'sixsix'", "''", "'12'"],
  'varchar(20)': [
    ...["'a longer text'", "'in port'", "' -5 '", "'1.5'", "'99999999999'", "'true'", "'2024-02-29'", "'2024-02-30'"],
    ...["'12:30:00'", "'12:99'", "'2024-02-29 12:30:00'", "'1e3'", "'-'"]
  ],
  'char(6)': ["'ab'", "'sixsix'", "'42'"],
  'blob sub_type text': ["'any text'", "'7'"],
  date: ["'2024-02-29'"],
  timestamp: ["'2024-02-29 12:30:00'"],
  time: ["'12:30:00'"],
  boolean: ['true', 'false']
}

const sqlite: Samples = {
  integer: ['1', '-5', "'no number'"],
  real: ['1.5', '2'],
  'numeric(8,2)': ['12.25', '7'],
  text: ["'a'", "'12'", "'1.50'", "''"],
  'varchar(20)': ["'12abc'", "'1e3'"],
  blob: ["x'0102'", "'9'"],
  boolean: ['1', '0'],
  date: ["'2024-02-29'"]
}

/** It has no types of its own for these. */
const mysql: Samples = Object.fromEntries(
  Object.entries(mariadb).filter(([type]) => type !== 'uuid' && type !== 'inet6')
)

export const SAMPLES: Readonly<Record<string, Samples>> = { mariadb, mysql, postgres, firebird, sqlite }
