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
  const [places, lines] = await Promise.all([
    duePlaces(sql, access),
    refreshEffects(access.branch).then(() => listTalked(access, MOST_CONVERSATIONS)),
  ])
  const most = [...places.now, ...places.closed, ...places.ahead, ...places.sent].slice(0, MOST_REPORTS)
  const [due, reports, conversations, caseConversations, leftOut] = await Promise.all([
    dueListOf(sql, places),
    reportFilesOf(sql, access, most),
    readDiscrepancies(
      access,
      lines.map(({ id }) => id),
    ),
    talkedAboutCases(access, MOST_CONVERSATIONS),
    leftOutOf(sql, access.id),
  ])
  return { at: nowText(), due, questions: { lines }, reports, conversations, caseConversations, leftOut }
}

export const deskDefinitions = async (access: Access): Promise<DeskDefinitions> => ({
  registers: await deskRegisters(),
  earlier: await earlierRegisters(access),
  units: await listPlaces(),
})
