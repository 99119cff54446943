import type { DeskChange, DeskOutcome } from '#core/contract/desk'
import type { Access } from '../access/access'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { digestOf } from './read-change'

interface Received {
  id: string
  digest: string
  person: string
  outcome: DeskOutcome
}

/**
 * What stands in the histories under these identifiers without having been noted here: changes from before
 * there were digests, and those that the office made. Given as the change that it would have been.
 */
async function inHistories(
  sql: Pick<Sql, 'query'>,
  changes: readonly DeskChange[],
): Promise<(Pick<Received, 'id' | 'person'> & { change: object })[]> {
  const idsOf = (kind: DeskChange['kind']) =>
    changes.flatMap(change => (change.kind === kind ? [change.id] : []))
  const rowsOf = (text: string, ids: string[]) =>
    ids.length ? sql.query<{ id: string; person: string; change: object }>(text, [ids]) : []
  const [cells, entries] = await Promise.all([
    rowsOf(
      `SELECT e.id, e.person, jsonb_strip_nulls(jsonb_build_object('kind', 'cell', 'id', e.id, 'round', p.round, 'unit', p.unit, 'cell', e.cell,
       'content', e.new, 'why', e.why)) AS change FROM cell_event e JOIN report p ON p.id = e.report WHERE e.id = ANY($1::uuid[])`,
      idsOf('cell'),
    ),
    rowsOf(
      `SELECT e.id, e.person, jsonb_strip_nulls(jsonb_build_object('kind', 'entry', 'id', e.id, 'case', e.case_id, 'register', c.register, 'unit', c.unit,
       'edition', e.edition, 'form', e.form, 'corrects', e.corrects)) || jsonb_build_object('answers', e.answers) AS change
     FROM case_entry e JOIN case_record c ON c.id = e.case_id WHERE e.id = ANY($1::uuid[])`,
      idsOf('entry'),
    ),
  ])
  return [...cells, ...entries]
}

/**
 * What the district answered to changes that came before. A change that is sent again is answered from here,
 * before anything else is looked at: the report may have been sent meanwhile, or the round closed.
 *
 * @returns by the identifier of the change; a reused identifier (other content or person) is a conflict with
 *   the code `change-reused`
 */
export async function answeredBefore(
  sql: Pick<Sql, 'query'>,
  access: Access,
  changes: readonly DeskChange[],
): Promise<Map<string, DeskOutcome>> {
  const rows = await sql.query<Received>(
    'SELECT id, digest, person, outcome FROM received_change WHERE id = ANY($1::uuid[])',
    [changes.map(({ id }) => id)],
  )
  const byId = new Map(rows.map(row => [row.id, row]))
  for (const { id, person, change } of await inHistories(
    sql,
    changes.filter(({ id }) => !byId.has(id)),
  )) {
    byId.set(id, { id, person, digest: digestOf(change as DeskChange), outcome: { id, outcome: 'received' } })
  }
  return new Map(
    changes.flatMap(change => {
      const row = byId.get(change.id)
      if (!row) return []
      const isSame = row.person === access.id && row.digest === digestOf(change)
      return [[change.id, isSame ? repeated(row.outcome) : reused(change.id)]]
    }),
  )
}

/** A repetition: a conflict stays one, everything else was received already. */
function repeated(outcome: DeskOutcome): DeskOutcome {
  return outcome.outcome === 'conflict' ? outcome : { ...outcome, outcome: 'alreadyHad' }
}

/** Another change that uses an identifier which is taken. */
export const reused = (id: string): DeskOutcome => ({
  id,
  outcome: 'conflict',
  code: 'change-reused',
  message: 'The district already has another change with this identifier. This one was not stored.',
})

/** Outcomes after which the district has the change. */
const STORED = new Set<DeskOutcome['outcome']>(['received', 'alreadyHad', 'conflict'])

/** Notes what was answered, in the transaction that stored the changes. */
export async function noteReceived(
  sql: Sql,
  access: Access,
  device: string,
  changes: readonly DeskChange[],
  outcomes: readonly DeskOutcome[],
): Promise<void> {
  const byId = new Map(changes.map(change => [change.id, change]))
  const stored = outcomes.filter(
    ({ id, outcome, code }) => STORED.has(outcome) && code !== 'change-reused' && byId.has(id),
  )
  if (!stored.length) return
  await sql.query(
    `INSERT INTO received_change (id, digest, person, device, at, outcome)
     SELECT id, digest, $1, $2, $3, outcome::jsonb FROM unnest($4::uuid[], $5::text[], $6::text[]) AS given (id, digest, outcome)
     ON CONFLICT (id) DO NOTHING`,
    [
      access.id,
      device,
      nowText(),
      stored.map(({ id }) => id),
      stored.map(({ id }) => digestOf(byId.get(id)!)),
      stored.map(outcome => JSON.stringify(outcome)),
    ],
  )
}
