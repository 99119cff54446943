import Ajv from 'ajv'
import { OutsideFault } from '../outside'
import type { MessageGateway, MessageStatus } from './gateway'

const ajv = new Ajv()
const isTaken = ajv.compile<{ refused?: string }>({
  type: 'object',
  properties: { refused: { type: 'string', maxLength: 200 } },
})
const isStatus = ajv.compile<{ status: MessageStatus }>({
  type: 'object',
  required: ['status'],
  properties: { status: { enum: ['unknown', 'taken', 'delivered', 'notDelivered'] } },
})

/** @throws OutsideFault unless the answer is good and looks as agreed */
async function answerOf<T>(answer: Response, looksRight: (body: unknown) => body is T): Promise<T> {
  if (!answer.ok) throw new OutsideFault(`The gateway answered ${answer.status}.`)
  const body: unknown = await answer.json()
  if (!looksRight(body)) throw new OutsideFault('The gateway answered something else than was agreed.')
  return body
}

/**
 * A gateway behind HTTP, as docs/operating.md describes it: `PUT {address}/messages/{reference}` gives it a
 * message, `GET` of the same asks what became of it.
 *
 * @param key is sent as a bearer token
 */
export function httpGateway(address: string, key?: string): MessageGateway {
  const place = (reference: string) => `${address.replace(/\/$/, '')}/messages/${reference}`
  const headers = { 'content-type': 'application/json', ...(key && { authorization: `Bearer ${key}` }) }
  return {
    async send({ reference, phone, text }, signal) {
      const body = JSON.stringify({ phone, text })
      const answer = await fetch(place(reference), {
        method: 'PUT',
        headers,
        body,
        signal,
        redirect: 'error',
      })
      return (await answerOf(answer, isTaken)).refused ?? null
    },
    async lookUp(reference, signal) {
      const answer = await fetch(place(reference), { headers, signal, redirect: 'error' })
      return (await answerOf(answer, isStatus)).status
    },
  }
}
