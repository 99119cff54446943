import { describe, expect, it } from 'vitest'
import { waitAfter } from './password-wait'

describe('the wait after wrong passwords', () => {
  it('grows from the fourth on, doubling, up to a quarter of an hour', () => {
    expect([1, 2, 3, 4, 5, 6, 7].map(waitAfter)).toEqual([0, 0, 0, 1000, 2000, 4000, 8000])
    expect(waitAfter(40)).toBe(900_000)
  })
})
