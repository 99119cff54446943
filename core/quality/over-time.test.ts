import { describe, expect, it } from 'vitest'
import fc from 'fast-check'
import { together } from './reporting'
import { isComplete, totalOf, type ReportMark } from './over-time'

const mark = (more: Partial<ReportMark> = {}): ReportMark => ({
  sign: 'accepted',
  received: true,
  onTime: true,
  answered: 10,
  applies: 10,
  ...more,
})

describe('reporting over time', () => {
  // A worked example with the definitions of the WHO data quality review toolkit, 2017 (from memory).
  it('counts what was expected, what came, what came on time, and how much of it is answered', () => {
    const late = mark({ onTime: false, answered: 5 })
    const awaited = mark({ sign: 'overdue', received: false, onTime: false, answered: 3 })
    expect(totalOf([mark(), late, awaited, null, mark()])).toEqual({
      ...{ expected: 4, received: 3, onTime: 2, completeness: 0.75, timeliness: 0.5 },
      ...{ complete: 2, itemCompleteness: 25 / 30 },
    })
  })

  it('says nothing of what nobody expected', () => {
    expect(totalOf([null, null])).toMatchObject({ expected: 0, completeness: null, itemCompleteness: null })
  })

  it('is complete only when the district has it', () => {
    expect([
      isComplete(mark()),
      isComplete(mark({ answered: 9 })),
      isComplete(mark({ received: false })),
    ]).toEqual([true, false, false])
  })

  it('of all is that of its parts together', () => {
    const marks = fc.array(
      fc.option(
        fc
          .record({ received: fc.boolean(), onTime: fc.boolean(), answered: fc.nat(20), more: fc.nat(20) })
          .map(({ received, onTime, answered, more }) =>
            mark({ received, onTime: received && onTime, answered, applies: answered + more }),
          ),
      ),
    )
    fc.assert(
      fc.property(marks, marks, (one, other) => {
        const { completeness, timeliness, expected, received, onTime } = totalOf([...one, ...other])
        expect({ completeness, timeliness, expected, received, onTime }).toEqual(
          together([totalOf(one), totalOf(other)]),
        )
      }),
    )
  })
})
