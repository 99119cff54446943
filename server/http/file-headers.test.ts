import { describe, expect, it } from 'vitest'
import { savedAs } from './file-headers'

describe('the name of an answer that is saved', () => {
  it.each([
    // The example of RFC 8187, section 3.2.3.
    ['£ and € rates', '%C2%A3%20and%20%E2%82%AC%20rates'],
    ["It's (new)*.csv", 'It%27s%20%28new%29%2A.csv'],
    ['north/2026-10.xlsx', 'north-2026-10.xlsx'],
    ['a"b\r\nset-cookie: x', 'a%22b%0D%0Aset-cookie%3A%20x'],
  ])('%s is written as the standard says', (name, written) => {
    expect(savedAs(name)).toBe(`attachment; filename*=UTF-8''${written}`)
  })
})
