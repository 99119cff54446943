import { describe, expect, it } from 'vitest'
import { mediaTypeOf } from './media-type'

describe('what a file is', () => {
  it.each([
    ['RIFF....WEBPVP8 ', 'image/webp'],
    ['RIFF....WAVEfmt ', 'audio/wav'],
    ['OggS....', 'audio/ogg'],
    ['....ftypM4A ', 'audio/mp4'],
    ['<script>alert(1)</script>', null],
    ['', null],
    ['%PDF-1.7', null],
  ])('is told by its bytes: %s', (text, mediaType) =>
    expect(mediaTypeOf(Buffer.from(text, 'latin1'))).toBe(mediaType),
  )

  // The eight bytes with which each PNG begins: ISO/IEC 15948, 5.2.
  it('knows a PNG', () =>
    expect(mediaTypeOf(Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10))).toBe('image/png'))
})
