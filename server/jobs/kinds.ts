import { JOB_KINDS, type JobKind } from '#core/contract/jobs'
import { backUp, isBackupDue, makesBackups } from '../backups/keep-safe'
import { areCasesToFold, foldWaitingCases } from '../cases/known'
import { isJudgedByDay, judgeByDay } from '../cases/new-day'
import { areEffectsOld, refreshEffects } from '../checks/effects'
import { isToJudge, judgeAgain } from '../checks/judge-again'
import type { JobWork } from '../queue/turn'
import { areExtractsAsked, makeExtracts } from '../extracts/make-files'
import { areFilesDue, sendFiles } from '../extracts/send-files'
import { areExtractsDue, writeDueExtracts } from '../extracts/write-due'
import { areFilesAsked, importReports } from '../files/import-reports'
import { areNudgesDue, sendDueNudges } from '../nudges/send-due'
import { openRounds } from '../rounds/open-rounds'
import { differenceText, verify } from '../verification/verify'
import { areSendingsDue, sendDue } from '../sending/send-due'
import { tidy } from './tidy'

/** A kind of job: what it does, and when the installation asks for it by itself. */
export interface JobSetup {
  work: JobWork
  /** In the format of cron, in the installation's time zone. Without it only people ask. */
  times?: string
  /** Is there something to do? It is not asked for when there is nothing. */
  isDue?: () => Promise<boolean>
  /** Can it be done at this installation? Always, where nothing is said. */
  isPossible?: () => Promise<boolean>
}

/** Reports first: they are small, and signed. */
const sendEverything: JobWork = async turn => {
  const reports = await sendDue(turn)
  const files = await sendFiles(turn)
  return {
    numbers: {
      delivered: reports.delivered + files.delivered,
      unanswered: reports.unanswered + files.unanswered,
    },
    details: [],
  }
}

const SETUPS: Readonly<Record<JobKind, JobSetup>> = {
  openRounds: {
    times: '*/10 * * * *',
    work: async () => ({ numbers: { rounds: await openRounds() }, details: [] }),
  },
  judgeAgain: { times: '*/10 * * * *', isDue: isToJudge, work: judgeAgain },
  effects: {
    times: '* * * * *',
    isDue: areEffectsOld,
    work: async turn => ({ numbers: { districts: await refreshEffects(null, turn) }, details: [] }),
  },
  foldCases: {
    times: '* * * * *',
    isDue: areCasesToFold,
    work: async turn => ({ numbers: { cases: await foldWaitingCases(turn) }, details: [] }),
  },
  newDay: {
    times: '5 0 * * *',
    isDue: isJudgedByDay,
    work: async () => ({ numbers: { cases: await judgeByDay() }, details: [] }),
  },
  sendNudges: { times: '* * * * *', isDue: areNudgesDue, work: sendDueNudges },
  sendOn: {
    times: '* * * * *',
    isDue: async () => (await areSendingsDue()) || areFilesDue(),
    work: sendEverything,
  },
  makeExtracts: { times: '* * * * *', isDue: areExtractsAsked, work: makeExtracts },
  writeExtracts: {
    times: '*/10 * * * *',
    isDue: areExtractsDue,
    work: writeDueExtracts,
  },
  importReports: { times: '* * * * *', isDue: areFilesAsked, work: importReports },
  backup: {
    times: '*/15 * * * *',
    isDue: isBackupDue,
    isPossible: makesBackups,
    work: async () => ({ numbers: {}, details: [await backUp()] }),
  },
  // At night: the embedded engine is busy for some seconds.
  tidy: { times: '15 3 * * *', work: tidy },
  verify: {
    work: async turn => {
      const differences = await verify(turn)
      return {
        numbers: { differences: differences.length },
        details: differences.slice(0, 100).map(differenceText),
      }
    },
  },
}

/** The kinds of jobs that can be done at this installation, in the order in which people read them. */
export async function possibleKinds(): Promise<[JobKind, JobSetup][]> {
  const kinds: [JobKind, JobSetup][] = []
  for (const kind of JOB_KINDS)
    if ((await SETUPS[kind].isPossible?.()) ?? true) kinds.push([kind, SETUPS[kind]])
  return kinds
}
