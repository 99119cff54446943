import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { parseDay } from '../calendar/day'
import { must } from '../result'
import { afterAct, unitOn, whyNot, type CaseAct, type CaseLife } from './life'

const day = (text: string) => must(parseDay(text))
const AT_ELM: CaseLife = { unit: 'elm', moves: [], closed: null }
const moved = (to: string, since: string | null): CaseAct => ({ act: 'move', to, since, text: 'Why' })

describe('the facility for which a case counts', () => {
  it('is the one that had it on the day: the first one before it was transferred', () => {
    const life = afterAct(AT_ELM, moved('oak', '2026-10-15'))
    expect(unitOn(life, day('2026-10-14'))).toBe('elm')
    expect(unitOn(life, day('2026-10-15'))).toBe('oak')
    expect(unitOn(life, null)).toBe('oak')
  })

  it('is the right one for all days where it was registered at the wrong one', () => {
    const life = afterAct(AT_ELM, moved('oak', null))
    expect(unitOn(life, day('2020-01-01'))).toBe('oak')
  })

  it('is that of the last move that had happened by then, against a plain search (property)', () => {
    const since = fc.option(
      fc.integer({ min: 1, max: 28 }).map(date => `2026-10-${String(date).padStart(2, '0')}`),
      { freq: 6 },
    )
    const units = ['oak', 'ash', 'elm']
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.constantFrom(...units), since), { maxLength: 6 }),
        fc.integer({ min: 1, max: 28 }),
        (moves, date) => {
          const at = `2026-10-${String(date).padStart(2, '0')}`
          const life = moves.reduce((before, [to, from]) => afterAct(before, moved(to, from)), AT_ELM)
          const last = moves.findLast(([, from]) => from === null || from <= at)
          expect(unitOn(life, day(at))).toBe(last ? last[0] : 'elm')
          expect(life.unit).toBe(moves.at(-1)?.[0] ?? 'elm')
        },
      ),
    )
  })
})

describe('an act that does not go with a case', () => {
  const closing: CaseAct = { act: 'close', on: '2026-10-20', outcome: 'lost' }
  const closed = afterAct(AT_ELM, closing)

  it('says why', () => {
    expect(whyNot(AT_ELM, moved('elm', null), null)).toBe('case-there')
    expect(whyNot(AT_ELM, { act: 'reopen', text: 'Why' }, null)).toBe('case-open')
    expect(whyNot(closed, closing, '2026-10-02')).toBe('case-closed')
    expect(whyNot(AT_ELM, closing, '2026-10-21')).toBe('case-later-entry')
  })

  it('is none of these', () => {
    expect(whyNot(AT_ELM, closing, '2026-10-20')).toBeNull()
    expect(whyNot(closed, { act: 'reopen', text: 'Why' }, '2026-10-02')).toBeNull()
    expect(afterAct(closed, { act: 'reopen', text: 'Why' })).toEqual(AT_ELM)
    // A closed case may be found to be another facility's.
    expect(whyNot(closed, moved('oak', null), null)).toBeNull()
  })
})
