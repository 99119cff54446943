import { printDay } from '#core/calendar/day'
import type { VisitProposalQuery, VisitProposals } from '#core/contract/visits'
import { groupBy } from '#core/group-by'
import { recountFactor } from '#core/quality/recount-factor'
import { byNeed, whyVisit, type VisitFigures, type VisitReason } from '#core/visit/why-visit'
import { branchPath, unitAsked, type Access } from '../access/access'
import { refreshEffects } from '../checks/effects'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { marksIn } from '../overview/over-time'
import { heldRecounts } from '../recounts/held'
import { roundsWhere } from '../rounds/round'
import { settings, today } from '../settings'

/** How many a page has. */
const PAGE = 50
const DAY = 86_400_000
/** Reports that fell due in the last quarter tell whether a facility is often late. */
const LATELY_DAYS = 92
/** Recounts of the last year are looked at. */
const RECOUNT_DAYS = 366

type Reader = Pick<Sql, 'query'>
interface ByUnit {
  unit: string
}

/** Of each unit of a branch that has one: when the last of its devices was heard. */
const lastHeard = (sql: Reader, branch: string): Promise<(ByUnit & { at: string })[]> =>
  sql.query(
    `SELECT d.unit, max(coalesce(d.last_contact_at, d.paired_at)) AS at FROM device d JOIN unit_latest u ON u.code = d.unit
     WHERE d.blocked_at IS NULL AND u.path @> $1::text[] GROUP BY d.unit`,
    [branchPath(branch)],
  )

/** Of each unit of a branch that has some: how many doubts are to settle, and the largest effect among them. */
const openDoubts = (
  sql: Reader,
  branch: string,
): Promise<(ByUnit & { doubts: number; effect: number | null })[]> =>
  sql.query(
    `SELECT p.unit, count(*)::int AS doubts, max(e.effect) AS effect
     FROM discrepancy d JOIN report p ON p.id = d.report LEFT JOIN discrepancy_effect e ON e.discrepancy = d.id
     WHERE d.state <> 'settled' AND d.strength <> 'note' AND p.path @> $1::text[] GROUP BY p.unit`,
    [branchPath(branch)],
  )

/** Of each unit of a branch that has some: what was recounted lately and what is reported, by dataset and item. */
const recountedLately = (
  sql: Reader,
  branch: string,
  since: string,
): Promise<(ByUnit & { recounted: number; reported: number })[]> =>
  sql.query(
    `SELECT p.unit, sum(h.value) AS recounted, sum(v.value) AS reported
     FROM (${heldRecounts('JOIN report o ON o.id = r.report', 'r.counted_on >= $2 AND o.path @> $1::text[]')}) h
       JOIN report p ON p.id = h.report JOIN round n ON n.id = p.round
       JOIN cell_value v ON v.report = h.report AND v.cell = h.cell AND v.value IS NOT NULL
     GROUP BY p.unit, n.dataset, split_part(h.cell, '.', 1)`,
    [branchPath(branch), since],
  )

/** Of each unit of a branch that was expected: how many reports fell due lately, and how many came late or not. */
async function dueLately(sql: Reader, branch: string): Promise<Map<string, { due: number; late: number }>> {
  const rounds = await roundsWhere(sql, 'r.due_at <= $1 AND r.due_at > $2 ORDER BY r.dataset, r.last_day', [
    ...[nowText(), new Date(now() - LATELY_DAYS * DAY).toISOString()],
  ])
  const found = new Map<string, { due: number; late: number }>()
  for (const marks of await marksIn(sql, rounds, branch))
    for (const [unit, { onTime }] of marks) {
      const { due, late } = found.get(unit) ?? { due: 0, late: 0 }
      found.set(unit, { due: due + 1, late: late + (onTime ? 0 : 1) })
    }
  return found
}

/** What the data say of the units of a branch. @returns by a unit's code */
async function figuresIn(sql: Reader, branch: string): Promise<(unit: string) => VisitFigures> {
  const heard = new Map((await lastHeard(sql, branch)).map(({ unit, at }) => [unit, Date.parse(at)]))
  const doubts = new Map((await openDoubts(sql, branch)).map(one => [one.unit, one]))
  const due = await dueLately(sql, branch)
  const since = printDay((await today(sql)) - RECOUNT_DAYS)
  const recounts = groupBy(await recountedLately(sql, branch, since), ({ unit }) => unit)
  return unit => ({
    silentDays: heard.has(unit) ? Math.floor((now() - heard.get(unit)!) / DAY) : null,
    ...(due.get(unit) ?? { due: 0, late: 0 }),
    doubts: doubts.get(unit)?.doubts ?? 0,
    effect: doubts.get(unit)?.effect ?? null,
    recounts: (recounts.get(unit) ?? []).map(
      ({ recounted, reported }) => recountFactor(recounted, reported).verdict,
    ),
  })
}

/** Why a visit to one facility would help now. */
export async function reasonsAt(unit: string): Promise<VisitReason[]> {
  await refreshEffects(unit)
  return whyVisit((await figuresIn(await database(), unit))(unit))
}

interface Facility {
  code: string
  name: string
  zone: string
  zoneName: string
  lastVisit: string | null
  plannedFor: string | null
}

const facilitiesOpen = async (sql: Reader, branch: string): Promise<Facility[]> =>
  sql.query<Facility>(
    `SELECT u.code, u.name, coalesce(z.code, u.code) AS zone, coalesce(z.name, u.name) AS "zoneName",
       (SELECT max(made_on) FROM visit v WHERE v.unit = u.code) AS "lastVisit",
       (SELECT planned_for FROM visit v WHERE v.unit = u.code AND v.state = 'planned') AS "plannedFor"
     FROM unit_latest u LEFT JOIN unit_latest z ON z.code = u.parent
     WHERE u.path @> $1::text[] AND u.level = $2 AND u.from_day <= $3 AND (u.to_day IS NULL OR u.to_day > $3)`,
    [branchPath(branch), (await settings(sql)).facilityLevel, printDay(await today(sql))],
  )

/**
 * The facilities of a branch that a visit would help, in the order of need, a page at a time.
 *
 * @throws Refusal 403, 404
 */
export async function visitProposals(
  access: Access,
  { unit: asked, skip = 0 }: VisitProposalQuery,
): Promise<VisitProposals> {
  const sql = await database()
  const { code } = await unitAsked(access, asked)
  await refreshEffects(code)
  const figuresOf = await figuresIn(sql, code)
  const facilities = await facilitiesOpen(sql, code)
  const found = facilities
    .map(({ code: own, name, zone, zoneName, lastVisit, plannedFor }) => {
      const figures = figuresOf(own)
      return {
        ...{ name, lastVisit, plannedFor, reasons: whyVisit(figures), effect: figures.effect },
        ...{ unit: { code: own, name }, zone: { code: zone, name: zoneName } },
      }
    })
    .filter(({ reasons }) => reasons.length)
    .sort(byNeed)
  return {
    lines: found.slice(skip, skip + PAGE).map(({ name: _name, ...line }) => line),
    more: found.length > skip + PAGE,
    counts: { withReason: found.length, facilities: facilities.length },
  }
}
