/**
 * What lies on a device, made unreadable: AES-GCM with 256 bits (NIST SP 800-38D), a new nonce of 96 bits for
 * each.
 */
export interface Sealed {
  nonce: Uint8Array<ArrayBuffer>
  data: Uint8Array<ArrayBuffer>
}

const NONCE_BYTES = 12
const ALGORITHM = 'AES-GCM'

/** A new key. It can leave the browser's keeping only wrapped by another: see pin-key.ts. */
export const newDataKey = (): Promise<CryptoKey> =>
  crypto.subtle.generateKey({ name: ALGORITHM, length: 256 }, true, ['encrypt', 'decrypt'])

export async function sealBytes(key: CryptoKey, bytes: Uint8Array<ArrayBuffer>): Promise<Sealed> {
  const nonce = crypto.getRandomValues(new Uint8Array(NONCE_BYTES))
  return {
    nonce,
    data: new Uint8Array(await crypto.subtle.encrypt({ name: ALGORITHM, iv: nonce }, key, bytes)),
  }
}

/** @throws OperationError when the key is another one, or a bit was changed. */
export const openBytes = async (key: CryptoKey, { nonce, data }: Sealed): Promise<Uint8Array<ArrayBuffer>> =>
  new Uint8Array(await crypto.subtle.decrypt({ name: ALGORITHM, iv: nonce }, key, data))

/** The same for anything that JSON can say. */
export const seal = (key: CryptoKey, value: unknown): Promise<Sealed> =>
  sealBytes(key, new TextEncoder().encode(JSON.stringify(value)))

export const open = async <T>(key: CryptoKey, sealed: Sealed): Promise<T> =>
  JSON.parse(new TextDecoder().decode(await openBytes(key, sealed))) as T
