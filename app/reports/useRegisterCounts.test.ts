import { describe, expect, it } from 'vitest'
import type { ReportFile } from '#core/contract/reports'
import type { AnswerValue } from '#core/form/answer'
import type { CaseCount, Edition } from '#core/report/edition'
import { caseOnDevice } from '../../tests/support/case-on-device'
import { visits } from '../../tests/support/visits'
import { registerCounts } from './useRegisterCounts'

const register = visits()
const visited = (id: string, unit: string, answers: Record<string, AnswerValue>) =>
  caseOnDevice(register, id, unit, answers)
const CASES = [
  visited('a', 'elm', { visited_on: '2026-10-05', fever: true }),
  visited('b', 'elm', { visited_on: '2026-10-31', fever: false }),
  visited('c', 'elm', { visited_on: '2026-11-01', fever: true }),
  visited('d', 'oak', { visited_on: '2026-10-06', fever: true }),
]
const count = (more: Partial<CaseCount> = {}): CaseCount => ({
  code: 'visits',
  name: { en: 'Visits' },
  register: register.code,
  cells: ['visits'],
  place: 'care',
  date: 'visited_on',
  ...more,
})
const counted = (more: Partial<CaseCount>) =>
  registerCounts(
    {
      edition: { caseCounts: [count(more)] } as unknown as Edition,
      round: { period: '2026-10' } as ReportFile['round'],
      unit: { code: 'elm', name: 'Elm' },
    },
    new Map([[register.code, register]]),
    CASES,
  ).map(({ registered }) => registered)

describe('what the register says beside a report', () => {
  it('are the cases of this facility in the period, and those of them that the count is about', () => {
    expect(counted({})).toEqual([2])
    expect(counted({ where: 'fever' })).toEqual([1])
  })
  it('is nothing where cases count where they live, or what counts them is not here', () => {
    expect(counted({ place: 'residence', residence: 'village' })).toEqual([])
    expect(counted({ register: 'others' })).toEqual([])
    expect(counted({ where: 'shoe_size > 3' })).toEqual([])
  })
})
