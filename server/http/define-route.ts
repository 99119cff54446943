import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import type { Static, TSchema } from '@sinclair/typebox'
import { defineEventHandler, getQuery, getRequestHeader, getRouterParams, readRawBody, send, setResponseHeader, setResponseHeaders, type EventHandlerRequest, type H3Event } from 'h3'
import { may } from '#core/contract/permission'
import { ROUTES, type RouteContract, type RouteName } from '#core/contract/routes'
import { accessOf, type Access } from '../access/access'
import { logError } from '../log'
import { answerProblem } from './answer-problem'
import { Refusal } from './refusal'
import { validate } from './validate'

type Contract<N extends RouteName> = (typeof ROUTES)[N]
type Part<C, K extends string> = C extends Record<K, infer S extends TSchema> ? Static<S> : Record<string, never>
type Answer<C> = C extends { answer: infer S } ? (S extends TSchema ? Static<S> : string) : never

/** What a route's handler works with: checked, and with the person who asks. */
export interface RouteCall<N extends RouteName> {
  params: Part<Contract<N>, 'params'>
  query: Part<Contract<N>, 'query'>
  body: Part<Contract<N>, 'body'>
  /** The person who asks; on an `open` route there may be none, and reading this throws. */
  access: Access
  event: H3Event<EventHandlerRequest>
}

const zip = promisify(gzip)
const unzip = promisify(gunzip)
/** The most that a compressed body may become: nobody fills the memory with a few bytes. */
const MOST_UNZIPPED = 20_000_000
/** Shorter answers are not worth the work. */
const WORTH_ZIPPING = 1_400

async function unzipped(raw: Buffer): Promise<string> {
  try {
    return (await unzip(raw, { maxOutputLength: MOST_UNZIPPED })).toString('utf8')
  }
  catch (error) {
    throw new Refusal(400, 'body-not-gzip', `The body is not what gzip makes: ${String(error)}`)
  }
}

/** Gives an answer as JSON, compressed for who takes it so: a bad line is slow. */
async function sendJson(event: H3Event, answer: unknown) {
  const text = JSON.stringify(answer)
  if (text.length < WORTH_ZIPPING || !/\bgzip\b/.test(getRequestHeader(event, 'accept-encoding') ?? '')) return send(event, text, 'application/json')
  setResponseHeaders(event, { 'content-encoding': 'gzip', 'vary': 'accept-encoding' })
  return send(event, await zip(text), 'application/json')
}

async function readJson(event: H3Event): Promise<unknown> {
  const type = getRequestHeader(event, 'content-type') ?? ''
  if (!type.startsWith('application/json')) throw new Refusal(415, 'not-json', 'The body must be application/json.')
  const raw = await readRawBody(event, false)
  if (!raw?.length) throw new Refusal(400, 'body-empty', 'The body is empty.')
  const text = getRequestHeader(event, 'content-encoding') === 'gzip' ? await unzipped(raw) : raw.toString('utf8')
  try {
    return JSON.parse(text)
  }
  catch {
    throw new Refusal(400, 'body-not-json', 'The body is not JSON.')
  }
}

/**
 * Makes the handler of one route from its contract: checks the session and the permission, then parameters, query
 * and body, then calls the use-case. Every refusal leaves as `application/problem+json`.
 */
export function defineRoute<N extends RouteName>(name: N, handle: (call: RouteCall<N>) => Promise<Answer<Contract<N>>>) {
  const contract: RouteContract = ROUTES[name]
  return defineEventHandler(async (event) => {
    try {
      setResponseHeader(event, 'cache-control', 'no-store')
      const access = contract.permission === 'open' ? null : await accessOf(event)
      if (contract.permission !== 'open') {
        if (!access) throw new Refusal(401, 'signed-out', 'Nobody is signed in, or the session has ended.')
        if (!may(access.role, contract.permission)) throw new Refusal(403, 'no-permission', 'Your role does not allow this.')
        if (contract.wholeBranch && access.ownOnly) throw new Refusal(403, 'own-only', 'You see only the reports that you filled yourself.')
      }
      const call = {
        params: contract.params ? validate(contract.params, getRouterParams(event, { decode: true }), 'params') : {},
        query: contract.query ? validate(contract.query, Object.assign({}, getQuery(event)), 'query') : {},
        body: contract.body ? validate(contract.body, await readJson(event), 'body') : {},
        get access() {
          if (!access) throw new Error(`${name} is open and has no person.`)
          return access
        },
        event,
      }
      const answer = await handle(call as unknown as RouteCall<N>)
      return 'file' in contract.answer ? answer : sendJson(event, answer)
    }
    catch (error) {
      if (error instanceof Refusal) return answerProblem(event, error)
      logError(`${name} failed`, error)
      return answerProblem(event, new Refusal(500, 'server', 'Something went wrong here. What you entered was not changed; try again.'))
    }
  })
}
