import { parseDay, printDay } from '#core/calendar/day'
import { whyNot, type CaseAct, type CaseLife, type CaseMove, type CaseOutcome } from '#core/cases/life'
import { dayIn, type Answers } from '#core/form/answer'
import { enteredBy, mustHold, type Access } from '../access/access'
import { database, type Sql } from '../database'
import { judgeCounting } from '../doubts/judge-counting'
import { conflict, notFound, outsideBranch, Refusal } from '../refusal'
import { settings, today } from '../settings'
import { noteCaseEvents, shareCases, type CaseActor, type NewCaseEvent } from './case-events'
import { rootsOf, UP } from './fold-known'
import { closedOf } from './list'
import { lockCases } from './lock-cases'
import { writeKnown } from './known'
import { newestRegisters } from './registers'
import { mustSeeCases } from './shared'

interface CaseRow {
  id: string
  register: string
  unit: string
  path: string[]
  known: Answers
  lastOn: string | null
  moves: CaseMove[]
  closedOn: string | null
  outcome: CaseOutcome | null
  isOwn: boolean
}

const lifeOf = ({ unit, moves, ...row }: CaseRow): CaseLife => ({ unit, moves, closed: closedOf(row) })

/** Refusals of {@link whyNot}, in words. */
const WHY_NOT = {
  'case-closed': 'This case is closed already.',
  'case-open': 'This case is open already.',
  'case-there': 'This case is at this facility already.',
  'case-later-entry': 'A form of this case was filled after that day.',
}

/** @throws Refusal 404, 403 when the person may not act on it */
async function lockedCase(sql: Sql, access: Access, id: string): Promise<CaseRow> {
  const [root] = await rootsOf(sql, [id])
  const [row] = await sql.query<CaseRow>(
    `SELECT c.id, c.register, c.unit, u.path, c.known, c.last_on AS "lastOn", c.moves, c.closed_on AS "closedOn", c.outcome,
       ${enteredBy('c', '$2')} AS "isOwn"
     FROM case_record c JOIN unit_latest u ON u.code = c.unit WHERE c.id = $1 FOR UPDATE OF c`,
    [root ?? id, access.id],
  )
  if (!row) throw notFound('case')
  mustHold(access, row.path)
  if (access.ownOnly && !row.isOwn) throw outsideBranch()
  await mustSeeCases(sql, access, [row.id])
  return row
}

const refusedAt = (at: string, code: string, message: string) =>
  new Refusal(422, code, message, [{ code, message, at }])

/** @throws Refusal 422 `day-to-come` */
async function mustBePast(sql: Sql, day: string, at: string): Promise<void> {
  const read = parseDay(day)
  if (!read.ok || read.value > (await today(sql)))
    throw refusedAt(at, 'day-to-come', 'This day has not come yet.')
}

/** The day by which a case counts, in days since 1970; null where it is not known. */
async function countingDayOf(
  sql: Pick<Sql, 'query'>,
  { register, known }: Pick<CaseRow, 'register' | 'known'>,
): Promise<number | null> {
  const question = (await newestRegisters(sql)).get(register)?.countingDate
  return question === undefined ? null : dayIn(known[question])
}

/**
 * May a case go to a unit? Only to a facility that was open on the day from which it has the case.
 * @throws Refusal 422 `no-unit`, `no-facility`, `unit-closed`
 */
async function mustTake(sql: Sql, to: string, day: string): Promise<void> {
  const { facilityLevel } = await settings(sql)
  const spans = await sql.query<{ level: number; holds: boolean }>(
    `SELECT level, from_day <= $2::date AND (to_day IS NULL OR to_day > $2::date) AS holds FROM unit_span WHERE unit = $1`,
    [to, day],
  )
  if (!spans.length) throw refusedAt('to', 'no-unit', 'There is no such organisation unit.')
  const then = spans.find(({ holds }) => holds)
  if (!then) throw refusedAt('to', 'unit-closed', 'This facility was not open on that day.')
  if (then.level !== facilityLevel) throw refusedAt('to', 'no-facility', 'This is no facility.')
}

/**
 * Gives a case to another facility. Both see it. It counts there from the day on, so that the reports of both
 * are judged again where their rules count it.
 */
async function move(
  sql: Sql,
  row: CaseRow,
  { to, since, text }: Extract<CaseAct, { act: 'move' }>,
): Promise<NewCaseEvent> {
  if (since !== null) await mustBePast(sql, since, 'since')
  const counted = await countingDayOf(sql, row)
  const from = since ?? printDay(counted ?? (await today(sql)))
  await mustTake(sql, to, from)
  const moved: CaseMove = { from: row.unit, to, since }
  await sql.query(
    'UPDATE case_record SET unit = $2, moves = moves || jsonb_build_array($3::jsonb), to_fold = true WHERE id = $1',
    [row.id, to, JSON.stringify(moved)],
  )
  await sql.query(
    `UPDATE case_pair SET one_unit = CASE WHEN one = $1 THEN $2 ELSE one_unit END,
       other_unit = CASE WHEN other = $1 THEN $2 ELSE other_unit END WHERE one = $1 OR other = $1`,
    [row.id, to],
  )
  if (counted !== null)
    await judgeCounting(
      sql,
      [row.unit, to].map(unit => ({ register: row.register, unit, day: printDay(counted) })),
    )
  return { case: row.id, act: 'moved', from: row.unit, to, day: since, text }
}

async function change(sql: Sql, row: CaseRow, act: CaseAct): Promise<NewCaseEvent> {
  if (act.act === 'move') return move(sql, row, act)
  const closed = act.act === 'close' ? act : null
  if (closed) await mustBePast(sql, closed.on, 'on')
  // Its answers stay as they are: what is folded anew is what it still needs, and no report is judged again.
  await sql.query('UPDATE case_record SET closed_on = $2, outcome = $3, to_fold = true WHERE id = $1', [
    row.id,
    closed?.on ?? null,
    closed?.outcome ?? null,
  ])
  return closed
    ? { case: row.id, act: 'closed', day: closed.on, outcome: closed.outcome, text: closed.text }
    : { case: row.id, act: 'reopened', text: act.text }
}

/**
 * Moves, closes or opens a case; what is done to a merged one is done to the one that it is part of. The caller
 * is alone with the facilities of the case, and with the one that it goes to (lock-cases).
 * @throws Refusal 403, 404, 409 of {@link whyNot}, 422 `day-to-come`, `no-unit`, `no-facility`, `unit-closed`
 */
export async function applyCaseAct(
  sql: Sql,
  access: Access,
  id: string,
  act: CaseAct,
  device: string | null = null,
): Promise<void> {
  const row = await lockedCase(sql, access, id)
  const why = whyNot(lifeOf(row), act, row.lastOn)
  if (why) throw conflict(why, WHY_NOT[why])
  const event = await change(sql, row, act)
  if (act.act === 'move') await shareCases(sql, [row.id])
  await writeKnown(sql, [row.id])
  await noteCaseEvents(sql, { person: access.id, device }, [event])
}

/** The same from the office. @throws Refusal as {@link applyCaseAct} */
export async function actOnCase(access: Access, id: string, act: CaseAct): Promise<void> {
  const sql = await database()
  await sql.transaction(async tx => {
    await lockCases(tx, [id], act.act === 'move' ? [act.to] : [])
    await applyCaseAct(tx, access, id, act)
  })
}

/**
 * Opens closed cases again for which a form came that was filled after the day of closing: somebody saw the
 * person again. A form of before that day, and a correction, change nothing of it.
 */
export async function reopenFor(
  sql: Sql,
  actor: CaseActor,
  filled: readonly { id: string; case: string; happenedOn: string }[],
): Promise<void> {
  if (!filled.length) return
  const opened = await sql.query<{ id: string; entry: string }>(
    `${UP},
     late AS (
       SELECT c.id, (array_agg(given.entry ORDER BY given.day, given.entry))[1] AS entry
       FROM unnest($1::uuid[], $2::uuid[], $3::date[]) AS given (of, entry, day)
         JOIN up ON up.start = given.of AND up.next IS NULL JOIN case_record c ON c.id = up.id
       WHERE given.day > c.closed_on GROUP BY c.id)
     UPDATE case_record c SET closed_on = NULL, outcome = NULL FROM late WHERE late.id = c.id RETURNING c.id, late.entry`,
    [filled.map(one => one.case), filled.map(({ id }) => id), filled.map(one => one.happenedOn)],
  )
  await noteCaseEvents(
    sql,
    actor,
    opened.map(({ id, entry }) => ({ case: id, act: 'reopened', entry })),
  )
}
