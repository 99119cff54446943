import type { DeskChange, DeskOutcome } from '#core/contract/desk'
import { groupBy } from '#core/group-by'
import { isReceived, type ReportState } from '#core/report/state'
import type { Access } from '../access/access'
import { applyEntries } from '../cases/apply-entries'
import { applyCaseAct } from '../cases/life'
import { lockCases } from '../cases/lock-cases'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { isDataError } from '../database/data-error'
import { answer } from '../discrepancies/act'
import { facilitiesOfDiscrepancies } from '../discrepancies/read'
import { takingTurns } from '../give-way'
import { Refusal } from '../refusal'
import { logError } from '../log'
import { applyChanges } from '../reporting/apply-changes'
import { commentCell } from '../reports/cell-story'
import { sendReport } from '../reporting/send'
import { settings } from '../settings'
import { may, type Device } from './devices'
import { holdLate } from './late-changes'
import { digestOf, readChange } from './read-change'
import { answeredBefore, noteReceived, reused } from './received'

/** What one act of sending works with. */
export interface Sending {
  access: Access
  device: Device
  timeZone: string
  /** When something was made, by a clock put right. */
  correctTime: (madeAt: string) => string
}

type Act = Exclude<DeskChange, { kind: 'cell' | 'entry' }>

/** Changes that depend on one another are applied in one transaction. */
function groupKey(change: DeskChange): string {
  if (change.kind === 'cell' || change.kind === 'send' || change.kind === 'comment')
    return `report ${change.round} ${change.unit}`
  return change.kind === 'entry' || change.kind === 'caseAct' ? 'cases' : `question ${change.discrepancy}`
}

/** A clock that is off by less than this is right: the way itself takes time. */
const CLOCK_MATTERS = 2 * 60_000

/**
 * Puts the time of a device right. What it made cannot come before it was made.
 *
 * @param offset how far the clock of the device is ahead, in milliseconds
 */
function timeCorrector(offset: number): (madeAt: string) => string {
  const off = Math.abs(offset) > CLOCK_MATTERS ? offset : 0
  return madeAt => new Date(Math.min(Date.parse(madeAt) - off, now())).toISOString()
}

const rejected = (id: string, code: string, message: string): DeskOutcome => ({
  id,
  outcome: 'refused',
  code,
  message,
})

/**
 * Applies what a device sends. Each change is checked and answered by itself; if one fails, the others are
 * still applied. What came before is answered as it was, and changes nothing more.
 *
 * @param sent `clockOffset`: how far the clock of the device is ahead, in milliseconds
 * @returns one outcome for each change, in their order
 */
export async function applySent(
  access: Access,
  device: Device,
  sent: { clockOffset: number; changes: readonly unknown[] },
): Promise<DeskOutcome[]> {
  const sql = await database()
  const { timeZone } = await settings()
  const sending: Sending = { access, device, timeZone, correctTime: timeCorrector(sent.clockOffset) }
  const read = await readAll(sent.changes)
  /** Of changes with one identifier in one batch the first counts. */
  const firstOf = new Map<string, DeskChange>()
  for (const result of read)
    if (result.ok && !firstOf.has(result.value.id)) firstOf.set(result.value.id, result.value)
  const outcomes = new Map<string, DeskOutcome>()
  for (const group of groupBy([...firstOf.values()], groupKey).values()) {
    // Outcomes of a transaction count once it is through.
    for (const outcome of await applyGroup(sql, sending, group)) outcomes.set(outcome.id, outcome)
  }
  return read.map((result, at) => {
    if (!result.ok)
      return rejected(sentId(sent.changes[at]), result.problems[0]!.code, result.problems[0]!.message)
    const { id } = result.value
    const first = firstOf.get(id)!
    const outcome = outcomes.get(id)!
    if (first === result.value) return outcome
    if (digestOf(first) !== digestOf(result.value)) return reused(id)
    return outcome.outcome === 'received' ? { ...outcome, outcome: 'alreadyHad' } : outcome
  })
}

/** Reads changes one after the other, and lets others have their turn in between. */
async function readAll(changes: readonly unknown[]): Promise<ReturnType<typeof readChange>[]> {
  const read: ReturnType<typeof readChange>[] = []
  const takeTurns = takingTurns()
  for (const change of changes) {
    read.push(readChange(change))
    await takeTurns()
  }
  return read
}

const sentId = (change: unknown): string => String((change as { id?: unknown } | null)?.id ?? '').slice(0, 64)

/**
 * One transaction for a group. When the database cannot store something of it, each change is tried by
 * itself.
 */
async function applyGroup(
  sql: Awaited<ReturnType<typeof database>>,
  sending: Sending,
  group: readonly DeskChange[],
): Promise<DeskOutcome[]> {
  try {
    return await sql.transaction(tx => applyInTransaction(tx, sending, group))
  } catch (error) {
    if (error instanceof Refusal) return group.map(({ id }) => rejected(id, error.code, error.message))
    if (!isDataError(error)) throw error
    if (group.length > 1) {
      const outcomes: DeskOutcome[] = []
      // One after the other: all of them need the same facility, and none should take every connection.
      for (const change of group) outcomes.push(...(await applyGroup(sql, sending, [change])))
      return outcomes
    }
    logError(`A change of kind ${group[0]!.kind} could not be stored`, error)
    return [
      rejected(group[0]!.id, 'not-storable', 'The district cannot store this. The rest was not affected.'),
    ]
  }
}

/**
 * Applies the changes of a group that did not come before, in the transaction of the caller. What is refused
 * because its round closed meanwhile is kept for the officer.
 */
export async function applyInTransaction(
  tx: Sql,
  sending: Sending,
  group: readonly DeskChange[],
): Promise<DeskOutcome[]> {
  // First of all: the same change that comes twice at once is answered the second time from what was noted.
  await lockCases(tx, casesOf(group), await facilitiesOf(tx, group))
  const before = await answeredBefore(tx, sending.access, group)
  const fresh = group.filter(({ id }) => !before.has(id))
  const outcomes = [...before.values()]
  const cells = fresh.filter(change => change.kind === 'cell')
  if (cells.length) outcomes.push(...(await attempt(tx, cells, () => applyCells(tx, sending, cells))))
  const entries = fresh.filter(change => change.kind === 'entry')
  if (entries.length) {
    outcomes.push(
      ...(await applyEntries(
        tx,
        sending.access,
        entries,
        sending.correctTime,
        { device: sending.device.id },
        sending.timeZone,
      )),
    )
  }
  for (const act of fresh.filter(
    (change): change is Act => change.kind !== 'cell' && change.kind !== 'entry',
  )) {
    outcomes.push(...(await attempt(tx, [act], async () => [await applyAct(tx, sending, act)])))
  }
  await noteReceived(
    tx,
    sending.access,
    sending.device.id,
    group,
    outcomes.filter(({ id }) => !before.has(id)),
  )
  return holdClosed(tx, sending, group, outcomes)
}

/** The facilities that changes write about, without those of their cases. */
async function facilitiesOf(tx: Sql, group: readonly DeskChange[]): Promise<string[]> {
  const named = group.flatMap(change => (change.kind === 'answer' ? [] : [change.unit]))
  const asked = group.flatMap(change => (change.kind === 'answer' ? [change.discrepancy] : []))
  const movedTo = group.flatMap(change =>
    change.kind === 'caseAct' && change.act.act === 'move' ? [change.act.to] : [],
  )
  return [...named, ...movedTo, ...(asked.length ? await facilitiesOfDiscrepancies(tx, asked) : [])]
}

/** The cases that changes write about. */
const casesOf = (group: readonly DeskChange[]): string[] =>
  group.flatMap(change =>
    change.kind === 'entry'
      ? [change.case, change.parent ?? []].flat()
      : change.kind === 'caseAct'
        ? [change.case]
        : [],
  )

/** Keeps for the officer what was refused because its round closed while the change was on its way. */
async function holdClosed(
  tx: Sql,
  { access, device, correctTime }: Sending,
  group: readonly DeskChange[],
  outcomes: readonly DeskOutcome[],
): Promise<DeskOutcome[]> {
  const byId = new Map(group.map(change => [change.id, change]))
  const answers: DeskOutcome[] = []
  for (const outcome of outcomes) {
    const change = byId.get(outcome.id)!
    answers.push(
      outcome.code === 'round-closed' && change.kind !== 'entry' && change.kind !== 'caseAct'
        ? await holdLate(tx, { access, device: device.id, correctTime }, change, outcome)
        : outcome,
    )
  }
  return answers
}

/** Runs a part of a transaction in a savepoint: what the district refuses leaves no trace. */
async function attempt(
  tx: Sql,
  changes: readonly DeskChange[],
  work: () => Promise<DeskOutcome[]>,
): Promise<DeskOutcome[]> {
  try {
    return await tx.savepoint(work)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return changes.map(({ id }) => rejected(id, error.code, error.message))
  }
}

/**
 * Checks what this device may not do with reports, by the settings of its card.
 * @throws Refusal 403 `device-may-not`.
 */
async function mustMay(
  tx: Sql,
  device: Device,
  { round, unit }: { round: string; unit: string },
): Promise<void> {
  if (may(device, 'openReports') && may(device, 'changeSent')) return
  const [report] = await tx.query<{ state: ReportState }>(
    'SELECT state FROM report WHERE round = $1 AND unit = $2',
    [round, unit],
  )
  if (!report && !may(device, 'openReports'))
    throw new Refusal(403, 'device-may-not', 'This device does not begin reports.')
  if (report && isReceived(report.state) && !may(device, 'changeSent'))
    throw new Refusal(403, 'device-may-not', 'This device does not change what was sent.')
}

async function applyCells(
  tx: Sql,
  { access, device }: Sending,
  cells: readonly Extract<DeskChange, { kind: 'cell' }>[],
): Promise<DeskOutcome[]> {
  const [{ round, unit }] = cells as [Extract<DeskChange, { kind: 'cell' }>]
  await mustMay(tx, device, { round, unit })
  return applyChanges(tx, access, round, unit, cells, { origin: 'desk', device: device.id })
}

async function applyAct(tx: Sql, { access, device }: Sending, act: Act): Promise<DeskOutcome> {
  const [known] = await tx.query('SELECT 1 FROM known_change WHERE id = $1', [act.id])
  if (known) return { id: act.id, outcome: 'alreadyHad' }
  if (act.kind === 'send') await sendReport(tx, access, act.round, act.unit, act.explanations)
  else if (act.kind === 'comment') await commentCell(tx, access, act.round, act.unit, act.cell, act.text)
  else if (act.kind === 'caseAct') await applyCaseAct(tx, access, act.case, act.act, device.id)
  else
    await answer(tx, access, act.discrepancy, act.text, act.corrections, {
      origin: 'desk',
      mustMay: place => mustMay(tx, device, place),
    })
  await tx.query(
    `INSERT INTO known_change (id, stands_for, outcome, at, device) VALUES ($1, $1, 'received', $2, $3)`,
    [act.id, nowText(), device.id],
  )
  return { id: act.id, outcome: 'received' }
}
