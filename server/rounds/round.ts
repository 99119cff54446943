import { cycleOf, type ReportFrequency } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import type { RoundRef } from '#core/contract/common'
import type { Words } from '#core/report/edition'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { notFound, Refusal } from '../refusal'
import { settings } from '../settings'

/** One dataset for one period, as the database keeps it. */
export interface Round {
  id: string
  dataset: string
  name: Words
  edition: number
  period: string
  firstDay: string
  lastDay: string
  opensAt: string
  dueAt: string
  closesAt: string
}

const COLUMNS = `r.id, r.dataset, d.name, r.edition, r.period, r.first_day AS "firstDay", r.last_day AS "lastDay",
  r.opens_at AS "opensAt", r.due_at AS "dueAt", r.closes_at AS "closesAt"`
const FROM = 'FROM round r JOIN dataset d ON d.code = r.dataset'

type Reader = Pick<Sql, 'query'>

/**
 * Why there is no round of this name: the dataset is not there, its periods are written otherwise (a week
 * where it is reported by month), or nobody reports in this one.
 */
async function noRound(sql: Reader, id: string): Promise<Refusal> {
  const [dataset, period] = id.split('~') as [string, string]
  const [found] = await sql.query<{ frequency: ReportFrequency }>(
    'SELECT frequency FROM dataset WHERE code = $1',
    [dataset],
  )
  const read = found && parsePeriod(period, cycleOf(found.frequency, await settings(sql)))
  const [problem] = read && !read.ok ? read.problems : []
  return problem ? new Refusal(404, problem.code, problem.message, [problem]) : notFound('round')
}

/** @throws Refusal 404 `not-found`, or what is wrong with the period. */
export async function roundById(sql: Reader, id: string): Promise<Round> {
  const [round] = await sql.query<Round>(`SELECT ${COLUMNS} ${FROM} WHERE r.id = $1`, [id])
  if (!round) throw await noRound(sql, id)
  return round
}

/** Rounds `r` that meet a condition, which may say an order and a limit too. */
export const roundsWhere = (
  sql: Reader,
  condition: string,
  values: Parameters<Reader['query']>[1],
): Promise<Round[]> => sql.query<Round>(`SELECT ${COLUMNS} ${FROM} WHERE ${condition}`, values)

/** Rounds by their identifiers; each once, however often it is asked for. */
export async function roundsById(sql: Reader, ids: readonly string[]): Promise<Map<string, Round>> {
  const rounds = ids.length ? await roundsWhere(sql, 'r.id = ANY($1::text[])', [[...new Set(ids)]]) : []
  return new Map(rounds.map(round => [round.id, round]))
}

/** Of a dataset so many rounds are listed: ten years of months, four months of days. */
const MOST_OF_EACH = 120

/** The newest rounds of each dataset that have opened, newest period first. */
export const openedRounds = (sql: Reader): Promise<Round[]> =>
  roundsWhere(
    sql,
    `r.id IN (SELECT n.id FROM dataset s CROSS JOIN LATERAL (
       SELECT m.id FROM round m WHERE m.dataset = s.code AND m.opens_at <= $1 ORDER BY m.last_day DESC LIMIT ${MOST_OF_EACH}) n)
     ORDER BY r.last_day DESC, r.dataset`,
    [nowText()],
  )

/** Rounds that have opened and have not closed, newest period first. */
export const openRoundsNow = (sql: Reader): Promise<Round[]> =>
  roundsWhere(sql, 'r.opens_at <= $1 AND r.closes_at > $1 ORDER BY r.last_day DESC, r.dataset', [nowText()])

/** The newest round of each dataset that has one. */
export const newestRounds = (sql: Reader): Promise<Round[]> =>
  roundsWhere(
    sql,
    `r.id IN (SELECT DISTINCT ON (n.dataset) n.id FROM round n WHERE n.opens_at <= $1 ORDER BY n.dataset, n.last_day DESC)
     ORDER BY r.dataset`,
    [nowText()],
  )

/** The dataset's rounds up to this one, newest first, at the most so many. */
export const roundsUpTo = (sql: Reader, round: Round, most: number): Promise<Round[]> =>
  roundsWhere(sql, 'r.dataset = $1 AND r.last_day <= $2 ORDER BY r.last_day DESC LIMIT $3', [
    round.dataset,
    round.lastDay,
    most,
  ])

/** The dataset's rounds of some periods. */
export const roundsOfPeriods = (sql: Reader, dataset: string, periods: readonly string[]): Promise<Round[]> =>
  roundsWhere(sql, 'r.dataset = $1 AND r.period = ANY($2::text[])', [dataset, periods])

/** What the screens see of a round. */
export const roundRef = ({ id, dataset, name, period, opensAt, dueAt, closesAt }: Round): RoundRef => ({
  id,
  dataset,
  name,
  period,
  opensAt,
  dueAt,
  closesAt,
})
