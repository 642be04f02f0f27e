// "Supported Character Sets and Collations": the collation that a character set has when none is said, and older names.
const USUAL: Readonly<Record<string, string>> = {
  latin1: 'latin1_swedish_ci',
  big5: 'big5_chinese_ci',
  dec8: 'dec8_swedish_ci',
  hp8: 'hp8_english_ci',
  swe7: 'swe7_swedish_ci',
  ujis: 'ujis_japanese_ci',
  sjis: 'sjis_japanese_ci',
  tis620: 'tis620_thai_ci',
  euckr: 'euckr_korean_ci',
  gb2312: 'gb2312_chinese_ci',
  gbk: 'gbk_chinese_ci',
  cp932: 'cp932_japanese_ci',
  eucjpms: 'eucjpms_japanese_ci',
  binary: 'binary'
}

/** "utf8": three bytes at most, unless the server is told otherwise. */
const today = (name: string): string => name.toLowerCase().replace(/^utf8(?=_|$)/, 'utf8mb3')

/** `wide`: that of utf8mb4, which is another one from engine to engine. */
export const collationOf = (charset: string, wide: string): string => {
  const name = today(charset)
  if (name === 'utf8mb4') return wide
  return USUAL[name] ?? `${name}_general_ci`
}
export const collationNamed = today
/** The collation of a character set that holds letters as they are. */
export const binaryOf = (collation: string): string => `${collation.split('_')[0] ?? collation}_bin`
