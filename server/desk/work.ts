import type { DeskDefinitions, DeskWork } from '#core/contract/desk'
import type { Access } from '../access/access'
import { deskRegisters, earlierRegisters } from '../cases/list'
import { nowText } from '../clock'
import { database } from '../database'
import { listTalked } from '../discrepancies/list'
import { discrepancyFile } from '../discrepancies/read'
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
  const lines = await listTalked(access, MOST_CONVERSATIONS)
  return {
    at: nowText(),
    due,
    questions: { lines },
    reports: await Promise.all(
      [...due.now, ...due.closed, ...due.sent]
        .slice(0, MOST_REPORTS)
        .map(({ round, unit }) => reportFile(access, round.id, unit.code)),
    ),
    conversations: await Promise.all(lines.map(({ id }) => discrepancyFile(access, id))),
    leftOut: await leftOutOf(await database(), access.id),
  }
}

export const deskDefinitions = async (access: Access): Promise<DeskDefinitions> => ({
  registers: await deskRegisters(),
  earlier: await earlierRegisters(access),
  units: await listPlaces(),
})
