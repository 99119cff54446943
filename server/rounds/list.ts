import type { RoundRef } from '#core/contract/common'
import { seesDataset, type Access } from '../access/access'
import { database } from '../database'
import { openedRounds, roundRef } from './round'

/** The newest rounds of each dataset that have opened, newest first. */
export async function listRounds(access: Access): Promise<RoundRef[]> {
  const rounds = await openedRounds(await database())
  return rounds.filter(({ dataset }) => seesDataset(access, dataset)).map(roundRef)
}
