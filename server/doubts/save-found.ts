import { v7 as uuid } from 'uuid'
import type { Doubt } from '#core/rule/find-doubts'
import { nowText } from '../clock'
import type { Sql } from '../database'

/** What a discrepancy is about. */
export type About = { report: number; round: string } | { case: string }

/** A doubt as it was found now. */
export interface FoundDoubt {
  doubt: Doubt
  /** What is stored with it: the doubt with its numbers, and what helps to work on it. */
  evidence: object
  /** The values that it is about. An explanation holds for these. */
  contents: Readonly<Record<string, unknown>>
  /** The facility's sentence about it, when it came along. */
  explanation: string | null
}

/** A discrepancy as it is known, as far as finding its doubt again matters. */
export interface KnownDiscrepancy {
  id: string
  doubt_key: string
  state: string
  holds: boolean
  contents: object
}

/** For queries: the columns of a {@link KnownDiscrepancy}. */
export const KNOWN_DISCREPANCY = 'id, doubt_key, state, holds, contents'

/** The discrepancy of a doubt about a report that holds; null where there is none. */
export async function holdingDiscrepancy(
  sql: Pick<Sql, 'query'>,
  report: number,
  doubtKey: string,
): Promise<string | null> {
  const [row] = await sql.query<{ id: string }>(
    'SELECT id FROM discrepancy WHERE report = $1 AND doubt_key = $2 AND holds',
    [report, doubtKey],
  )
  return row?.id ?? null
}

/** Adds an event to the thread of a discrepancy. */
export async function noteDiscrepancy(
  sql: Sql,
  discrepancy: string,
  act: string,
  person: string | null,
  text: string | null,
): Promise<void> {
  await sql.query(
    'INSERT INTO discrepancy_event (discrepancy, at, person, act, text) VALUES ($1, $2, $3, $4, $5)',
    [discrepancy, nowText(), person, act, text],
  )
}

/** What is written of the doubts of reports or cases: each kind in one statement, however many there are. */
interface Writing {
  opened: { id: string; about: About; found: FoundDoubt }[]
  kept: { id: string; state: string; evidence: object; contents: object }[]
  events: { discrepancy: string; act: string; person: string | null; text: string | null }[]
}

const placeOf = (about: About) =>
  'case' in about
    ? { report: null, round: null, case_id: about.case }
    : { report: about.report, round: about.round, case_id: null }

async function write(sql: Sql, { opened, kept, events }: Writing): Promise<void> {
  if (opened.length)
    await sql.query(
      `INSERT INTO discrepancy (id, report, round, case_id, doubt_key, source, code, band, strength,
         cells, state, evidence, contents, found_at)
       SELECT g.id, g.report, g.round, g.case_id, g.key, g.source, g.code, g.band, g.strength, g.cells, g.state, g.evidence, g.contents, $1
       FROM jsonb_to_recordset($2::jsonb -> 'rows') AS g (id uuid, report bigint, round text, case_id uuid, key text, source text,
         code text, band text, strength text, cells text[], state text, evidence jsonb, contents jsonb)`,
      [
        nowText(),
        {
          rows: opened.map(({ id, about, found: { doubt, evidence, contents, explanation } }) => {
            const { key, source, code, band, strength, cells } = doubt
            const state = explanation ? 'answered' : 'open'
            const what = { key, source, code, band, strength, cells, state, evidence, contents }
            return { id, ...placeOf(about), ...what }
          }),
        },
      ],
    )
  if (kept.length)
    await sql.query(
      `UPDATE discrepancy d SET holds = true, state = g.state, outcome = CASE WHEN g.state = 'settled' THEN d.outcome END,
         evidence = g.evidence, contents = g.contents
       FROM jsonb_to_recordset($1::jsonb -> 'rows') AS g (id uuid, state text, evidence jsonb, contents jsonb)
       WHERE d.id = g.id`,
      [{ rows: kept }],
    )
  if (events.length)
    await sql.query(
      `INSERT INTO discrepancy_event (discrepancy, at, person, act, text)
       SELECT g.discrepancy, $1, g.person, g.act, g.text
       FROM unnest($2::uuid[], $3::uuid[], $4::text[], $5::text[]) WITH ORDINALITY AS g (discrepancy, person, act, text, place)
       ORDER BY g.place`,
      [
        nowText(),
        events.map(({ discrepancy }) => discrepancy),
        events.map(({ person }) => person),
        events.map(({ act }) => act),
        events.map(({ text }) => text),
      ],
    )
}

/** The doubts that were found about one report or case. */
export interface FoundAbout {
  about: About
  /** Its discrepancies so far. */
  known: readonly KnownDiscrepancy[]
  found: readonly FoundDoubt[]
}

/** Do the values say now what they said when the discrepancy was last found? */
export type IsUnchanged = (before: object, now: object) => boolean

/**
 * Adds to what is written what becomes of the doubts about one report or case.
 * @returns the discrepancies whose doubt was there and is gone
 */
function addTo(
  writing: Writing,
  { about, known, found }: FoundAbout,
  isUnchanged: IsUnchanged,
  person: string | null,
): string[] {
  const byKey = new Map(known.map(row => [row.doubt_key, row]))
  const note = (discrepancy: string, act: string, by: string | null = null, text: string | null = null) =>
    writing.events.push({ discrepancy, act, person: by, text })
  for (const one of found) {
    const before = byKey.get(one.doubt.key)
    byKey.delete(one.doubt.key)
    const { evidence, contents, explanation } = one
    if (!before) {
      const id = uuid()
      writing.opened.push({ id, about, found: one })
      note(id, 'found')
      if (explanation) note(id, 'explained', person, explanation)
      continue
    }
    const lapses = before.state === 'settled' && (!before.holds || !isUnchanged(before.contents, contents))
    const isSettled = before.state === 'settled' && !lapses
    const state = isSettled ? 'settled' : explanation ? 'answered' : lapses ? 'lapsed' : before.state
    writing.kept.push({ id: before.id, state, evidence, contents })
    if (lapses) note(before.id, 'lapsed')
    if (explanation && !isSettled) note(before.id, 'explained', person, explanation)
  }
  return [...byKey.values()].filter(({ holds }) => holds).map(({ id }) => id)
}

/**
 * Saves the doubts that were found about some reports or cases: new ones open, and a settled one whose values
 * changed lapses, because an explanation holds only for the values it explained.
 *
 * @returns those whose doubt was there and is gone: the caller says what becomes of them
 */
export async function saveFound(
  sql: Sql,
  all: readonly FoundAbout[],
  isUnchanged: IsUnchanged,
  person: string | null,
): Promise<string[]> {
  const writing: Writing = { opened: [], kept: [], events: [] }
  const gone = all.flatMap(one => addTo(writing, one, isUnchanged, person))
  await write(sql, writing)
  return gone
}
