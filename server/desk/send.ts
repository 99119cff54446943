import type { DeskChange, DeskOutcome } from '#core/contract/desk'
import { groupBy } from '#core/group-by'
import type { Access } from '../access/access'
import { takeInEntries } from '../cases/take-in-entry'
import { now, nowText } from '../clock'
import { database, type Sql } from '../database'
import { answerIn } from '../discrepancies/act'
import { Refusal } from '../http/refusal'
import { keepChanges } from '../reports/apply-changes'
import { commentCellIn } from '../reports/cell-story'
import { sendReportIn } from '../reports/send'
import { settings } from '../settings'
import type { Device } from './devices'

/** Changes that belong together: kept or refused as one, in one transaction. */
interface Group { changes: DeskChange[] }

function keyOf(change: DeskChange): string {
  if (change.kind === 'cell' || change.kind === 'send' || change.kind === 'comment') return `report ${change.round} ${change.unit}`
  // Entries never meet each other: those of one piece are looked up and written together.
  return change.kind === 'entry' ? 'cases' : `question ${change.discrepancy}`
}

/** The groups of a batch in the order in which each begins; in a group the order in which the device made its changes. */
function groupsOf(changes: readonly DeskChange[]): Group[] {
  return [...groupBy(changes, keyOf).values()].map(group => ({ changes: group }))
}

/** A clock that is off by less than this is right: the way itself takes time. */
const CLOCK_MATTERS = 2 * 60_000

/** When something was made, by a clock put right: devices are hours off, and a change cannot come before it was made. */
function putRight(madeAt: string, clock: string): string {
  const off = Date.parse(clock) - now()
  const made = Date.parse(madeAt) - (Math.abs(off) > CLOCK_MATTERS ? off : 0)
  return new Date(Math.min(made, now())).toISOString()
}

const refused = (id: string, error: Refusal): DeskOutcome => ({ id, outcome: 'refused', code: error.code, message: error.message })

/**
 * Takes in what a device sends. Each group is one transaction; each change has its own outcome; what came before changes
 * nothing more and is answered as it was. A group that is refused holds up no other.
 */
export async function takeInSend(access: Access, device: Device, { clock, changes }: { clock: string; changes: readonly DeskChange[] }): Promise<DeskOutcome[]> {
  const sql = await database()
  const { timeZone } = await settings()
  const outcomes = new Map<string, DeskOutcome>()
  for (const group of groupsOf(changes)) {
    try {
      // Only what was kept is told: the outcomes of a transaction count once it is through.
      const found = await sql.transaction(tx => takeInGroup(tx, access, device, group, clock, timeZone))
      found.forEach(outcome => outcomes.set(outcome.id, outcome))
    }
    catch (error) {
      if (!(error instanceof Refusal)) throw error
      group.changes.forEach(({ id }) => outcomes.set(id, refused(id, error)))
    }
  }
  return changes.map(({ id }) => outcomes.get(id)!)
}

/**
 * What this device may not do with reports, by the settings of its card. What came before is answered as it was.
 * @throws Refusal 403 `device-may-not`.
 */
async function mustMay(tx: Sql, { settings: { may } }: Device, { round, unit }: { round: string; unit: string }): Promise<void> {
  if (may.openReports && may.changeSent) return
  const [report] = await tx.query<{ state: string }>('SELECT state FROM report WHERE round = $1 AND unit = $2', [round, unit])
  if (!report && !may.openReports) throw new Refusal(403, 'device-may-not', 'This device does not begin reports.')
  if (report && !may.changeSent && (report.state === 'sent' || report.state === 'accepted')) throw new Refusal(403, 'device-may-not', 'This device does not change what was sent.')
}

async function takeInGroup(tx: Sql, access: Access, device: Device, { changes }: Group, clock: string, timeZone: string): Promise<DeskOutcome[]> {
  const cells = changes.flatMap(change => (change.kind === 'cell' ? [change] : []))
  const found: DeskOutcome[] = []
  if (cells.length) {
    await mustMay(tx, device, cells[0]!)
    const { outcomes } = await keepChanges(tx, access, cells[0]!.round, cells[0]!.unit, cells, { origin: 'desk', device: device.id })
    found.push(...outcomes.map(({ id, outcome, version, theirs, code, message }) => ({ id, outcome, version, ...(theirs && { theirs }), ...(code && { code }), ...(message && { message }) })))
  }
  const entries = changes.flatMap(change => (change.kind === 'entry' ? [change] : []))
  if (entries.length) found.push(...await takeInEntries(tx, access, entries, madeAt => putRight(madeAt, clock), device.id, timeZone))
  for (const change of changes) {
    if (change.kind === 'cell' || change.kind === 'entry') continue
    const [known] = await tx.query('SELECT 1 FROM known_change WHERE id = $1', [change.id])
    if (known) { found.push({ id: change.id, outcome: 'alreadyHad' }); continue }
    // The act is refused by itself: the values that came with it are kept.
    const refusal = await actOf(tx, access, change).then(() => null, (error: unknown) => { if (error instanceof Refusal) return error; throw error })
    if (refusal) { found.push(refused(change.id, refusal)); continue }
    await tx.query(`INSERT INTO known_change (id, stands_for, outcome, at, device) VALUES ($1, $1, 'received', $2, $3)`, [change.id, nowText(), device.id])
    found.push({ id: change.id, outcome: 'received' })
  }
  return found
}

async function actOf(tx: Sql, access: Access, change: Exclude<DeskChange, { kind: 'cell' | 'entry' }>): Promise<void> {
  if (change.kind === 'send') await sendReportIn(tx, access, change.round, change.unit, change.explanations)
  else if (change.kind === 'comment') await commentCellIn(tx, access, change.round, change.unit, change.cell, change.text)
  else await answerIn(tx, access, change.discrepancy, change.text, change.corrections, 'desk')
}
