import {
  decodeProtectedHeader,
  CompactEncrypt,
  CompactSign,
  compactDecrypt,
  compactVerify,
  exportJWK,
  generateKeyPair,
  importJWK,
  type JWK,
} from 'jose'
import { bad, good, type Result } from '../result'

/**
 * What waits, as one file to carry on a card or by another telephone: signed by who made it, then encrypted
 * to who may read it. Open standards throughout: gzip (RFC 1952), JWS with ES256 (RFC 7515), JWE with ECDH-ES
 * and A256GCM (RFC 7516).
 */
export type PublicKey = JWK

/** A pair of pairs: one to sign with, one to be written to. */
export interface CarryKeys<Own = CryptoKey> {
  sign: Own
  agree: Own
}
export type PublicKeys = CarryKeys<PublicKey>

const SIGNING = 'ES256'
const AGREEING = 'ECDH-ES'

/**
 * New keys. @param extractable whether the secret halves can be written down: the district's are, a device's
 * never are.
 */
export async function newCarryKeys(extractable: boolean): Promise<{ own: CarryKeys; public: PublicKeys }> {
  const sign = await generateKeyPair(SIGNING, { extractable })
  const agree = await generateKeyPair(AGREEING, { extractable, crv: 'P-256' })
  return {
    own: { sign: sign.privateKey, agree: agree.privateKey },
    public: { sign: await exportJWK(sign.publicKey), agree: await exportJWK(agree.publicKey) },
  }
}

/** The secret halves as text that can be kept, and back. */
export const writeKeys = async ({ sign, agree }: CarryKeys): Promise<CarryKeys<JWK>> => ({
  sign: await exportJWK(sign),
  agree: await exportJWK(agree),
})
export const readKeys = async ({ sign, agree }: CarryKeys<JWK>): Promise<CarryKeys> => ({
  sign: (await importJWK(sign, SIGNING)) as CryptoKey,
  agree: (await importJWK(agree, AGREEING)) as CryptoKey,
})

/**
 * The most that a file may hold once it is unpacked, in bytes: a small file can be packed so that it fills a
 * memory.
 */
export const LARGEST_CONTENT = 64_000_000

/** Anything that JSON can say, compressed. */
export async function pack(value: unknown): Promise<Uint8Array<ArrayBuffer>> {
  const packed = new Blob([JSON.stringify(value)]).stream().pipeThrough(new CompressionStream('gzip'))
  return new Uint8Array(await new Response(packed).arrayBuffer())
}

/**
 * What {@link pack} packed. Stops as soon as more comes out than it may.
 *
 * Errors: `carry-too-large`, `carry-changed` (no gzip, or no JSON).
 */
export async function unpack(
  bytes: Uint8Array<ArrayBuffer>,
  largest = LARGEST_CONTENT,
): Promise<Result<unknown>> {
  const reader = new Blob([bytes]).stream().pipeThrough(new DecompressionStream('gzip')).getReader()
  const decoder = new TextDecoder()
  let text = ''
  let size = 0
  try {
    for (let part = await reader.read(); !part.done; part = await reader.read()) {
      size += part.value.length
      if (size > largest) {
        await reader.cancel()
        return bad({
          code: 'carry-too-large',
          message: 'This file holds more than a device could have written.',
        })
      }
      text += decoder.decode(part.value, { stream: true })
    }
    return good(JSON.parse(text + decoder.decode()))
  } catch {
    return bad({
      code: 'carry-changed',
      message: 'The contents of this file cannot be read: it was changed or cut off on its way.',
    })
  }
}

/**
 * Writes a file.
 * @param from who writes, by an identifier that the reader knows.
 */
export async function writeCarryFile(
  content: unknown,
  from: { id: string; key: CryptoKey },
  to: PublicKey,
): Promise<string> {
  const signed = await new CompactSign(await pack(content))
    .setProtectedHeader({ alg: SIGNING, kid: from.id })
    .sign(from.key)
  return new CompactEncrypt(new TextEncoder().encode(signed))
    .setProtectedHeader({ alg: AGREEING, enc: 'A256GCM', cty: 'JWT', kid: from.id })
    .encrypt(await importJWK(to, AGREEING))
}

/** Long enough for any header that a device writes. */
const LONGEST_HEADER = 2_000

/**
 * Who wrote a file, by what its header says; null when it says nothing. To be believed only after the
 * signature was.
 */
export function writerOf(text: string): string | null {
  try {
    const header = text.trimStart().slice(0, LONGEST_HEADER).split('.')[0]!
    // Of the five parts of a file only the header is looked at.
    const { kid } = decodeProtectedHeader(`${header}....`)
    return typeof kid === 'string' ? kid : null
  } catch {
    // No header.
    return null
  }
}

/**
 * Reads a file that was written to us. Nothing of it is believed before its signature is. Problems:
 * `carry-changed` (cut off, changed, or written to somebody else), `carry-unknown` (from a device that is not
 * known), `carry-signature`.
 * @param keyOf the public signing key of who wrote it, or null.
 */
export async function readCarryFile(
  text: string,
  own: CryptoKey,
  keyOf: (id: string) => Promise<PublicKey | null>,
): Promise<Result<{ from: string; content: unknown }>> {
  const no = (code: string, message: string) => bad({ code, message })
  if (text.trim().split('.').length !== 5)
    return no('carry-changed', 'This is no file of a device, or only a part of one.')
  const opened = await compactDecrypt(text.trim(), own, {
    keyManagementAlgorithms: [AGREEING],
    contentEncryptionAlgorithms: ['A256GCM'],
  }).catch(() => null)
  if (!opened)
    return no(
      'carry-changed',
      'This file was changed or cut off on its way, or was written to another installation.',
    )
  const from = opened.protectedHeader.kid
  const key = from ? await keyOf(from) : null
  if (!from || !key) return no('carry-unknown', 'The device that wrote this file is not known here.')
  const verified = await importJWK(key, SIGNING)
    .then(own => compactVerify(opened.plaintext, own, { algorithms: [SIGNING] }))
    .catch(() => null)
  if (!verified || verified.protectedHeader.kid !== from)
    return no('carry-signature', 'The signature of this file is not that of the device that it names.')
  const content = await unpack(new Uint8Array(verified.payload))
  return content.ok ? good({ from, content: content.value }) : content
}
