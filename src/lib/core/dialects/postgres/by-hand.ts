// The questions as `psql` asks them (manual, "psql": -X no start-up file, -q quiet, -A unaligned, -t rows only).
import type { AskedByHand } from '../dialect'
import { literal } from '../standard'

export const postgresByHand: AskedByHand = {
  command: 'psql -X -q -A -t -v ON_ERROR_STOP=1 -d DATABASE',
  before: [],
  heading: (says) => `SELECT ${literal(JSON.stringify(says))}::jsonb || jsonb_build_object('taken', now());`,
  // As jsonb it stands on one line, whatever is in it.
  each: (sql, question) => `SELECT jsonb_build_object('question', ${question}, 'row', to_jsonb(a)) FROM (${sql}) a;`,
  ending: (questions) => `SELECT jsonb_build_object('answered', ${questions});`
}
