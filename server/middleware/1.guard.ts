import { defineEventHandler, getRequestHeader } from 'h3'
import { ROUTES } from '#core/contract/routes'
import { answerProblem } from '../http/answer-problem'
import { Refusal } from '../http/refusal'

/** The largest body that any route takes, in bytes. */
const LARGEST_BODY = 1_000_000

const READING = new Set(['GET', 'HEAD', 'OPTIONS'])

/** The paths that there are: anything else under /api would be answered with the pages' shell. */
const PATHS = Object.keys(ROUTES).map(name => new RegExp(`^${name.slice(name.indexOf(' ') + 1).replaceAll('.', '\\.').replace(/:\w+/g, '[^/]+')}$`))

/**
 * Before any route: its address must be one of ours; a write must come from our own pages (its Origin is this host), say how long it is, and not be
 * larger than a report could be.
 */
export default defineEventHandler((event) => {
  if (!event.path.startsWith('/api/')) return
  const path = event.path.split('?')[0]!
  // This also closes the session module's own route: sign-in is ours.
  if (!PATHS.some(known => known.test(path))) return answerProblem(event, new Refusal(404, 'not-found', 'There is nothing at this address.'))
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
