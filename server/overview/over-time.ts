import type { ReportingOverTime } from '#core/contract/over-time'
import type { ReportMark } from '#core/quality/over-time'
import { isOnTime } from '#core/quality/reporting'
import { isReceived, lanternSign, type ReportState } from '#core/report/state'
import { unitAsked, type Access } from '../access/access'
import { now } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import { msOf, numberOrNull, rowsOfText, rowText } from '../database/row-text'
import { roundById, roundRef, roundsUpTo, type Round } from '../rounds/round'
import { awaitedCodesOf } from '../units/expected-units'

const USUAL = 12

type Reader = Pick<Sql, 'query'>

/** What the database says of one report. */
interface Begun {
  unit: string
  state: ReportState
  /** In milliseconds since 1970; null where it was never received. */
  firstReceivedAt: number | null
  answered: number
  doNotApply: number
  edition: number
}

/** The reports of some rounds within a branch, by round: two years of a region are 24,000 reports. */
async function begunIn(sql: Reader, rounds: readonly Round[], branch: string): Promise<Map<string, Begun[]>> {
  const columns = rowText(
    ...['unit', 'state', msOf('first_received_at'), 'answered', 'not_offered + not_applying', 'edition'],
  )
  const rows = await sql.query<{ round: string; reports: string }>(
    `SELECT round, ${columns} AS reports FROM report
     WHERE round = ANY($1::text[]) AND path @> $2::text[] GROUP BY round`,
    [rounds.map(({ id }) => id), [branch]],
  )
  const begunOf = ([unit, state, first, answered, doNotApply, edition]: string[]): Begun => ({
    unit: unit!,
    state: state as ReportState,
    firstReceivedAt: numberOrNull(first!),
    answered: Number(answered),
    doNotApply: Number(doNotApply),
    edition: Number(edition),
  })
  return new Map(rows.map(({ round, reports }) => [round, rowsOfText(reports).map(begunOf)]))
}

/** The names of some units, and what is above each today, in the order of zones and names. */
async function namesOf(sql: Reader, codes: readonly string[]) {
  return sql.query<{ code: string; name: string; zone: string; zoneName: string }>(
    `SELECT u.code, u.name, coalesce(z.code, u.code) AS zone, coalesce(z.name, u.name) AS "zoneName"
     FROM unit_latest u LEFT JOIN unit_latest z ON z.code = u.parent WHERE u.code = ANY($1::text[])
     ORDER BY coalesce(z.name, u.name), u.name`,
    [codes],
  )
}

/**
 * What the units of a branch did in some rounds, of whatever datasets.
 * @returns the marks of each round, in the order of the rounds, by the unit's code; a unit that was not expected
 *   has none
 */
export async function marksIn(
  sql: Reader,
  rounds: readonly Round[],
  branch: string,
): Promise<Map<string, ReportMark>[]> {
  const [begun, awaited] = await Promise.all([
    begunIn(sql, rounds, branch),
    awaitedCodesOf(sql, rounds, branch),
  ])
  const asks = await asksOf(sql, rounds, begun)
  const at = now()
  return rounds.map(({ id, dataset, dueAt }) => {
    const due = Date.parse(dueAt)
    const marks = new Map<string, ReportMark>()
    for (const { unit, state, firstReceivedAt, answered, doNotApply, edition } of begun.get(id) ?? []) {
      const received = isReceived(state)
      marks.set(unit, {
        sign: lanternSign(state, due, at),
        received,
        onTime: isOnTime({ received, firstReceivedAt }, due),
        answered,
        applies: asks(dataset, edition) - doNotApply,
      })
    }
    for (const code of awaited.get(id) ?? [])
      marks.set(code, {
        sign: lanternSign('awaited', due, at),
        ...{ received: false, onTime: false, answered: 0, applies: 0 },
      })
    return marks
  })
}

/** How many cells each edition asks for in which some reports are filled. */
async function asksOf(
  sql: Reader,
  rounds: readonly Round[],
  begun: ReadonlyMap<string, readonly Begun[]>,
): Promise<(dataset: string, edition: number) => number> {
  const asks = new Map<string, number>()
  for (const { id, dataset } of rounds)
    for (const { edition } of begun.get(id) ?? []) {
      const key = `${dataset} ${edition}`
      if (!asks.has(key)) asks.set(key, (await editionOf(sql, dataset, edition)).asked)
    }
  return (dataset, edition) => asks.get(`${dataset} ${edition}`)!
}

/**
 * How the units of a branch reported a dataset in its last rounds up to one: who was expected, what came, when,
 * and how much of it is answered. A unit counts in the branch that it was in then.
 *
 * @param most how many rounds
 * @throws Refusal 403, 404
 */
export async function reportingOverTime(
  access: Access,
  roundId: string,
  { unit: asked, rounds: most = USUAL }: { unit?: string; rounds?: number },
): Promise<ReportingOverTime> {
  const sql = await database()
  const [unit, last] = await Promise.all([unitAsked(access, asked), roundById(sql, roundId)])
  const rounds = (await roundsUpTo(sql, last, most)).toReversed()
  const marksOf = await marksIn(sql, rounds, unit.code)
  const codes = [...new Set(marksOf.flatMap(marks => [...marks.keys()]))]
  return {
    unit: { code: unit.code, name: unit.name },
    rounds: rounds.map(roundRef),
    rows: (await namesOf(sql, codes)).map(({ code, name, zone, zoneName }) => ({
      unit: { code, name },
      zone: { code: zone, name: zoneName },
      marks: marksOf.map(marks => marks.get(code) ?? null),
    })),
  }
}
