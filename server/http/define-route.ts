import { promisify } from 'node:util'
import { gzip } from 'node:zlib'
import type { Static, TSchema } from '@sinclair/typebox'
import {
  defineEventHandler,
  getQuery,
  getRequestHeader,
  getRouterParams,
  readRawBody,
  send,
  setResponseHeader,
  setResponseHeaders,
  type EventHandlerRequest,
  type H3Event,
} from 'h3'
import { may } from '#core/contract/permission'
import { normalizeJson } from '#core/contract/wire'
import { ROUTES, type RouteContract, type RouteName } from '#core/contract/routes'
import { accessOf, notShared, seesRound, type Access } from '../access/access'
import { DatabaseAway } from '../database'
import { asRequest } from '../give-way'
import { logError } from '../log'
import { noteRequest } from '../measures/registry'
import { answerProblem } from './answer-problem'
import { runHeavy } from '../threads/run-heavy'
import { readBody, unzipped, type RawBody } from './read-body'
import { Refusal, refusedBy } from '../refusal'
import { validate } from './validate'

type Contract<N extends RouteName> = (typeof ROUTES)[N]
type Part<C, K extends string> =
  C extends Record<K, infer S extends TSchema> ? Static<S> : Record<string, never>
type Answer<C> = C extends { answer: infer S } ? (S extends TSchema ? Static<S> : string) : never

/** The checked request and the person who made it. */
export interface RouteCall<N extends RouteName> {
  params: Part<Contract<N>, 'params'>
  query: Part<Contract<N>, 'query'>
  body: Part<Contract<N>, 'body'>
  /**
   * The person who made the request. Reading this throws when nobody is signed in (possible on an `open`
   * route only).
   */
  access: Access
  event: H3Event<EventHandlerRequest>
}

const zip = promisify(gzip)
/** Shorter answers are not worth the work. */
const WORTH_ZIPPING = 1_400

/** Gives an answer as JSON, compressed for who takes it so: a bad line is slow. */
async function sendJson(event: H3Event, answer: unknown) {
  const text = JSON.stringify(answer)
  if (text.length < WORTH_ZIPPING || !/\bgzip\b/.test(getRequestHeader(event, 'accept-encoding') ?? ''))
    return send(event, text, 'application/json')
  setResponseHeaders(event, { 'content-encoding': 'gzip', vary: 'accept-encoding' })
  return send(event, await zip(text), 'application/json')
}

/** Of a PostgreSQL server that does not answer. It may answer again in a moment. */
function databaseAway({ cause, isUnknown }: DatabaseAway): Refusal {
  logError('The database does not answer', cause)
  return new Refusal(
    503,
    isUnknown ? 'database-lost' : 'database-away',
    isUnknown
      ? 'The connection to the database was lost at the last moment. Look whether it was saved before you try again.'
      : 'The database does not answer. Nothing was changed; try again in a minute.',
    [],
    { 'retry-after': '10' },
  )
}

/** Parameters with texts that the database can compare. @throws Refusal 400 `text-unstorable` */
function storable(values: object, place: 'params' | 'query'): unknown {
  const normal = normalizeJson(values, place)
  if (!normal.ok) throw refusedBy(400, normal.problems)
  return normal.value
}

/** A larger body is read in a thread: reading it could hold the event loop. */
const LARGE_BODY = 200_000

async function bodyOf(event: H3Event, route: RouteName): Promise<unknown> {
  const type = getRequestHeader(event, 'content-type') ?? ''
  if (!type.startsWith('application/json'))
    throw new Refusal(415, 'not-json', 'The body must be application/json.')
  const bytes = await readRawBody(event, false)
  if (!bytes?.length) throw new Refusal(400, 'body-empty', 'The body is empty.')
  const raw: RawBody = { route, bytes, gzip: getRequestHeader(event, 'content-encoding') === 'gzip' }
  // A few bytes of gzip may become many: a small body is one that stays small when it is unpacked.
  const small = raw.gzip
    ? await unzipped(bytes, LARGE_BODY).catch(() => null)
    : bytes.length <= LARGE_BODY
      ? bytes
      : null
  return small ? readBody({ route, bytes: small, gzip: false }) : runHeavy('readBody', readBody, raw)
}

/**
 * Makes the handler of one route from its contract: checks the session and the permission, then parameters,
 * query and body, then calls the use-case. Every refusal leaves as `application/problem+json`.
 */
export function defineRoute<N extends RouteName>(
  name: N,
  handle: (call: RouteCall<N>) => Promise<Answer<Contract<N>>>,
) {
  const contract: RouteContract = ROUTES[name]
  return defineEventHandler(async event => {
    const began = performance.now()
    event.node.res.once('close', () =>
      noteRequest(name, event.node.res.statusCode, (performance.now() - began) / 1000),
    )
    try {
      setResponseHeader(event, 'cache-control', 'no-store')
      const access = contract.permission === 'open' ? null : await asRequest(() => accessOf(event))
      if (contract.permission !== 'open') {
        if (!access) throw new Refusal(401, 'signed-out', 'Nobody is signed in, or the session has ended.')
        if (access.role === 'machine' && !contract.machine)
          throw new Refusal(403, 'not-for-programs', 'This address is not open to programs of other systems.')
        if (!may(access, contract.permission))
          throw new Refusal(403, 'no-permission', 'Your role does not allow this.')
        if (access.sharing && contract.permission !== 'signedIn' && !contract.shared) throw notShared()
        if (contract.wholeBranch && access.ownOnly)
          throw new Refusal(403, 'own-only', 'You see only the reports that you filled yourself.')
      }
      const call = {
        params: contract.params
          ? validate(contract.params, storable(getRouterParams(event, { decode: true }), 'params'), 'params')
          : {},
        query: contract.query
          ? validate(contract.query, storable({ ...getQuery(event) }, 'query'), 'query')
          : {},
        body: contract.body ? await bodyOf(event, name) : {},
        get access() {
          if (!access) throw new Error(`${name} is open and has no person.`)
          return access
        },
        event,
      }
      if (
        contract.shared === 'round' &&
        access &&
        !seesRound(access, (call.params as { round: string }).round)
      )
        throw notShared()
      // Not while the body comes in: a bad line must not hold up the jobs.
      const answer = await asRequest(() => handle(call as unknown as RouteCall<N>))
      return 'file' in contract.answer ? answer : sendJson(event, answer)
    } catch (error) {
      if (error instanceof Refusal) return answerProblem(event, error)
      if (error instanceof DatabaseAway) return answerProblem(event, databaseAway(error))
      logError(`${name} failed`, error)
      return answerProblem(
        event,
        new Refusal(500, 'server', 'Something went wrong here. What you entered was not changed; try again.'),
      )
    }
  })
}
