import { describe, expect, it } from 'vitest'
import { districtState } from './district-state'

describe('how a district report stands', () => {
  it.each([
    [0, 0, 0, 'gathering'],
    [0, 3, 0, 'gathering'],
    [4, 1, 0, 'gathering'],
    [1, 0, 0, 'ready'],
    // A signature stands, whatever came after it.
    [4, 0, 1, 'signed'],
    [4, 2, 1, 'signed'],
    [0, 0, 1, 'signed'],
    [4, 0, 2, 'amended'],
  ] as const)('%i received, %i blocking, %i signatures: %s', (received, blocking, signatures, state) => {
    expect(districtState({ received, blocking, signatures })).toBe(state)
  })
})
