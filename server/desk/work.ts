import type { DeskDefinitions, DeskWork } from '#core/contract/desk'
import type { Access } from '../access/access'
import { deskRegisters, earlierRegisters } from '../cases/registers'
import { registersSeen } from '../cases/shared'
import { refreshEffects } from '../checks/effects'
import { nowText } from '../clock'
import { database } from '../database'
import { talkedAboutCases } from '../discrepancies/about-cases'
import { talkedAbout } from '../discrepancies/list'
import { readDiscrepancies } from '../discrepancies/read'
import { duePlaces, dueListOf } from '../overview/due'
import { UNWATCHED } from '../queue/turn'
import { reportFilesOf } from '../reports/file'
import { settings } from '../settings'
import { listPlaces } from '../units/read'
import { leftOutOf } from './late-changes'

/** How many reports go along: those to fill first, then those begun, then those received. */
const MOST_REPORTS = 60
/** How many conversations go along; the oldest are for the office. */
const MOST_CONVERSATIONS = 40

/** All that a facility works with, at once: a line that is there for a minute must be enough. */
export async function deskWork(access: Access): Promise<DeskWork> {
  const sql = await database()
  const all = await settings()
  const [places, talked] = await Promise.all([
    duePlaces(sql, access, all),
    talkedAbout(access, MOST_CONVERSATIONS),
    // What a conversation shows of its effect.
    refreshEffects(access.branch, UNWATCHED, all),
  ])
  const most = [...places.now, ...places.closed, ...places.ahead, ...places.sent].slice(0, MOST_REPORTS)
  const [due, reports, conversations, caseConversations, leftOut] = await Promise.all([
    dueListOf(sql, access, places, all),
    reportFilesOf(sql, access, most, all),
    readDiscrepancies(access, talked, all),
    talkedAboutCases(access, MOST_CONVERSATIONS),
    leftOutOf(sql, access.id),
  ])
  const questions = { lines: conversations.map(({ line }) => line) }
  return { at: nowText(), due, questions, reports, conversations, caseConversations, leftOut }
}

export const deskDefinitions = async (access: Access): Promise<DeskDefinitions> => ({
  registers: registersSeen(access, await deskRegisters()),
  earlier: registersSeen(access, await earlierRegisters(access)),
  units: await listPlaces(),
})
