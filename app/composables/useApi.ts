import type { Static, TSchema } from '@sinclair/typebox'
import type { ROUTES, RouteName } from '#core/contract/routes'
import type { Problem } from '#core/result'

type Contract<N extends RouteName> = (typeof ROUTES)[N]
type Part<C, K extends string> = C extends Record<K, infer S extends TSchema> ? { [key in K]: Static<S> } : unknown
/** What a route gives. */
export type AnswerOf<N extends RouteName> = Contract<N> extends { answer: infer S extends TSchema } ? Static<S> : string
/** What a route takes. */
export type CallOf<N extends RouteName> = Part<Contract<N>, 'params'> & Part<Contract<N>, 'query'> & Part<Contract<N>, 'body'>

/** What the server refused, or that it could not be reached (status 0). */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly problems: readonly Problem[] = [],
  ) {
    super(message)
  }

  get unreachable(): boolean {
    return this.status === 0
  }
}

/** The address of a route with its parameters and query put in. */
export function addressOf(name: string, call: { params?: Record<string, string>; query?: Record<string, unknown> }): string {
  const path = name.slice(name.indexOf(' ') + 1).replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(call.params?.[key] ?? ''))
  const query = Object.entries(call.query ?? {}).filter(([, value]) => value !== undefined && value !== null)
    .map(([key, value]) => `${key}=${encodeURIComponent(String(value))}`)
  return query.length ? `${path}?${query.join('&')}` : path
}

async function problemFrom(response: Response): Promise<ApiProblem> {
  const body = await response.json().catch(() => null) as { code?: string; detail?: string; problems?: Problem[] } | null
  return new ApiProblem(response.status, body?.code ?? 'server', body?.detail ?? response.statusText, body?.problems)
}

/**
 * The one way to the server: typed by the route's contract. A session that has ended asks the person to sign in
 * again over the page, and the caller learns it as a problem with status 401.
 * @throws ApiProblem
 */
export async function callApi<N extends RouteName>(name: N, call: CallOf<N>): Promise<AnswerOf<N>> {
  const parts = call as { params?: Record<string, string>; query?: Record<string, unknown>; body?: unknown }
  const method = name.slice(0, name.indexOf(' '))
  let response: Response
  try {
    response = await fetch(addressOf(name, parts), {
      method,
      credentials: 'same-origin',
      ...(method !== 'GET' && { headers: { 'content-type': 'application/json' }, body: parts.body === undefined ? undefined : JSON.stringify(parts.body) }),
    })
  }
  catch (error) {
    throw new ApiProblem(0, 'unreachable', String(error))
  }
  if (!response.ok) {
    const problem = await problemFrom(response)
    if (problem.code === 'signed-out') useSession().ended()
    throw problem
  }
  return await response.json() as AnswerOf<N>
}
