import type { DeskDefinitions, DeskWork } from '#core/contract/desk'
import type { ReportFile } from '#core/contract/reports'
import type { DueReport } from '#core/contract/rounds'
import type { Access } from '../access/access'
import { deskRegisters, earlierRegisters } from '../cases/list'
import { refreshEffects } from '../checks/effects'
import { nowText } from '../clock'
import { database } from '../database'
import { listTalked } from '../discrepancies/list'
import { readDiscrepancy } from '../discrepancies/read'
import { readOnce } from '../reports/cells'
import { reportFile } from '../reports/file'
import { dueList } from '../overview/due'
import { listPlaces } from '../units/read'
import { leftOutOf } from './late-changes'

/** How many reports go along: those to fill first, then those begun, then those received. */
const MOST_REPORTS = 60
/** How many conversations go along; the oldest are for the office. */
const MOST_CONVERSATIONS = 40

/** All that a facility works with, at once: a line that is there for a minute must be enough. */
export async function deskWork(access: Access): Promise<DeskWork> {
  const due = await dueList(access)
  await refreshEffects(access.branch)
  const lines = await listTalked(access, MOST_CONVERSATIONS)
  return {
    at: nowText(),
    due,
    questions: { lines },
    reports: await reportsOf(access, [...due.now, ...due.closed, ...due.sent].slice(0, MOST_REPORTS)),
    conversations: await Promise.all(lines.map(({ id }) => readDiscrepancy(access, id))),
    leftOut: await leftOutOf(await database(), access.id),
  }
}

/** One after the other: each looks back at reports that the one before has read. */
async function reportsOf(access: Access, places: readonly DueReport[]): Promise<ReportFile[]> {
  const read = readOnce()
  const reports: ReportFile[] = []
  for (const { round, unit } of places) reports.push(await reportFile(access, round.id, unit.code, read))
  return reports
}

export const deskDefinitions = async (access: Access): Promise<DeskDefinitions> => ({
  registers: await deskRegisters(),
  earlier: await earlierRegisters(access),
  units: await listPlaces(),
})
