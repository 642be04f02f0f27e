// PostgreSQL's key words, from `pg_get_keywords()` of version 18; appendix C of the manual lists the same.

/** Reserved, some of them usable as a function's or type's name (categories R and T). */
export const reserved: ReadonlySet<string> = new Set(
  `all analyse analyze and any array as asc asymmetric authorization binary both case cast check collate collation
  column concurrently constraint create cross current_catalog current_date current_role current_schema current_time
  current_timestamp current_user default deferrable desc distinct do else end except false fetch for foreign freeze
  from full grant group having ilike in initially inner intersect into is isnull join lateral leading left like limit
  localtime localtimestamp natural not notnull null offset on only or order outer overlaps placing primary references
  returning right select session_user similar some symmetric system_user table tablesample then to trailing true union
  unique user using variadic verbose when where window with`.split(/\s+/)
)

/** Not usable as a function's or type's name (category C): `quote_ident` quotes them too. */
const columnNames =
  `between bigint bit boolean char character coalesce dec decimal exists extract float greatest grouping inout int
  integer interval json json_array json_arrayagg json_exists json_object json_objectagg json_query json_scalar
  json_serialize json_table json_value least merge_action national nchar none normalize nullif numeric out overlay
  position precision real row setof smallint substring time timestamp treat trim values varchar xmlattributes xmlconcat
  xmlelement xmlexists xmlforest xmlnamespaces xmlparse xmlpi xmlroot xmlserialize xmltable`.split(/\s+/)

export const mustQuote: ReadonlySet<string> = new Set([...reserved, ...columnNames])
