import { expect, test } from 'vitest'
import { daysThatMayLieBetween } from './counting-day'

test('a day that is known in part may lie in any period of its years', () => {
  const days = daysThatMayLieBetween('2025-12-31', '2026-01-02')
  expect(days.filter(day => day.length === 10)).toEqual(['2025-12-31', '2026-01-01', '2026-01-02'])
  expect(days.filter(day => day.length === 4)).toEqual(['2025', '2026'])
  expect(days.filter(day => day.length === 7)).toEqual(expect.arrayContaining(['2025-01', '2026-12']))
  expect(days.length).toBe(3 + 2 + 24)
})
