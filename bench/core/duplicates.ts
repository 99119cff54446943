import { findDuplicates } from '#core/matching/duplicates'
import { plantedSubjects } from '#core/matching/planted.fixture'
import { measurement, type Measurement } from '../measure'
import { randomWhole } from './data'

const CASES = 20_000
const PLANTED = 1_200
const WORK = '20,000 cases for duplicates'

export function duplicates(): Measurement[] {
  const { subjects, planted } = plantedSubjects(CASES, PLANTED, randomWhole(11))
  const start = performance.now()
  const { pairs, scored, leftOut } = findDuplicates(subjects)
  const took = performance.now() - start
  if (leftOut.length) throw new Error(`${leftOut.length} blocks were left out.`)
  const found = new Set(pairs.map(({ one, other }) => `${one} ${other}`))
  const missed = planted.filter(({ one, other }) => !found.has(`${one} ${other}`)).length
  return [
    measurement(WORK, took, 10_000, 'ten seconds', 'ms', 1),
    measurement(WORK, scored, (CASES * (CASES - 1)) / 2, 'all pairs', 'pairs', 0.02),
    measurement(`planted pairs missed among ${WORK}`, missed, PLANTED, 'planted pairs', 'pairs', 0),
  ]
}
