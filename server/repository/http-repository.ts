import { Readable } from 'node:stream'
import Ajv from 'ajv'
import { NotDelivered } from './not-delivered'
import type { Answer, FileAnswer, RefusedLine, RefusedPlace, Repository } from './repository'

/** More refused places, longer texts or a longer answer than these are no answer. */
const MOST_REFUSED = 50_000
const LONGEST = 500
const MOST_BYTES = 20_000_000

const text = { type: 'string', maxLength: LONGEST }
/** Looks whether an answer is as agreed, with what it says of each thing that it refused. */
const agreed = <Refused>(required: (keyof Refused & string)[], properties: object) =>
  new Ajv().compile<{ receipt?: string; refused?: Refused[]; problem?: string }>({
    type: 'object',
    anyOf: [{ required: ['receipt'] }, { required: ['problem'] }],
    properties: {
      receipt: { ...text, minLength: 1 },
      problem: { ...text, minLength: 1 },
      refused: {
        type: 'array',
        maxItems: MOST_REFUSED,
        items: { type: 'object', required, properties },
      },
    },
  })
const saysOfReport = agreed<RefusedPlace>(['orgUnit', 'dataElement', 'axes', 'about', 'message'], {
  ...{ orgUnit: text, dataElement: text, message: text },
  axes: { type: 'object', additionalProperties: text, maxProperties: 10 },
  about: { enum: ['code', 'value'] },
})
const saysOfFile = agreed<RefusedLine>(['row', 'message'], { row: text, message: text })

/** The body of an answer, as far as it may be long. @throws NotDelivered when it is longer */
async function bodyOf(answer: Response): Promise<string> {
  const parts: Buffer[] = []
  let bytes = 0
  const reader = answer.body?.getReader()
  for (let part = await reader?.read(); part?.value; part = await reader?.read()) {
    bytes += part.value.length
    if (bytes > MOST_BYTES) {
      await reader?.cancel()
      throw new NotDelivered('too-long')
    }
    parts.push(Buffer.from(part.value))
  }
  return Buffer.concat(parts).toString('utf8')
}

/** @throws NotDelivered for anything but JSON */
function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    throw new NotDelivered('broke-off')
  }
}

/** @throws NotDelivered unless the answer looks as agreed */
async function answerOf<Refused>(
  answer: Response,
  isAgreed: ReturnType<typeof agreed<Refused>>,
  only: (refused: Refused) => Refused,
): Promise<Omit<Answer, 'refused'> & { refused: Refused[] }> {
  if (!answer.ok) {
    await answer.body?.cancel()
    throw new NotDelivered('status', answer.status)
  }
  const body = parsed(await bodyOf(answer))
  if (!isAgreed(body)) throw new NotDelivered('not-agreed')
  const { receipt = null, refused = [], problem = null } = body
  return { receipt, problem, refused: refused.map(only) }
}

const answerOfReport = (answer: Response): Promise<Answer> =>
  answerOf(answer, saysOfReport, ({ orgUnit, dataElement, axes, about, message }) => ({
    ...{ orgUnit, dataElement, axes, about, message },
  }))
const answerOfFile = (answer: Response): Promise<FileAnswer> =>
  answerOf(answer, saysOfFile, ({ row, message }) => ({ row, message }))

/**
 * A repository behind HTTP, as docs/operating.md describes it: `PUT {address}/deliveries/{reference}` gives it a
 * document, `GET` of the same asks what it said; files of extracts go to `{address}/extracts/{reference}`.
 *
 * @param key is sent as a bearer token
 */
export function httpRepository(address: string, key: string | null): Repository {
  const at = (path: string) => `${address.replace(/\/$/, '')}/${path}`
  const headers = { accept: 'application/json', ...(key && { authorization: `Bearer ${key}` }) }
  async function known(path: string, signal: AbortSignal): Promise<Response | null> {
    const answer = await fetch(at(path), { headers, signal, redirect: 'error' })
    if (answer.status !== 404) return answer
    await answer.body?.cancel()
    return null
  }
  return {
    async deliver({ reference, mediaType, body, isWhole }, signal) {
      const answer = await fetch(at(`deliveries/${reference}?whole=${isWhole}`), {
        ...{ method: 'PUT', body: new Uint8Array(body), signal, redirect: 'error' },
        headers: { ...headers, 'content-type': mediaType },
      })
      return answerOfReport(answer)
    },
    async lookUp(reference, signal) {
      const answer = await known(`deliveries/${reference}`, signal)
      return answer && answerOfReport(answer)
    },
    async deliverFile({ reference, name, mediaType, parts, isWhole }, signal) {
      const query = new URLSearchParams({ whole: String(isWhole), name })
      const answer = await fetch(at(`extracts/${reference}?${query.toString()}`), {
        // Sent while it is read: `duplex` says that the answer comes after the whole body.
        ...{ method: 'PUT', body: Readable.toWeb(Readable.from(parts())), duplex: 'half', signal },
        redirect: 'error',
        headers: { ...headers, 'content-type': mediaType },
      } as RequestInit)
      return answerOfFile(answer)
    },
    async lookUpFile(reference, signal) {
      const answer = await known(`extracts/${reference}`, signal)
      return answer && answerOfFile(answer)
    },
  }
}
