import { hexOf } from '../encode'
import { openBytes, sealBytes, type Sealed } from './seal'

/** What one guess costs with Argon2id: memory in KiB, and how often it is gone through. */
export interface ArgonCost {
  memory: number
  passes: number
}

/**
 * A data key wrapped by a key that is made from a secret: without the secret it opens nothing. With `argon`
 * the secret was stretched by Argon2id (RFC 9106); with `rounds` by PBKDF2 with HMAC-SHA-256 (RFC 8018), as
 * devices did before, and as is enough for a secret of 32 random bytes.
 */
export interface WrappedKey extends Sealed {
  salt: Uint8Array<ArrayBuffer>
  rounds?: number
  argon?: ArgonCost
}

/**
 * The least that OWASP names for Argon2id (from memory). Memory is what a stolen phone's storage is attacked
 * with: 19 MiB for each guess leave a graphics card few guesses at a time. A slow telephone needs under a
 * second.
 */
const PIN_COST: ArgonCost = { memory: 19 * 1024, passes: 2 }
const SALT_BYTES = 16
const KEY_BYTES = 32

/**
 * Six to eight digits. A million possible PINs, at a second each on the phone, and 19 MiB for each guess
 * elsewhere.
 */
export const isPin = (typed: string): boolean => /^\d{6,8}$/.test(typed)

/** All the same digit, or a run up or down: what somebody tries first. */
export function isEasyPin(pin: string): boolean {
  const steps = [...pin].slice(1).map((digit, at) => Number(digit) - Number(pin[at]))
  return steps.every(step => step === steps[0]) && Math.abs(steps[0] ?? 0) <= 1
}

/** Bits from a secret by PBKDF2 with HMAC-SHA-256. @param bits how many are wanted. */
export async function stretch(
  secret: string,
  salt: Uint8Array<ArrayBuffer>,
  rounds: number,
  bits = 256,
): Promise<Uint8Array<ArrayBuffer>> {
  const base = await crypto.subtle.importKey('raw', new TextEncoder().encode(secret), 'PBKDF2', false, [
    'deriveBits',
  ])
  return new Uint8Array(
    await crypto.subtle.deriveBits({ name: 'PBKDF2', hash: 'SHA-256', salt, iterations: rounds }, base, bits),
  )
}

/** 32 bytes from a PIN by Argon2id. */
export async function stretchPin(
  pin: string,
  salt: Uint8Array,
  { memory, passes }: ArgonCost = PIN_COST,
): Promise<Uint8Array<ArrayBuffer>> {
  const { argon2id } = await import('./argon2')
  const key = await argon2id({
    password: pin,
    salt,
    parallelism: 1,
    memorySize: memory,
    iterations: passes,
    hashLength: KEY_BYTES,
    outputType: 'binary',
  })
  return new Uint8Array(key)
}

const aesKey = (bytes: Uint8Array<ArrayBuffer>, extractable: boolean) =>
  crypto.subtle.importKey('raw', bytes, 'AES-GCM', extractable, ['encrypt', 'decrypt'])
const newSalt = () => crypto.getRandomValues(new Uint8Array(SALT_BYTES))

async function wrap(dataKey: CryptoKey, by: Uint8Array<ArrayBuffer>): Promise<Sealed> {
  return sealBytes(await aesKey(by, false), new Uint8Array(await crypto.subtle.exportKey('raw', dataKey)))
}

/** Wraps a data key by a PIN. */
export async function wrapByPin(dataKey: CryptoKey, pin: string): Promise<WrappedKey> {
  const salt = newSalt()
  return { ...(await wrap(dataKey, await stretchPin(pin, salt))), salt, argon: PIN_COST }
}

/** Wraps a data key by the recovery secret that the district keeps: 32 random bytes need no stretching. */
export async function wrapBySecret(dataKey: CryptoKey, secret: string): Promise<WrappedKey> {
  const salt = newSalt()
  return { ...(await wrap(dataKey, await stretch(secret, salt, 1))), salt, rounds: 1 }
}

/**
 * Was the key wrapped in a way that is cheaper to attack than today's? Wrap it anew as soon as the PIN is
 * typed.
 */
export const isWeaklyWrapped = ({ argon }: WrappedKey): boolean => argon === undefined

/** The data key, or null when the secret is not the one. */
export async function unwrapKey(wrapped: WrappedKey, secret: string): Promise<CryptoKey | null> {
  const by = wrapped.argon
    ? await stretchPin(secret, wrapped.salt, wrapped.argon)
    : await stretch(secret, wrapped.salt, wrapped.rounds!)
  // A wrong key and a changed bit look the same to AES-GCM: either way it does not open.
  const bytes = await openBytes(await aesKey(by, false), wrapped).catch(() => null)
  return bytes && aesKey(bytes, true)
}

const FREE_TRIES = 3
const FIRST_WAIT = 5_000
const LONGEST_WAIT = 60 * 60_000

/**
 * How long a device waits after so many wrong PINs in a row, in milliseconds: nothing for the first three,
 * then longer each time, an hour at the most.
 */
export const waitAfterWrongPins = (wrong: number): number =>
  wrong < FREE_TRIES ? 0 : Math.min(LONGEST_WAIT, FIRST_WAIT * 3 ** (wrong - FREE_TRIES))

/**
 * The administrator's PIN for locked settings, as a card carries it: what it stretches to, not the PIN. Cards
 * from before name the rounds of PBKDF2.
 */
export interface PinCheck {
  salt: string
  hash: string
  rounds?: number
  argon?: ArgonCost
}

const fromHex = (text: string) => Uint8Array.from(text.match(/../g) ?? [], pair => Number.parseInt(pair, 16))

export async function pinCheck(pin: string): Promise<PinCheck> {
  const salt = newSalt()
  return { salt: hexOf(salt), hash: hexOf(await stretchPin(pin, salt)), argon: PIN_COST }
}

export async function isThePin({ salt, hash, rounds, argon }: PinCheck, typed: string): Promise<boolean> {
  const found = argon
    ? await stretchPin(typed, fromHex(salt), argon)
    : await stretch(typed, fromHex(salt), rounds!)
  return hexOf(found) === hash
}
