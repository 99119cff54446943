/**
 * Letters that a text message holds in seven bits, and those that take two places (3GPP TS 23.038, tables 6.2.1
 * and 6.2.1.1; written from memory, the test counts them).
 */
const SEVEN_BITS =
  '@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !"#¤%&\'()*+,-./0123456789:;<=>?' +
  '¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà'
const TWO_PLACES = '\f^{}\\[~]|€'

const single = new Set(SEVEN_BITS)
const double = new Set(TWO_PLACES)

/** How long a text message is. */
export interface MessageLength {
  /** In how many parts it is sent, and paid. */
  parts: number
  /** The letters because of which a part holds 70 places and not 160, each once. */
  costly: string[]
}

/** The places of a part: alone, and as one of several, where a heading takes some (3GPP TS 23.040, 9.2.3.24). */
const SEVEN_BIT_PLACES = { alone: 160, ofSeveral: 153 }
const WIDE_PLACES = { alone: 70, ofSeveral: 67 }

/** In how many parts of some size letters fit: none is cut in two. */
function partsOf(sizes: readonly number[], { alone, ofSeveral }: typeof WIDE_PLACES): number {
  if (sizes.reduce((sum, size) => sum + size, 0) <= alone) return 1
  let parts = 1
  let used = 0
  for (const size of sizes) {
    if (used + size > ofSeveral) {
      parts++
      used = 0
    }
    used += size
  }
  return parts
}

/**
 * In how many parts a network sends a text message.
 *
 * @example messageParts('Please send October.') // { parts: 1, costly: [] }
 * @example messageParts('Veuillez vérifier le rapport reçu.') // { parts: 1, costly: ['ç'] }
 */
export function messageParts(text: string): MessageLength {
  const letters = [...text]
  const costly = [...new Set(letters.filter(letter => !single.has(letter) && !double.has(letter)))]
  const sizes = letters.map(letter => (costly.length ? letter.length : double.has(letter) ? 2 : 1))
  return { parts: partsOf(sizes, costly.length ? WIDE_PLACES : SEVEN_BIT_PLACES), costly }
}
