import { promisify } from 'node:util'
import { gunzip } from 'node:zlib'
import { mostBytesOf, ROUTES, type RouteContract, type RouteName } from '#core/contract/routes'
import { normalizeJson } from '#core/contract/wire'
import { Refusal, refusedBy, tooLarge } from '../refusal'
import { validate } from './validate'

const unzip = promisify(gunzip)

/** A body as it arrived. */
export interface RawBody {
  route: RouteName
  bytes: Uint8Array
  gzip: boolean
}

/** @param most bytes that may come out: nobody fills the memory with a few bytes. */
export async function unzipped(bytes: Uint8Array, most: number): Promise<Buffer> {
  try {
    return await unzip(bytes, { maxOutputLength: most })
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') throw tooLarge(most)
    throw new Refusal(400, 'body-not-gzip', `The body is not what gzip makes: ${String(error)}`)
  }
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(Buffer.from(bytes).toString('utf8'))
  } catch {
    throw new Refusal(400, 'body-not-json', 'The body is not JSON.')
  }
}

/**
 * Reads the body of a request by its route's contract: its size counts after unpacking; its texts come in the
 * composed form; its shape is checked. The texts of what a device sends are looked at change by change
 * instead.
 *
 * @throws Refusal 413 `body-too-large`, 400 `body-not-gzip`, `body-not-json`, `text-unstorable`, `too-deep`,
 *   `schema`
 */
export async function readBody({ route, bytes, gzip }: RawBody): Promise<unknown> {
  const contract: RouteContract = ROUTES[route]
  const value = parsed(gzip ? await unzipped(bytes, mostBytesOf(contract)) : bytes)
  // The shape first: its lists are bounded, so that nothing endless is looked through.
  const body = validate(contract.body!, value, 'body')
  if (contract.readsTexts) return body
  const normal = normalizeJson(body, '', 'body')
  if (!normal.ok) throw refusedBy(400, normal.problems)
  return normal.value
}
