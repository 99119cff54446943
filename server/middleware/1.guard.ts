import { defineEventHandler, getRequestHeader } from 'h3'
import { answerProblem } from '../http/answer-problem'
import { Refusal } from '../http/refusal'

/** The largest body that any route takes, in bytes. */
const LARGEST_BODY = 1_000_000

const READING = new Set(['GET', 'HEAD', 'OPTIONS'])

/**
 * Before any route: a write must come from our own pages (its Origin is this host), say how long it is, and not be
 * larger than a report could be. The session module's own route stays closed: sign-in is ours.
 */
export default defineEventHandler((event) => {
  if (!event.path.startsWith('/api/')) return
  if (event.path.startsWith('/api/_')) return answerProblem(event, new Refusal(404, 'not-found', 'There is nothing at this address.'))
  if (READING.has(event.method)) return
  const origin = getRequestHeader(event, 'origin')
  const host = getRequestHeader(event, 'host')
  if (!origin || !URL.canParse(origin) || new URL(origin).host !== host) {
    return answerProblem(event, new Refusal(403, 'origin', 'A change must come from a page of this installation.'))
  }
  if (getRequestHeader(event, 'transfer-encoding')) {
    return answerProblem(event, new Refusal(411, 'length-required', 'The request must say how long its body is.'))
  }
  if (Number(getRequestHeader(event, 'content-length') ?? 0) > LARGEST_BODY) {
    return answerProblem(event, new Refusal(413, 'body-too-large', 'The request is larger than 1 MB.'))
  }
})
