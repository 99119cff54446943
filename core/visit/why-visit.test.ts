import { describe, expect, it } from 'vitest'
import { byNeed, whyVisit, type ToVisit, type VisitFigures } from './why-visit'

const GOOD: VisitFigures = {
  ...{ silentDays: 6, due: 17, late: 2, doubts: 4, effect: 0.049 },
  recounts: ['verified', 'unknown'],
}

describe('a visit', () => {
  it('has no reason below every limit, or where nothing is known', () => {
    expect(whyVisit(GOOD)).toEqual([])
    const unknown = { silentDays: null, due: 0, late: 0, doubts: 0, effect: null, recounts: [] }
    expect(whyVisit(unknown)).toEqual([])
  })

  it('has each reason from its limit on, with its number', () => {
    const all: VisitFigures = {
      ...{ silentDays: 7, due: 9, late: 3, doubts: 5, effect: 0.05 },
      recounts: ['overReported', 'verified', 'underReported', 'unknown'],
    }
    expect(whyVisit(all)).toEqual([
      { why: 'silent', value: 7, of: null },
      { why: 'late', value: 3, of: 9 },
      { why: 'recount', value: 2, of: 4 },
      { why: 'effect', value: 0.05, of: null },
      { why: 'doubts', value: 5, of: null },
    ])
  })

  it('is not due to three late reports of many, nor to two of two', () => {
    expect(whyVisit({ ...GOOD, due: 10, late: 3 })).toEqual([])
    expect(whyVisit({ ...GOOD, due: 2, late: 2 })).toEqual([])
    expect(whyVisit({ ...GOOD, due: 9, late: 3 })).toHaveLength(1)
  })

  it('is first where most reasons point, then by effect, then where nobody was for longest', () => {
    const one = (name: string, count: number, effect: number | null, lastVisit: string | null): ToVisit => ({
      ...{ name, effect, lastVisit },
      reasons: Array.from({ length: count }, () => ({ why: 'doubts', value: 5, of: null })),
    })
    const sorted = [
      one('seen', 1, 0.2, '2026-10-01'),
      one('twice', 2, null, '2026-10-01'),
      one('long ago', 1, 0.2, '2026-01-01'),
      one('never', 1, 0.2, null),
      one('heavy', 1, 0.3, '2026-11-01'),
      one('aged', 1, 0.2, null),
    ].sort(byNeed)
    expect(sorted.map(({ name }) => name)).toEqual(['twice', 'heavy', 'aged', 'never', 'long ago', 'seen'])
  })
})
