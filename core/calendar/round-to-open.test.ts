import { describe, expect, it } from 'vitest'
import { parseDay } from './day'
import { must } from '../result'
import { roundToOpen } from './round-to-open'

const day = (text: string) => must(parseDay(text))
const rounds = ['2026-W47', '2026-W46', '2026-W45', '2026-10'].map(period => ({ period }))

describe('the round that a page opens at', () => {
  it('is the newest whose period is over: on a Monday the week before', () => {
    expect(roundToOpen(rounds, day('2026-11-09'))?.period).toBe('2026-W45')
    expect(roundToOpen(rounds, day('2026-11-15'))?.period).toBe('2026-W45')
    expect(roundToOpen(rounds, day('2026-11-16'))?.period).toBe('2026-W46')
  })
  it('is the newest of all while none is over, and none where there is none', () => {
    expect(roundToOpen(rounds.slice(0, 2), day('2026-11-09'))?.period).toBe('2026-W47')
    expect(roundToOpen([], day('2026-11-09'))).toBeUndefined()
  })
})
