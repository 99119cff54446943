import { dayAt, deadlines } from '#core/calendar/deadline'
import { shiftPeriod } from '#core/calendar/period'
import { printDay } from '#core/calendar/day'
import { parsePeriod, printPeriod } from '#core/calendar/period-text'
import type { DueList, DueReport } from '#core/contract/rounds'
import { groupBy } from '#core/group-by'
import { isReceived, lanternSign } from '#core/report/state'
import { must } from '#core/result'
import { branchPath, datasetsSeen, filledBy, seesDataset, unitAsked, type Access } from '../access/access'
import { now, nowText } from '../clock'
import { editionOf } from '../datasets/editions'
import { database, type Sql } from '../database'
import {
  placeKey,
  reportKey,
  REPORT_COLUMNS,
  stateOf,
  type ReportPlace,
  type ReportRow,
} from '../reports/place'
import { settings, type Settings } from '../settings'
import { expectedUnitsOf } from '../units/expected-units'
import { isClosed } from '../rounds/closing'
import { newestRounds, roundRef, roundsWhere, type Round } from '../rounds/round'

/** Of each dataset the newest received reports of a facility are shown. */
const RECEIVED_SHOWN = 6
/** Of each dataset the newest reports that were begun and whose round closed. */
const CLOSED_SHOWN = 24
const MOST_ROUNDS = 300

type Reader = Pick<Sql, 'query'>

/** The place of a report, with the closing time that holds for its facility. */
interface Place extends ReportPlace {
  /** The facility was let in after closing, and still is. */
  isLetIn: boolean
}

/**
 * The rounds that a facility of the branch may have something to do in: those that are open, those in which a
 * report was begun or sent back, those into which a facility was let after closing, and the newest of each
 * dataset.
 */
const roundsToShow = (sql: Reader, access: Access): Promise<Round[]> =>
  roundsWhere(
    sql,
    `r.opens_at <= $1 AND ($3::text[] IS NULL OR r.dataset = ANY($3)) AND (r.closes_at > $1
       OR r.id IN (SELECT l.round FROM let_in l WHERE l.until > $1)
       OR r.id IN (SELECT p.round FROM report p WHERE p.path @> $2::text[] AND p.state IN ('draft', 'sentBack'))
       OR r.id IN (SELECT n.id FROM dataset s CROSS JOIN LATERAL (
         SELECT m.id FROM round m WHERE m.dataset = s.code AND m.opens_at <= $1 ORDER BY m.last_day DESC LIMIT ${RECEIVED_SHOWN}) n))
     ORDER BY r.last_day DESC, r.dataset LIMIT ${MOST_ROUNDS}`,
    [nowText(), branchPath(access.branch), datasetsSeen(access)],
  )

/** The reports of these rounds that the person may see, and when their rounds close to them. */
async function placesOf(sql: Reader, access: Access, rounds: readonly Round[]): Promise<Place[]> {
  const ids = rounds.map(({ id }) => id)
  const [reports, letIn, expected] = await Promise.all([
    sql.query<ReportRow & { isOwn: boolean }>(
      `SELECT ${REPORT_COLUMNS}, ($2::uuid IS NULL OR ${filledBy('report', '$2')}) AS "isOwn" FROM report
       WHERE round = ANY($1::text[]) AND path @> $3::text[]`,
      [ids, access.ownOnly ? access.id : null, branchPath(access.branch)],
    ),
    sql.query<{ round: string; unit: string; until: string }>(
      `SELECT DISTINCT ON (round, unit) round, unit, until FROM let_in
       WHERE round = ANY($1::text[]) ORDER BY round, unit, seq DESC`,
      [ids],
    ),
    expectedUnitsOf(sql, rounds, access.branch),
  ])
  const reportAt = new Map(reports.map(report => [reportKey(report), report]))
  const untilAt = new Map(letIn.map(one => [reportKey(one), one.until]))
  const places: Place[] = []
  for (const round of rounds) {
    for (const unit of expected.get(round.id)!) {
      const key = placeKey({ round, unit })
      const report = reportAt.get(key)
      if (report && !report.isOwn) continue
      const until = untilAt.get(key)
      const closesAt = until && Date.parse(until) > Date.parse(round.closesAt) ? until : round.closesAt
      places.push({
        round: { ...round, closesAt },
        unit,
        report,
        ready: await editionOf(sql, round.dataset, report?.edition ?? round.edition),
        isLetIn: isClosed(round) && !isClosed({ closesAt }),
      })
    }
  }
  return places
}

/** How many of each report's discrepancies wait for an answer. */
async function questionsOf(sql: Reader, places: readonly Place[]): Promise<Map<number, number>> {
  const ids = places.flatMap(({ report }) => (report ? [report.id] : []))
  const questions = await sql.query<{ report: number; count: number }>(
    `SELECT report, count(*)::int AS count FROM discrepancy WHERE report = ANY($1::bigint[]) AND state = 'asked' GROUP BY report`,
    [ids],
  )
  return new Map(questions.map(({ report, count }) => [report, count]))
}

const dueReport =
  (questions: ReadonlyMap<number, number>) =>
  ({ round, unit, report, ready }: Place): DueReport => {
    const state = stateOf(report)
    return {
      round: roundRef(round),
      unit: { code: unit.code, name: unit.name },
      state,
      sign: lanternSign(state, Date.parse(round.dueAt), now()),
      answered: report?.answered ?? 0,
      applies: ready.asked - (report?.notOffered ?? 0) - (report?.notApplying ?? 0),
      questions: report ? (questions.get(report.id) ?? 0) : 0,
      receivedAt: report?.receivedAt ?? null,
    }
  }

/** The next round of each dataset that has one now. */
async function comingRounds(sql: Reader, access: Access, timeZone: string): Promise<DueList['coming']> {
  const rounds = (await newestRounds(sql)).filter(({ dataset }) => seesDataset(access, dataset))
  return Promise.all(
    rounds.map(async round => {
      const { edition } = await editionOf(sql, round.dataset, round.edition)
      const next = shiftPeriod(must(parsePeriod(round.period)), 1)
      const { opensAt, dueAt } = deadlines(next, edition.timing, timeZone)
      return {
        dataset: round.dataset,
        name: round.name,
        period: printPeriod(next),
        opensAt: new Date(opensAt).toISOString(),
        dueAt: new Date(dueAt).toISOString(),
      }
    }),
  )
}

/** The first of each facility's reports of each dataset. */
const newestOfEach = (places: readonly Place[], most: number): Place[] =>
  [...groupBy(places, ({ round, unit }) => `${unit.code} ${round.dataset}`).values()].flatMap(group =>
    group.slice(0, most),
  )

/** The places of a branch by what there is to do, each list with the newest period first. */
export interface DuePlaces {
  unit: { code: string; name: string }
  /** To fill or send, and open. */
  now: Place[]
  /** The same, of a period that is not over; the nearest first. */
  ahead: Place[]
  /** Begun or sent back, and closed. */
  closed: Place[]
  /** Received last, or open again to be changed. */
  sent: Place[]
}

/** Where the facilities of a person's branch have something to report, or have reported last. */
export async function duePlaces(
  sql: Reader,
  access: Access,
  { timeZone }: Pick<Settings, 'timeZone'>,
): Promise<DuePlaces> {
  const [unit, rounds] = await Promise.all([unitAsked(access, undefined), roundsToShow(sql, access)])
  const places = await placesOf(sql, access, rounds)
  const toSend = places.filter(({ report }) => !isReceived(stateOf(report)))
  const received = places.filter(({ report }) => isReceived(stateOf(report)))
  const newest = new Set(newestOfEach(received, RECEIVED_SHOWN))
  const day = printDay(dayAt(now(), timeZone))
  const open = toSend.filter(({ round }) => !isClosed(round))
  const isAhead = ({ round }: Place) => round.lastDay >= day
  return {
    unit: { code: unit.code, name: unit.name },
    now: open.filter(place => !isAhead(place)),
    ahead: open.filter(isAhead).reverse(),
    closed: newestOfEach(
      toSend.filter(({ round, report }) => isClosed(round) && report),
      CLOSED_SHOWN,
    ),
    // What a facility was let in to change is among them, however old it is.
    sent: received.filter(place => newest.has(place) || place.isLetIn),
  }
}

/** The places as a list for people, with what comes next. */
export async function dueListOf(
  sql: Reader,
  access: Access,
  { unit, ...places }: DuePlaces,
  { timeZone }: Pick<Settings, 'timeZone'>,
): Promise<DueList> {
  const [questions, coming] = await Promise.all([
    questionsOf(sql, Object.values(places).flat()),
    comingRounds(sql, access, timeZone),
  ])
  const due = dueReport(questions)
  return {
    unit,
    now: places.now.map(due),
    ahead: places.ahead.map(due),
    closed: places.closed.map(due),
    // What can be filled early is there itself.
    coming: coming.filter(({ dataset }) => !places.ahead.some(({ round }) => round.dataset === dataset)),
    sent: places.sent.map(due),
  }
}

/**
 * What the facilities of a person's branch have to report: all that is open, what was begun or sent back and
 * is closed now, what comes next, and what was received last. Nobody picks unit, dataset and period from
 * lists.
 */
export async function dueList(access: Access): Promise<DueList> {
  const sql = await database()
  const all = await settings()
  return dueListOf(sql, access, await duePlaces(sql, access, all), all)
}
