import type { RoundRef } from '#core/contract/common'
import { database } from '../database'
import { openedRounds, roundRef } from './round'

/** The newest rounds of each dataset that have opened, newest first. */
export async function listRounds(): Promise<RoundRef[]> {
  return (await openedRounds(await database())).map(roundRef)
}
