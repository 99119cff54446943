import type { DeskDefinitions, DeskWork } from '#core/contract/desk'
import type { Access } from '../access/access'
import { deskRegisters, earlierRegisters } from '../cases/registers'
import { refreshEffects } from '../checks/effects'
import { nowText } from '../clock'
import { database } from '../database'
import { talkedAboutCases } from '../discrepancies/about-cases'
import { listTalked } from '../discrepancies/list'
import { readDiscrepancies } from '../discrepancies/read'
import { duePlaces, dueListOf } from '../overview/due'
import { reportFilesOf } from '../reports/file'
import { listPlaces } from '../units/read'
import { leftOutOf } from './late-changes'

/** How many reports go along: those to fill first, then those begun, then those received. */
const MOST_REPORTS = 60
/** How many conversations go along; the oldest are for the office. */
const MOST_CONVERSATIONS = 40

/** All that a facility works with, at once: a line that is there for a minute must be enough. */
export async function deskWork(access: Access): Promise<DeskWork> {
  const sql = await database()
  const due = await duePlaces(sql, access)
  await refreshEffects(access.branch)
  const lines = await listTalked(access, MOST_CONVERSATIONS)
  return {
    at: nowText(),
    due: await dueListOf(sql, due),
    questions: { lines },
    reports: await reportFilesOf(
      sql,
      access,
      [...due.now, ...due.closed, ...due.ahead, ...due.sent].slice(0, MOST_REPORTS),
    ),
    conversations: await readDiscrepancies(
      access,
      lines.map(({ id }) => id),
    ),
    caseConversations: await talkedAboutCases(access, MOST_CONVERSATIONS),
    leftOut: await leftOutOf(sql, access.id),
  }
}

export const deskDefinitions = async (access: Access): Promise<DeskDefinitions> => ({
  registers: await deskRegisters(),
  earlier: await earlierRegisters(access),
  units: await listPlaces(),
})
