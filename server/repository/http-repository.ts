import Ajv from 'ajv'
import { NotDelivered } from './not-delivered'
import type { Answer, Repository } from './repository'

/** More refused places, longer texts or a longer answer than these are no answer. */
const MOST_REFUSED = 50_000
const LONGEST = 500
const MOST_BYTES = 20_000_000

const text = { type: 'string', maxLength: LONGEST }
const isAnswer = new Ajv().compile<{
  receipt?: string
  refused?: Answer['refused']
  problem?: string
}>({
  type: 'object',
  anyOf: [{ required: ['receipt'] }, { required: ['problem'] }],
  properties: {
    receipt: { ...text, minLength: 1 },
    problem: { ...text, minLength: 1 },
    refused: {
      type: 'array',
      maxItems: MOST_REFUSED,
      items: {
        type: 'object',
        required: ['orgUnit', 'dataElement', 'axes', 'about', 'message'],
        properties: {
          ...{ orgUnit: text, dataElement: text, message: text },
          axes: { type: 'object', additionalProperties: text, maxProperties: 10 },
          about: { enum: ['code', 'value'] },
        },
      },
    },
  },
})

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
async function answerOf(answer: Response): Promise<Answer> {
  if (!answer.ok) {
    await answer.body?.cancel()
    throw new NotDelivered('status', answer.status)
  }
  const body = parsed(await bodyOf(answer))
  if (!isAnswer(body)) throw new NotDelivered('not-agreed')
  const { receipt = null, refused = [], problem = null } = body
  return {
    receipt,
    problem,
    refused: refused.map(({ orgUnit, dataElement, axes, about, message }) => ({
      ...{ orgUnit, dataElement, axes, about, message },
    })),
  }
}

/**
 * A repository behind HTTP, as docs/operating.md describes it: `PUT {address}/deliveries/{reference}` gives it a
 * document, `GET` of the same asks what it said.
 *
 * @param key is sent as a bearer token
 */
export function httpRepository(address: string, key: string | null): Repository {
  const place = (reference: string) => `${address.replace(/\/$/, '')}/deliveries/${reference}`
  const headers = { accept: 'application/json', ...(key && { authorization: `Bearer ${key}` }) }
  return {
    async deliver({ reference, mediaType, body, isWhole }, signal) {
      const answer = await fetch(`${place(reference)}?whole=${isWhole}`, {
        ...{ method: 'PUT', body: new Uint8Array(body), signal, redirect: 'error' },
        headers: { ...headers, 'content-type': mediaType },
      })
      return answerOf(answer)
    },
    async lookUp(reference, signal) {
      const answer = await fetch(place(reference), { headers, signal, redirect: 'error' })
      if (answer.status === 404) {
        await answer.body?.cancel()
        return null
      }
      return answerOf(answer)
    },
  }
}
