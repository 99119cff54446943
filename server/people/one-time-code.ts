import { createHash, randomInt, timingSafeEqual } from 'node:crypto'

/** Letters and digits that are not mistaken for one another, on paper or by telephone. */
const LETTERS = 'ABCDEFGHJKMNPQRSTUVWXYZ23456789'

/** Twelve letters in three groups, about 59 bits: too many to try, short enough to say. */
export function newCode(): string {
  const letters = Array.from({ length: 12 }, () => LETTERS[randomInt(LETTERS.length)]!)
  return [letters.slice(0, 4), letters.slice(4, 8), letters.slice(8)].map(part => part.join('')).join('-')
}

/** A code as somebody typed it, in the one form that is compared: case, spaces and dashes do not count. */
export const tidyCode = (typed: string): string => typed.toUpperCase().replace(/[^A-Z0-9]/g, '')

/** Of a random code of this length a plain hash is enough: there is no list of likely ones to try. */
export const hashCode = (code: string): string => createHash('sha256').update(tidyCode(code)).digest('hex')

export const sameCode = (typed: string, hash: string): boolean =>
  timingSafeEqual(Buffer.from(hashCode(typed), 'hex'), Buffer.from(hash, 'hex'))
