// The questions that a PostgreSQL server is asked of what it holds: manual, chapter 52 System Catalogs, of its own version.
// (`information_schema` is ten times slower.)
import { literal } from '../standard'
import { DEFAULT_SCHEMA } from './profile'

/** Objects that came with an extension are the extension's own. */
const ofNoExtension = (oid: string, catalog: string) =>
  `NOT EXISTS (SELECT FROM pg_depend e WHERE e.classid = '${catalog}'::regclass AND e.objid = ${oid} AND e.deptype = 'e')`

/** Who may do what beyond, or short of, what the engine gives by itself: manual, 5.8 Privileges, 9.27.4 `aclexplode`. */
const rights = (acl: string, usual: string) => `${rightsList(acl, usual)} AS rights`
const rightsList = (acl: string, usual: string) => `CASE WHEN ${acl} IS NULL THEN NULL ELSE (
    SELECT json_agg(json_build_object('to', x.who, 'may', x.may, 'grantable', x.pass, 'revoked', x.gone) ORDER BY x.gone DESC, x.who, x.pass, x.may)
    FROM (
      SELECT CASE a.grantee WHEN 0 THEN 'PUBLIC' ELSE pg_get_userbyid(a.grantee)::text END AS who, a.privilege_type AS may, a.is_grantable AS pass, false AS gone
      FROM aclexplode(${acl}) a WHERE NOT EXISTS (SELECT FROM aclexplode(${usual}) u
        WHERE u.grantee = a.grantee AND u.privilege_type = a.privilege_type AND u.is_grantable = a.is_grantable)
      UNION ALL
      SELECT CASE u.grantee WHEN 0 THEN 'PUBLIC' ELSE pg_get_userbyid(u.grantee)::text END, u.privilege_type, false, true
      FROM aclexplode(${usual}) u WHERE NOT EXISTS (SELECT FROM aclexplode(${acl}) a
        WHERE a.grantee = u.grantee AND a.privilege_type = u.privilege_type)
    ) x) END`

const owner = (role: string) => `pg_get_userbyid(${role})::text AS owner`

/** Where a type is that the engine does not bring. */
const schemaOfOwn = (type: string) =>
  `CASE WHEN ${type}.typnamespace <> 'pg_catalog'::regnamespace THEN (SELECT w.nspname FROM pg_namespace w WHERE w.oid = ${type}.typnamespace) END`

/** All the questions, by what they ask; those behind `qualified` are asked with no schema to look through. */
export function questions(schemas: readonly string[] | undefined, version: number) {
  const within = (n: string) =>
    schemas
      ? `${n}.nspname IN (${schemas.map(literal).join(', ')})`
      : `${n}.nspname !~ '^pg_' AND ${n}.nspname <> 'information_schema'`
  const inSchemas = within('n')
  /** A column that the catalogue has from a version on. */
  const since = (first: number, column: string) => (version >= first ? column : 'NULL')
  const relation = (kinds: string) =>
    `${inSchemas} AND c.relkind IN (${kinds}) AND ${ofNoExtension('c.oid', 'pg_class')}`
  const from = `FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace`
  const tables = relation(`'r', 'p'`)
  const names = (keys: string, table: string) =>
    `(SELECT json_agg(a.attname ORDER BY k.place) FROM unnest(${keys}) WITH ORDINALITY k(number, place)
      JOIN pg_attribute a ON a.attrelid = ${table} AND a.attnum = k.number)`

  // What keeps a column from being empty, where a parent gives it, or its name is not the usual one (cut when it is too long).
  const requiredBy =
    version < 18
      ? ''
      : `
      LEFT JOIN pg_constraint r ON a.attnotnull AND r.conrelid = c.oid AND r.contype = 'n' AND r.conkey = ARRAY[a.attnum]
        AND (NOT (r.conislocal OR c.relispartition) OR r.conname <> c.relname || '_' || a.attname || '_not_null' AND (octet_length(c.relname || a.attname) < 54 OR r.conname !~ '_not_null$'))`
  const plain = {
    server: `SELECT current_setting('server_version') AS version`,
    schemas: `SELECT n.oid::int8 AS oid, n.nspname AS name, obj_description(n.oid, 'pg_namespace') AS comment, ${owner('n.nspowner')},
        ${rights('n.nspacl', `coalesce((SELECT i.initprivs FROM pg_init_privs i WHERE i.objoid = n.oid AND i.classoid = 'pg_namespace'::regclass), acldefault('n', n.nspowner))`)}
      FROM pg_namespace n WHERE ${inSchemas} AND ${ofNoExtension('n.oid', 'pg_namespace')} ORDER BY 2`,
    extensions: `SELECT e.extname AS name, n.nspname AS schema, obj_description(e.oid, 'pg_extension') AS comment,
        (SELECT a.comment FROM pg_available_extensions a WHERE a.name = e.extname) AS usual
      FROM pg_extension e JOIN pg_namespace n ON n.oid = e.extnamespace WHERE e.extname <> 'plpgsql' ORDER BY 1`,
    tables: `SELECT c.oid::int8 AS oid, n.nspname AS schema, c.relname AS name, c.relkind AS kind, c.reltype::int8 AS row_type, ${owner('c.relowner')}, ${rights('c.relacl', `acldefault('r', c.relowner)`)},
        c.relpersistence AS persistence, to_json(c.reloptions) AS options, (SELECT to_json(t.reloptions) FROM pg_class t WHERE t.oid = c.reltoastrelid AND c.reltoastrelid <> 0) AS toast,
        (SELECT s.spcname FROM pg_tablespace s WHERE s.oid = c.reltablespace) AS tablespace, c.relrowsecurity AS secured, c.relforcerowsecurity AS forced,
        c.relreplident AS replica, CASE WHEN c.relkind = 'p' THEN pg_get_partkeydef(c.oid) END AS partition_by,
        CASE WHEN c.relispartition THEN pg_get_expr(c.relpartbound, c.oid) END AS bound,
        CASE WHEN c.reloftype <> 0 THEN format_type(c.reloftype, NULL) END AS of_type,
        (SELECT m.amname FROM pg_am m WHERE m.oid = c.relam AND m.amname <> 'heap') AS method,
        CASE WHEN c.relhassubclass OR c.relispartition OR EXISTS (SELECT FROM pg_inherits i WHERE i.inhrelid = c.oid) THEN
          (SELECT json_agg(json_build_object('schema', pn.nspname, 'name', p.relname) ORDER BY i.inhseqno)
           FROM pg_inherits i JOIN pg_class p ON p.oid = i.inhparent JOIN pg_namespace pn ON pn.oid = p.relnamespace WHERE i.inhrelid = c.oid) END AS parents
      ${from} WHERE ${tables} ORDER BY 2, 3`,
    columns: `SELECT a.attrelid::int8 AS id, a.attnum AS number, a.attname AS name, format_type(a.atttypid, a.atttypmod) AS type, ${schemaOfOwn('t')} AS type_schema, a.attnotnull AS required,
        d.oid::int8 AS preset, pg_get_expr(d.adbin, d.adrelid) AS expression, NULLIF(a.attidentity, '') AS identity,
        CASE WHEN a.attgenerated <> '' OR a.attcollation <> t.typcollation OR a.attstorage <> t.typstorage OR a.attacl IS NOT NULL
          OR a.attinhcount > 0 OR coalesce(a.attstattarget, -1) <> -1 OR a.attoptions IS NOT NULL OR ${version >= 14 ? `a.attcompression <> ''` : 'false'} OR ${version >= 18 ? 'r.conname IS NOT NULL' : 'false'} THEN json_build_object(
        'required', ${since(18, 'CASE WHEN r.conislocal OR c.relispartition THEN r.conname END')}, 'given', ${since(18, 'NOT r.conislocal AND NOT c.relispartition')},
        'generated', a.attgenerated,
        'collation', CASE WHEN a.attcollation <> t.typcollation THEN a.attcollation::regcollation::text END,
        'storage', CASE WHEN a.attstorage <> t.typstorage THEN a.attstorage::text END, 'compression', ${since(14, 'a.attcompression')},
        'statistics', NULLIF(a.attstattarget, -1), 'options', a.attoptions,
        'inherited', a.attinhcount > 0 AND NOT a.attislocal, 'rights', ${rightsList('a.attacl', `acldefault('c', c.relowner)`)}) END AS more
      ${from} JOIN pg_attribute a ON a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped
      JOIN pg_type t ON t.oid = a.atttypid LEFT JOIN pg_attrdef d ON a.atthasdef AND d.adrelid = c.oid AND d.adnum = a.attnum${requiredBy}
      WHERE ${tables} ORDER BY a.attrelid, a.attnum`,
    // How the numbers of identity columns are given out.
    identities: `SELECT x.refobjid::int8 AS id, x.refobjsubid AS number, sn.nspname AS schema, s.relname AS name, format_type(q.seqtypid, NULL) AS type,
        q.seqstart::text AS start, q.seqincrement::text AS increment, q.seqmin::text AS min, q.seqmax::text AS max, q.seqcache::text AS cache, q.seqcycle AS cycle
      FROM pg_sequence q JOIN pg_class s ON s.oid = q.seqrelid JOIN pg_namespace sn ON sn.oid = s.relnamespace
      JOIN pg_depend x ON x.classid = 'pg_class'::regclass AND x.objid = s.oid AND x.refclassid = 'pg_class'::regclass AND x.deptype = 'i'`,
    // What is said of tables, columns, constraints and indexes: looked up by number, most have none.
    comments: `SELECT d.classoid::regclass::text AS class, d.objoid::int8 AS id, d.objsubid AS number, d.description AS comment FROM pg_description d
      WHERE d.classoid IN ('pg_class'::regclass, 'pg_constraint'::regclass) AND d.objoid >= 16384`,
    constraints: `SELECT o.oid::int8 AS oid, c.oid::int8 AS id, o.conname AS name, o.contype AS type, to_json(o.conkey) AS columns,
        pn.nspname AS parent_schema, p.relname AS parent, o.confrelid::int8 AS parent_id, to_json(o.confkey) AS parent_keys, ${schemas ? names('o.confkey', 'o.confrelid') : 'NULL'} AS parent_columns,
        o.confdeltype AS on_delete, o.confupdtype AS on_update, o.conindid::int8 AS index,
        CASE o.contype WHEN 'c' THEN pg_get_expr(o.conbin, o.conrelid) WHEN 'x' THEN pg_get_constraintdef(o.oid) END AS expression,
        CASE WHEN o.confmatchtype = 'f' OR o.condeferrable OR NOT o.convalidated OR o.contype = 'c' AND o.connoinherit OR o.coninhcount > 0 OR o.conparentid <> 0
          OR ${version >= 15 ? 'o.confdelsetcols IS NOT NULL OR i.indnullsnotdistinct' : 'false'} OR ${version >= 18 ? 'o.conperiod OR NOT o.conenforced' : 'false'}
          OR x.reloptions IS NOT NULL OR i.indisclustered OR i.indisreplident OR x.reltablespace <> 0 OR i.indnatts > i.indnkeyatts THEN json_build_object(
        'match', o.confmatchtype, 'deferrable', o.condeferrable, 'deferred', o.condeferred,
        'valid', o.convalidated, 'alone', o.connoinherit, 'inherited', o.coninhcount > 0 AND NOT o.conislocal, 'of_parent', o.conparentid <> 0,
        'part_of', CASE WHEN o.conparentid <> 0 THEN (SELECT w.conname FROM pg_constraint w WHERE w.oid = o.conparentid) END,
        'enforced', ${since(18, 'o.conenforced')}, 'period', ${since(18, 'o.conperiod')}, 'sets', ${since(15, 'o.confdelsetcols')},
        'options', x.reloptions, 'nulls', ${since(15, 'i.indnullsnotdistinct')}, 'clustered', i.indisclustered, 'identifies', i.indisreplident,
        'tablespace', CASE WHEN x.reltablespace <> 0 THEN (SELECT s.spcname FROM pg_tablespace s WHERE s.oid = x.reltablespace) END,
        'include', CASE WHEN i.indnatts > i.indnkeyatts THEN (SELECT json_agg(a.attname ORDER BY k.place) FROM unnest(i.indkey::int2[]) WITH ORDINALITY k(number, place)
          JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = k.number WHERE k.place > i.indnkeyatts) END) END AS more
      ${from} JOIN pg_constraint o ON o.conrelid = c.oid
      LEFT JOIN pg_class p ON p.oid = o.confrelid LEFT JOIN pg_namespace pn ON pn.oid = p.relnamespace
      LEFT JOIN pg_index i ON o.contype IN ('p', 'u') AND i.indexrelid = o.conindid LEFT JOIN pg_class x ON x.oid = i.indexrelid
      WHERE ${tables} AND o.contype IN ('p', 'u', 'f', 'c', 'x') ORDER BY o.conname`,
    indexes: `SELECT x.oid::int8 AS oid, c.oid::int8 AS id, x.relname AS name, i.indisunique AS unique, m.amname AS method,
        pg_get_expr(i.indpred, i.indrelid) AS condition,
        (SELECT json_agg(json_build_object('column', a.attname, 'expression', CASE WHEN k.number = 0 THEN pg_get_indexdef(x.oid, k.place::int, false) END,
           'options', i.indoption[k.place - 1],
           'operators', (SELECT CASE WHEN o.opcdefault AND ia.attoptions IS NULL THEN NULL ELSE quote_ident(o.opcname) ||
              coalesce('(' || array_to_string(ia.attoptions, ', ') || ')', '') END FROM pg_opclass o WHERE o.oid = i.indclass[k.place - 1]),
           'operators_schema', (SELECT CASE WHEN o.opcdefault THEN NULL ELSE quote_ident(cn.nspname) END FROM pg_opclass o JOIN pg_namespace cn ON cn.oid = o.opcnamespace
              WHERE o.oid = i.indclass[k.place - 1] AND cn.nspname NOT IN ('pg_catalog', 'public')),
           'collation', CASE WHEN i.indcollation[k.place - 1] <> 0 AND i.indcollation[k.place - 1] <> coalesce(a.attcollation, ia.attcollation)
              OR a.attnum IS NULL AND i.indcollation[k.place - 1] <> 0 AND i.indcollation[k.place - 1] <> (SELECT t.typcollation FROM pg_type t WHERE t.oid = ia.atttypid)
              THEN (i.indcollation[k.place - 1])::regcollation::text END) ORDER BY k.place)
         FROM unnest(i.indkey::int2[]) WITH ORDINALITY k(number, place)
         JOIN pg_attribute ia ON ia.attrelid = x.oid AND ia.attnum = k.place
         LEFT JOIN pg_attribute a ON a.attrelid = i.indrelid AND a.attnum = k.number AND k.number > 0) AS parts,
        i.indnkeyatts AS keys, ${since(15, 'i.indnullsnotdistinct')} AS nulls, to_json(x.reloptions) AS options,
        (SELECT s.spcname FROM pg_tablespace s WHERE s.oid = x.reltablespace) AS tablespace, i.indisclustered AS clustered, i.indisreplident AS identifies,
        CASE WHEN x.relispartition THEN (SELECT w.relname FROM pg_inherits h JOIN pg_class w ON w.oid = h.inhparent WHERE h.inhrelid = x.oid) END AS part_of
      ${from} JOIN pg_index i ON i.indrelid = c.oid JOIN pg_class x ON x.oid = i.indexrelid JOIN pg_am m ON m.oid = x.relam
      WHERE ${relation(`'r', 'p', 'm'`)} AND NOT EXISTS (SELECT FROM pg_constraint o WHERE o.conindid = x.oid AND o.contype IN ('p', 'u', 'x'))
      ORDER BY x.relname`,
    types: `SELECT t.oid::int8 AS oid, t.typarray::int8 AS list, n.nspname AS schema, t.typname AS name, t.typtype AS kind, ${owner('t.typowner')},
        ${rights('t.typacl', `acldefault('T', t.typowner)`)},
        obj_description(t.oid, 'pg_type') AS comment,
        CASE t.typtype WHEN 'e' THEN (SELECT json_agg(e.enumlabel ORDER BY e.enumsortorder) FROM pg_enum e WHERE e.enumtypid = t.oid) END AS labels,
        CASE t.typtype WHEN 'd' THEN format_type(t.typbasetype, t.typtypmod) END AS base, ${schemaOfOwn('b')} AS base_schema, t.typnotnull AS required,
        CASE WHEN t.typtype = 'd' AND t.typcollation <> b.typcollation THEN t.typcollation::regcollation::text END AS collation,
        CASE t.typtype WHEN 'd' THEN coalesce(pg_get_expr(t.typdefaultbin, 0), quote_literal(t.typdefault)) END AS expression,
        CASE t.typtype WHEN 'd' THEN (SELECT json_agg(json_build_object('name', o.conname, 'expression', pg_get_expr(o.conbin, 0), 'valid', o.convalidated,
            'comment', obj_description(o.oid, 'pg_constraint')) ORDER BY o.conname) FROM pg_constraint o WHERE o.contypid = t.oid AND o.contype = 'c') END AS checks,
        CASE t.typtype WHEN 'c' THEN (SELECT json_agg(json_build_object('name', a.attname, 'type', format_type(a.atttypid, a.atttypmod), 'type_schema', ${schemaOfOwn('ft')},
            'collation', CASE WHEN a.attcollation <> ft.typcollation THEN a.attcollation::regcollation::text END, 'comment', col_description(t.typrelid, a.attnum)) ORDER BY a.attnum)
          FROM pg_attribute a JOIN pg_type ft ON ft.oid = a.atttypid WHERE a.attrelid = t.typrelid AND a.attnum > 0 AND NOT a.attisdropped) END AS fields,
        t.typrelid::int8 AS relation,
        CASE t.typtype WHEN 'r' THEN (SELECT json_build_object('subtype', format_type(g.rngsubtype, NULL),
            'subtype_opclass', (SELECT o.opcname FROM pg_opclass o WHERE o.oid = g.rngsubopc AND NOT o.opcdefault),
            'collation', CASE WHEN g.rngcollation <> 0 AND g.rngcollation <> st.typcollation THEN g.rngcollation::regcollation::text END,
            'canonical', CASE WHEN g.rngcanonical <> 0 THEN g.rngcanonical::regproc::text END,
            'subtype_diff', CASE WHEN g.rngsubdiff <> 0 THEN g.rngsubdiff::regproc::text END,
            'multirange_type_name', (SELECT quote_ident(mn.nspname) || '.' || quote_ident(mt.typname) FROM pg_type mt JOIN pg_namespace mn ON mn.oid = mt.typnamespace WHERE mt.oid = ${since(14, 'g.rngmultitypid')}))
          FROM pg_range g JOIN pg_type st ON st.oid = g.rngsubtype WHERE g.rngtypid = t.oid) END AS range
      FROM pg_type t JOIN pg_namespace n ON n.oid = t.typnamespace LEFT JOIN pg_type b ON b.oid = t.typbasetype
      WHERE ${inSchemas} AND ${ofNoExtension('t.oid', 'pg_type')} AND (t.typtype IN ('e', 'd', 'r')
        OR t.typtype = 'c' AND EXISTS (SELECT FROM pg_class r WHERE r.oid = t.typrelid AND r.relkind = 'c')) ORDER BY 3, 4`,
    sequences: `SELECT c.oid::int8 AS oid, n.nspname AS schema, c.relname AS name, ${owner('c.relowner')}, ${rights('c.relacl', `acldefault('s', c.relowner)`)},
        obj_description(c.oid, 'pg_class') AS comment, c.relpersistence AS persistence, format_type(q.seqtypid, NULL) AS type,
        q.seqstart::text AS start, q.seqincrement::text AS increment, q.seqmin::text AS min, q.seqmax::text AS max, q.seqcache::text AS cache, q.seqcycle AS cycle,
        (SELECT json_build_object('schema', tn.nspname, 'table', t.relname, 'column', a.attname) FROM pg_depend d
         JOIN pg_class t ON t.oid = d.refobjid JOIN pg_namespace tn ON tn.oid = t.relnamespace JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum = d.refobjsubid
         WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.refclassid = 'pg_class'::regclass AND d.deptype = 'a' AND d.refobjsubid > 0) AS owned_by
      ${from} JOIN pg_sequence q ON q.seqrelid = c.oid
      WHERE ${relation(`'S'`)} AND NOT EXISTS (SELECT FROM pg_depend d WHERE d.classid = 'pg_class'::regclass AND d.objid = c.oid AND d.deptype = 'i') ORDER BY 2, 3`,
    defaultRights: `SELECT pg_get_userbyid(d.defaclrole)::text AS role, n.nspname AS schema, d.defaclobjtype AS of,
        ${rights('d.defaclacl', `CASE WHEN d.defaclnamespace = 0 THEN acldefault(CASE d.defaclobjtype WHEN 'S' THEN 's' ELSE d.defaclobjtype END, d.defaclrole) ELSE acldefault('c', d.defaclrole) END`)}
      FROM pg_default_acl d LEFT JOIN pg_namespace n ON n.oid = d.defaclnamespace
      WHERE d.defaclnamespace = 0 OR ${inSchemas} ORDER BY 1, 2, 3`,
    extensionParts: `SELECT d.classid::regclass::text AS class, d.objid::int8 AS oid, e.extname AS name FROM pg_depend d
      JOIN pg_extension e ON e.oid = d.refobjid WHERE d.refclassid = 'pg_extension'::regclass AND d.deptype = 'e' AND e.extname <> 'plpgsql'`,
    // What an object names of the database's own: manual, 52.18 pg_depend.
    refs: `SELECT d.classid::regclass::text AS class, d.objid::int8 AS oid, d.objsubid AS part, d.refclassid::regclass::text AS to_class,
        d.refobjid::int8 AS to_oid, d.refobjsubid AS to_part FROM pg_depend d
      WHERE d.refobjid >= 16384 AND d.objid >= 16384 AND d.deptype IN ('n', 'a') AND (
        d.classid IN ('pg_rewrite'::regclass, 'pg_trigger'::regclass, 'pg_policy'::regclass, 'pg_proc'::regclass, 'pg_type'::regclass)
        OR d.refclassid IN ('pg_proc'::regclass, 'pg_type'::regclass, 'pg_opclass'::regclass, 'pg_operator'::regclass)
        OR d.classid = 'pg_attrdef'::regclass AND d.refobjsubid = 0)`
  }
  const qualified = {
    views: `SELECT c.oid::int8 AS oid, n.nspname AS schema, c.relname AS name, c.relkind AS kind, c.reltype::int8 AS row_type, ${owner('c.relowner')},
        ${rights('c.relacl', `acldefault('r', c.relowner)`)}, obj_description(c.oid, 'pg_class') AS comment, to_json(c.reloptions) AS options,
        pg_get_viewdef(c.oid) AS query, c.relispopulated AS filled, (SELECT s.spcname FROM pg_tablespace s WHERE s.oid = c.reltablespace) AS tablespace,
        (SELECT m.amname FROM pg_am m WHERE m.oid = c.relam AND m.amname <> 'heap') AS method,
        (SELECT r.oid::int8 FROM pg_rewrite r WHERE r.ev_class = c.oid AND r.rulename = '_RETURN') AS rewrite,
        (SELECT json_agg(x ORDER BY x.number) FROM (SELECT a.attnum AS number, a.attname AS name, col_description(c.oid, a.attnum) AS comment,
           (SELECT pg_get_expr(d.adbin, d.adrelid) FROM pg_attrdef d WHERE d.adrelid = c.oid AND d.adnum = a.attnum) AS default,
           CASE WHEN a.attacl IS NULL THEN NULL ELSE (SELECT json_agg(json_build_object('to', CASE g.grantee WHEN 0 THEN 'PUBLIC' ELSE pg_get_userbyid(g.grantee)::text END,
             'may', g.privilege_type, 'grantable', g.is_grantable)) FROM aclexplode(a.attacl) g) END AS rights
           FROM pg_attribute a WHERE a.attrelid = c.oid AND a.attnum > 0 AND NOT a.attisdropped) x
         WHERE x.comment IS NOT NULL OR x.default IS NOT NULL OR x.rights IS NOT NULL) AS notes
      ${from} WHERE ${relation(`'v', 'm'`)} ORDER BY 2, 3`,
    triggers: `SELECT g.oid::int8 AS oid, n.nspname AS schema, c.relname AS home, g.tgname AS name, pg_get_triggerdef(g.oid) AS definition, g.tgenabled AS enabled,
        obj_description(g.oid, 'pg_trigger') AS comment
      ${from} JOIN pg_trigger g ON g.tgrelid = c.oid
      WHERE ${relation(`'r', 'p', 'v'`)} AND NOT g.tgisinternal AND g.tgparentid = 0 ORDER BY 2, 3, 4`,
    policies: `SELECT y.oid::int8 AS oid, n.nspname AS schema, c.relname AS home, y.polname AS name, y.polpermissive AS permissive, y.polcmd AS command,
        (SELECT string_agg(CASE r WHEN 0 THEN 'PUBLIC' ELSE quote_ident(pg_get_userbyid(r)) END, ', ' ORDER BY r) FROM unnest(y.polroles) r) AS roles,
        pg_get_expr(y.polqual, y.polrelid) AS using, pg_get_expr(y.polwithcheck, y.polrelid) AS checks, obj_description(y.oid, 'pg_policy') AS comment
      ${from} JOIN pg_policy y ON y.polrelid = c.oid WHERE ${tables} ORDER BY 2, 3, 4`,
    rules: `SELECT w.oid::int8 AS oid, n.nspname AS schema, c.relname AS home, w.rulename AS name, pg_get_ruledef(w.oid) AS definition, w.ev_enabled AS enabled,
        obj_description(w.oid, 'pg_rewrite') AS comment
      ${from} JOIN pg_rewrite w ON w.ev_class = c.oid WHERE ${relation(`'r', 'p', 'v'`)} AND w.rulename <> '_RETURN' ORDER BY 2, 3, 4`,
    routines: `SELECT p.oid::int8 AS oid, n.nspname AS schema, quote_ident(p.proname) || '(' || pg_get_function_identity_arguments(p.oid) || ')' AS name,
        p.prokind AS kind, ${owner('p.proowner')}, ${rights('p.proacl', `acldefault('f', p.proowner)`)}, obj_description(p.oid, 'pg_proc') AS comment,
        CASE WHEN p.prokind <> 'a' THEN pg_get_functiondef(p.oid) END AS definition,
        pg_get_function_arguments(p.oid) || coalesce(' → ' || pg_get_function_result(p.oid), '') AS signature,
        CASE WHEN p.prokind = 'a' THEN (SELECT json_build_object('arguments', pg_get_function_arguments(p.oid), 'kind', g.aggkind, 'parallel', p.proparallel,
           'SFUNC', g.aggtransfn::regproc::text, 'STYPE', format_type(g.aggtranstype, NULL), 'SSPACE', NULLIF(g.aggtransspace, 0),
           'FINALFUNC', NULLIF(g.aggfinalfn::regproc::text, '-'), 'FINALFUNC_EXTRA', g.aggfinalextra, 'FINALFUNC_MODIFY', g.aggfinalmodify,
           'COMBINEFUNC', NULLIF(g.aggcombinefn::regproc::text, '-'), 'SERIALFUNC', NULLIF(g.aggserialfn::regproc::text, '-'),
           'DESERIALFUNC', NULLIF(g.aggdeserialfn::regproc::text, '-'), 'INITCOND', g.agginitval,
           'MSFUNC', NULLIF(g.aggmtransfn::regproc::text, '-'), 'MINVFUNC', NULLIF(g.aggminvtransfn::regproc::text, '-'),
           'MSTYPE', CASE WHEN g.aggmtranstype <> 0 THEN format_type(g.aggmtranstype, NULL) END, 'MSSPACE', NULLIF(g.aggmtransspace, 0),
           'MFINALFUNC', NULLIF(g.aggmfinalfn::regproc::text, '-'), 'MFINALFUNC_EXTRA', g.aggmfinalextra, 'MFINALFUNC_MODIFY', g.aggmfinalmodify, 'MINITCOND', g.aggminitval,
           'SORTOP', (SELECT quote_ident(sn.nspname) || '.' || o.oprname FROM pg_operator o JOIN pg_namespace sn ON sn.oid = o.oprnamespace WHERE o.oid = g.aggsortop))
          FROM pg_aggregate g WHERE g.aggfnoid = p.oid) END AS aggregate
      FROM pg_proc p JOIN pg_namespace n ON n.oid = p.pronamespace WHERE ${inSchemas} AND ${ofNoExtension('p.oid', 'pg_proc')}
        AND NOT EXISTS (SELECT FROM pg_depend e WHERE e.classid = 'pg_proc'::regclass AND e.objid = p.oid AND e.deptype = 'i') ORDER BY 2, 3`,
    unread: unread(inSchemas)
  }
  return { plain, qualified }
}

/** Everything in the schemas, and in the database beside them, that a catalogue does not describe. */
function unread(inSchemas: string): string {
  const list = (
    kind: string,
    catalog: string,
    name: string,
    namespace: string,
    condition = 'true',
    of = 'NULL::json'
  ) =>
    `SELECT '${kind}' AS kind, n.nspname || '.' || o.${name} AS name, ${of} AS of FROM ${catalog} o JOIN pg_namespace n ON n.oid = o.${namespace}
      WHERE ${inSchemas} AND ${condition} AND ${ofNoExtension('o.oid', catalog)}`
  const alone = (kind: string, catalog: string, name: string, condition = 'true') =>
    `SELECT '${kind}', o.${name}::text, NULL FROM ${catalog} o WHERE o.oid >= 16384 AND ${condition} AND ${ofNoExtension('o.oid', catalog)}`
  return [
    list('foreign table', 'pg_class', 'relname', 'relnamespace', `o.relkind = 'f'`),
    list('base type', 'pg_type', 'typname', 'typnamespace', `o.typtype = 'b' AND o.typelem = 0`),
    list('operator', 'pg_operator', 'oprname', 'oprnamespace'),
    list('operator class', 'pg_opclass', 'opcname', 'opcnamespace'),
    list('collation', 'pg_collation', 'collname', 'collnamespace'),
    list('conversion', 'pg_conversion', 'conname', 'connamespace'),
    list(
      'extended statistics',
      'pg_statistic_ext',
      'stxname',
      'stxnamespace',
      'true',
      `(SELECT json_agg(json_build_array(tn.nspname, t.relname, a.attname) ORDER BY a.attnum) FROM pg_class t JOIN pg_namespace tn ON tn.oid = t.relnamespace
         JOIN pg_attribute a ON a.attrelid = t.oid AND a.attnum > 0 AND NOT a.attisdropped WHERE t.oid = o.stxrelid AND (a.attnum = ANY (o.stxkeys::int2[]) OR cardinality(o.stxkeys::int2[]) = 0))`
    ),
    list('text search configuration', 'pg_ts_config', 'cfgname', 'cfgnamespace'),
    list('text search dictionary', 'pg_ts_dict', 'dictname', 'dictnamespace'),
    list('text search parser', 'pg_ts_parser', 'prsname', 'prsnamespace'),
    list('text search template', 'pg_ts_template', 'tmplname', 'tmplnamespace'),
    alone('event trigger', 'pg_event_trigger', 'evtname'),
    alone('publication', 'pg_publication', 'pubname'),
    alone('foreign-data wrapper', 'pg_foreign_data_wrapper', 'fdwname'),
    alone('foreign server', 'pg_foreign_server', 'srvname'),
    alone('language', 'pg_language', 'lanname'),
    `SELECT 'cast', format_type(o.castsource, NULL) || ' as ' || format_type(o.casttarget, NULL), NULL FROM pg_cast o WHERE o.oid >= 16384 AND NOT EXISTS (
      SELECT FROM pg_depend e WHERE e.classid = 'pg_cast'::regclass AND e.objid = o.oid AND e.deptype IN ('e', 'i'))`
  ].join('\nUNION ALL ')
}

/** The schema that names are looked up in while tables are asked for: what is in it is printed by its bare name. */
export const lookThrough = (path: string): string => `SET LOCAL search_path TO ${path}`
export const PUBLIC_PATH = DEFAULT_SCHEMA
