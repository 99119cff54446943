import { afterEach, beforeEach, expect, it, vi } from 'vitest'

beforeEach(() => {
  vi.useFakeTimers()
  vi.stubGlobal('window', { name: '' })
  vi.stubGlobal('localStorage', { getItem: () => null })
})
afterEach(() => {
  vi.useRealTimers()
  vi.unstubAllGlobals()
})

it('today is another day from its first minute on, in each time zone', async () => {
  const { todayIn } = await import('./useClock')
  const at = (now: string, zone: string) => {
    vi.setSystemTime(now)
    return todayIn(zone)
  }
  // 2026-11-05 is day 20,762 since 1970-01-01.
  expect(at('2026-11-05T23:59:59.999Z', 'UTC')).toBe(20_762)
  expect(at('2026-11-06T00:00:00Z', 'UTC')).toBe(20_763)
  expect(at('2026-11-05T18:14:59Z', 'Asia/Kathmandu')).toBe(20_762)
  expect(at('2026-11-05T18:15:00Z', 'Asia/Kathmandu')).toBe(20_763)
  expect(at('2026-11-05T18:15:00Z', 'UTC')).toBe(20_762)
})
