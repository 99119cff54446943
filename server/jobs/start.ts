import { keepSafe } from '../backups/keep-safe'
import { refreshEffects } from '../checks/effects'
import { judgeAgain, judgeSoon } from '../checks/judge-again'
import { database } from '../database'
import { verifySignatures } from '../district-reports/signatures'
import { openRounds } from '../rounds/open-rounds'
import { schedule } from '../schedule'
import { completeSearchTexts } from '../units/latest'

/** What the server does by itself: opens the rounds that are due to open, now and from time to time, and backups. */
export async function startJobs(): Promise<void> {
  await openRounds()
  await completeSearchTexts(await database())
  await verifySignatures()
  await keepSafe()
  judgeSoon()
  schedule('Rounds could not be opened', '*/10 * * * *', openRounds)
  schedule('Reports could not be judged again', '*/10 * * * *', judgeAgain)
  schedule('Effects could not be computed', '* * * * *', () => refreshEffects(null))
}
