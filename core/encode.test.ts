import { describe, expect, it } from 'vitest'
import { base64Of, hexOf } from './encode'

describe('bytes as text', () => {
  // RFC 4648, section 10: the test vectors of base64.
  it.each([
    ['', ''],
    ['f', 'Zg=='],
    ['fo', 'Zm8='],
    ['foo', 'Zm9v'],
    ['foob', 'Zm9vYg=='],
    ['foobar', 'Zm9vYmFy'],
  ])('%s in base64 is %s', (text, said) => expect(base64Of(new TextEncoder().encode(text))).toBe(said))

  it('in hexadecimal keeps the leading zeros', () =>
    expect(hexOf(Uint8Array.of(0, 9, 16, 255))).toBe('000910ff'))
})
