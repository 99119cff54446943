import { defineEventHandler, getRequestHeader } from 'h3'
import { mostBytesOf, ROUTES, type RouteContract } from '#core/contract/routes'
import { bearerOf, isToken } from '../access/token'
import { answerProblem } from '../http/answer-problem'
import { Refusal, tooLarge } from '../refusal'
import { isStopping } from '../http/stopping'

const READING = new Set(['GET', 'HEAD', 'OPTIONS'])

const patternOf = (path: string) => new RegExp(`^${path.replaceAll('.', '\\.').replace(/:\w+/g, '[^/]+')}$`)

/** The addresses that there are: anything else under /api would be answered with the pages' shell. */
const ADDRESSES = Object.entries(ROUTES).map(([name, contract]: [string, RouteContract]) => {
  const [method, path] = name.split(' ') as [string, string]
  return { method, pattern: patternOf(path), mostBytes: mostBytesOf(contract) }
})

/**
 * Before any route: its address must be one of ours; a write must come from our own pages (its Origin is this
 * host), say how long it is, and not be larger than a report could be.
 */
export default defineEventHandler(event => {
  if (!event.path.startsWith('/api/')) return
  if (isStopping())
    return answerProblem(
      event,
      new Refusal(503, 'stopping', 'The server is being stopped. Try again in a minute.', [], {
        connection: 'close',
        'retry-after': '30',
      }),
    )
  const path = event.path.split('?')[0]!
  // This also closes the session module's own route: sign-in is ours.
  const known = ADDRESSES.filter(({ pattern }) => pattern.test(path))
  if (!known.length)
    return answerProblem(event, new Refusal(404, 'not-found', 'There is nothing at this address.'))
  const method = event.method === 'HEAD' ? 'GET' : event.method
  if (!known.some(one => one.method === method)) {
    // Anything that no route answers would be answered by the shell of the pages.
    const allowed = [...new Set(known.map(one => one.method))].join(', ')
    return answerProblem(
      event,
      new Refusal(405, 'method', `This address answers ${allowed}.`, [], { allow: allowed }),
    )
  }
  if (READING.has(event.method)) return
  const origin = getRequestHeader(event, 'origin')
  const host = getRequestHeader(event, 'host')
  // A page of somebody else can send a cookie along, but not the token of a program.
  const isProgram = isToken(bearerOf(event) ?? '')
  if (!isProgram && (!origin || !URL.canParse(origin) || new URL(origin).host !== host)) {
    return answerProblem(
      event,
      new Refusal(403, 'origin', 'A change must come from a page of this installation.'),
    )
  }
  if (getRequestHeader(event, 'transfer-encoding')) {
    return answerProblem(
      event,
      new Refusal(411, 'length-required', 'The request must say how long its body is.'),
    )
  }
  const most = known.find(one => one.method === method)!.mostBytes
  if (Number(getRequestHeader(event, 'content-length') ?? 0) > most) {
    return answerProblem(event, tooLarge(most))
  }
})
