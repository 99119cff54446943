import type { Static, TSchema } from '@sinclair/typebox'
import type { ROUTES, RouteName } from '#core/contract/routes'
import type { Problem } from '#core/result'
import { networkLets } from '../device/useDeviceHardware'

type Contract<N extends RouteName> = (typeof ROUTES)[N]
type Part<C, K extends string> =
  C extends Record<K, infer S extends TSchema> ? { [key in K]: Static<S> } : unknown
/** What a route gives. */
export type AnswerOf<N extends RouteName> =
  Contract<N> extends { answer: infer S extends TSchema } ? Static<S> : string
/** What a route takes. */
export type CallOf<N extends RouteName> = Part<Contract<N>, 'params'> &
  Part<Contract<N>, 'query'> &
  Part<Contract<N>, 'body'>

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
export function addressOf(
  name: string,
  call: { params?: Record<string, string>; query?: Record<string, unknown> },
): string {
  const path = name
    .slice(name.indexOf(' ') + 1)
    .replace(/:(\w+)/g, (_, key: string) => encodeURIComponent(call.params?.[key] ?? ''))
  const query = Object.entries(call.query ?? {})
    .filter(([, value]) => value !== undefined && value !== null)
    .map(([key, value]) => `${key}=${encodeURIComponent(String(value))}`)
  return query.length ? `${path}?${query.join('&')}` : path
}

/** The header that every answer of the API carries. */
const OURS = 'x-lantern-district'
/** Enough for two megabytes over a bad line; after that the request has failed. */
const LONGEST_REQUEST_MS = 180_000

/** What a device shows instead of a cookie: its own token and its person's session. */
let shown: Record<string, string> | null = null
export function showAs(headers: Record<string, string> | null): void {
  shown = headers
}

/** Shorter bodies are not worth the work. */
const WORTH_ZIPPING = 1_400
async function bodyOf(value: unknown): Promise<{ body?: BodyInit; headers: Record<string, string> }> {
  const text = value === undefined ? undefined : JSON.stringify(value)
  if (text === undefined || text.length < WORTH_ZIPPING) return { body: text, headers: {} }
  return {
    body: await new Response(
      new Blob([text]).stream().pipeThrough(new CompressionStream('gzip')),
    ).arrayBuffer(),
    headers: { 'content-encoding': 'gzip' },
  }
}

async function problemFrom(response: Response): Promise<ApiProblem> {
  const body = (await response.json().catch(() => null)) as {
    code?: string
    detail?: string
    problems?: Problem[]
  } | null
  return new ApiProblem(
    response.status,
    body?.code ?? 'server',
    body?.detail ?? response.statusText,
    body?.problems,
  )
}

/**
 * The one way to the server: typed by the route's contract. A session that has ended asks the person to sign
 * in again over the page, and the caller learns it as a problem with status 401.
 * @param headers those of one call, beside what the device shows.
 * @throws ApiProblem
 */
export async function callApi<N extends RouteName>(
  name: N,
  call: CallOf<N>,
  headers: Record<string, string> = {},
): Promise<AnswerOf<N>> {
  const parts = call as { params?: Record<string, string>; query?: Record<string, unknown>; body?: unknown }
  const method = name.slice(0, name.indexOf(' '))
  let response: Response
  try {
    if (!(await networkLets())) throw new TypeError('The network is switched off.')
    const sent = method === 'GET' ? { headers: {} } : await bodyOf(parts.body)
    response = await fetch(addressOf(name, parts), {
      method,
      signal: AbortSignal.timeout(LONGEST_REQUEST_MS),
      credentials: shown ? 'omit' : 'same-origin',
      headers: {
        ...shown,
        ...headers,
        ...(method !== 'GET' && { 'content-type': 'application/json' }),
        ...sent.headers,
      },
      ...('body' in sent && { body: sent.body }),
    })
  } catch (error) {
    throw new ApiProblem(0, 'unreachable', String(error))
  }
  // A page that asks for a room number or a proxy's error is no answer of ours.
  if (!response.headers.has(OURS))
    throw new ApiProblem(0, 'unreachable', 'Something else than the district answered.')
  if (!response.ok) {
    const problem = await problemFrom(response)
    if (problem.code === 'signed-out') useSession().ended()
    throw problem
  }
  try {
    if ((response.headers.get('content-type') ?? '').includes('json'))
      return (await response.json()) as AnswerOf<N>
    return (await response.text()) as AnswerOf<N>
  } catch (error) {
    // Cut off on its way.
    throw new ApiProblem(0, 'unreachable', String(error))
  }
}
