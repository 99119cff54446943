import { describe, expect, it } from 'vitest'
import { parseDay } from '#core/calendar/day'
import { parsePeriod } from '#core/calendar/period-text'
import { countedRegister } from '#core/cases/counted'
import { compileRegister } from '#core/cases/compile-register'
import { listsOf, NOTHING } from '#core/expression/vocabulary'
import { compile } from '#core/expression/compile'
import { casesCounted, countFigures, countsIn } from '#core/reconcile/count-figures'
import { must } from '#core/result'
import { caseOnDevice } from '../../tests/support/case-on-device'
import { visits } from '../../tests/support/visits'
import { countedUnits } from './useOwnCounts'

const register = visits()
const FEVER = 'count(home_visits where fever)'
const lists = listsOf({ counts: [countedRegister(must(compileRegister(register)))] })
const countings = countsIn([
  { compiled: must(compile(FEVER, { label: {}, names: NOTHING, others: NOTHING, lists }, 'number')) },
])
const day = (text: string) => must(parseDay(text))
const [october, september] = ['2026-10', '2026-09'].map(text => must(parsePeriod(text)))
const CASES = [
  caseOnDevice(register, 'a', 'elm', { visited_on: '2026-10-05', fever: true }),
  caseOnDevice(register, 'b', 'elm', { visited_on: '2026-10-31', fever: false }),
  caseOnDevice(register, 'c', 'oak', { visited_on: '2026-10-06', fever: true }),
  caseOnDevice(register, 'd', 'elm', { visited_on: '2026-09-06', fever: true }),
]
const units = (since = '2026-01-01', registers = new Map([[register.code, register]])) =>
  countedUnits(countings, registers, CASES, 'elm', day(since))

describe('the cases of this device that the rules of a report count', () => {
  it('are those of its facility, of the period, for which the condition holds', () => {
    const figures = countFigures(countings, units(), [october!, september!], day('2026-11-01'))
    expect(figures.numbers).toEqual({ [FEVER]: [1, 1] })
    expect(casesCounted(countings[0]!, units().get('home_visits')!, october!, day('2026-11-01'))).toEqual([
      'a',
    ])
  })
  it('say nothing of a period of which this device has deleted some, or of a register that it does not have', () => {
    const kept = countFigures(countings, units('2026-09-15'), [october!, september!], day('2026-11-01'))
    expect(kept.numbers).toEqual({ [FEVER]: [1, null] })
    const none = countFigures(countings, units('2026-01-01', new Map()), [october!], day('2026-11-01'))
    expect(none.numbers).toEqual({ [FEVER]: [null] })
  })
})
