import { hexOf } from '../encode'
import { openBytes, sealBytes, type Sealed } from './seal'

/** A data key wrapped by a key that is made from a PIN (PBKDF2 with HMAC-SHA-256, RFC 8018): without the PIN it opens nothing. */
export interface WrappedKey extends Sealed {
  salt: Uint8Array<ArrayBuffer>
  rounds: number
}

/** Makes one try on a slow telephone take about a second; the number that OWASP names for HMAC-SHA-256 (from memory). */
const ROUNDS = 600_000
const SALT_BYTES = 16

/** Four to eight digits: few enough to type with a thumb. What makes guessing slow is the work for each try and the wait after it. */
export const isPin = (typed: string): boolean => /^\d{4,8}$/.test(typed)

/** All the same digit, or a run up or down: what somebody tries first. */
export function isEasyPin(pin: string): boolean {
  const steps = [...pin].slice(1).map((digit, at) => Number(digit) - Number(pin[at]))
  return steps.every(step => step === steps[0]) && Math.abs(steps[0] ?? 0) <= 1
}

/** Bits from a secret. @param bits how many are wanted. */
export async function stretch(secret: string, salt: Uint8Array<ArrayBuffer>, rounds: number, bits = 256): Promise<Uint8Array<ArrayBuffer>> {
  const base = await crypto.subtle.importKey('raw', new TextEncoder().encode(secret), 'PBKDF2', false, ['deriveBits'])
  return new Uint8Array(await crypto.subtle.deriveBits({ name: 'PBKDF2', hash: 'SHA-256', salt, iterations: rounds }, base, bits))
}

const aesKey = (bytes: Uint8Array<ArrayBuffer>, extractable: boolean) => crypto.subtle.importKey('raw', bytes, 'AES-GCM', extractable, ['encrypt', 'decrypt'])

/** Wraps a data key by a secret: a PIN, or the recovery secret that the district keeps. */
export async function wrapKey(dataKey: CryptoKey, secret: string, rounds = ROUNDS): Promise<WrappedKey> {
  const salt = crypto.getRandomValues(new Uint8Array(SALT_BYTES))
  const own = await aesKey(await stretch(secret, salt, rounds), false)
  return { ...await sealBytes(own, new Uint8Array(await crypto.subtle.exportKey('raw', dataKey))), salt, rounds }
}

/** The data key, or null when the secret is not the one. */
export async function unwrapKey(wrapped: WrappedKey, secret: string): Promise<CryptoKey | null> {
  const own = await aesKey(await stretch(secret, wrapped.salt, wrapped.rounds), false)
  // A wrong key and a changed bit look the same to AES-GCM: either way it does not open.
  const bytes = await openBytes(own, wrapped).catch(() => null)
  return bytes && aesKey(bytes, true)
}

const FREE_TRIES = 3
const FIRST_WAIT = 5_000
const LONGEST_WAIT = 60 * 60_000

/** How long a device waits after so many wrong PINs in a row, in milliseconds: nothing for the first three, then longer each time, an hour at the most. */
export const waitAfterWrongPins = (wrong: number): number => (wrong < FREE_TRIES ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 3 ** (wrong - FREE_TRIES)))

/** The administrator's PIN for locked settings, as a card carries it: what it stretches to, not the PIN. */
export interface PinCheck { salt: string; rounds: number; hash: string }

const fromHex = (text: string) => Uint8Array.from(text.match(/../g) ?? [], pair => Number.parseInt(pair, 16))

export async function pinCheck(pin: string, rounds = ROUNDS): Promise<PinCheck> {
  const salt = crypto.getRandomValues(new Uint8Array(SALT_BYTES))
  return { salt: hexOf(salt), rounds, hash: hexOf(await stretch(pin, salt, rounds)) }
}
export const isThePin = async (check: PinCheck, typed: string): Promise<boolean> => hexOf(await stretch(typed, fromHex(check.salt), check.rounds)) === check.hash
