import type { Problem } from '#core/result'

/** Why the server does not do what was asked: becomes `application/problem+json` (RFC 9457). */
export class Refusal extends Error {
  constructor(
    readonly status: number,
    /** Key of the message in the locale files. */
    readonly code: string,
    message: string,
    /** The places that the refusal points at. */
    readonly problems: readonly Problem[] = [],
    readonly headers: Record<string, string> = {},
  ) {
    super(message)
  }
}

/**
 * A refusal by what is wrong with something that was given: the first problem says it, all of them are shown.
 * @param at where it stands in the request, where the problems do not say so themselves
 */
export const refusedBy = (status: number, problems: readonly Problem[], at?: string): Refusal =>
  new Refusal(
    status,
    problems[0]!.code,
    problems[0]!.message,
    at === undefined ? problems : problems.map(problem => ({ ...problem, at })),
  )

export const notFound = (what: string) => new Refusal(404, 'not-found', `There is no such ${what}.`)
export const outsideBranch = () =>
  new Refusal(403, 'outside-branch', 'This belongs to another part of the tree.')
export const tooLarge = (most: number) =>
  new Refusal(413, 'body-too-large', `The request is larger than ${most / 1_000_000} MB.`)
export const conflict = (code: string, message: string, problems: readonly Problem[] = []) =>
  new Refusal(409, code, message, problems)

const TITLES: Record<number, string> = {
  400: 'Bad request',
  401: 'Not signed in',
  403: 'Not allowed',
  404: 'Not found',
  405: 'Not so',
  409: 'Does not go with the state',
  411: 'Length required',
  413: 'Too large',
  415: 'Not JSON',
  422: 'Cannot be done so',
  429: 'Too many tries',
  503: 'Busy',
  500: 'Something went wrong here',
}

/** The body of a refusal. */
export const problemBody = (refusal: Refusal) => ({
  type: `urn:eastward-lantern:problem:${refusal.code}`,
  title: TITLES[refusal.status] ?? 'Refused',
  status: refusal.status,
  code: refusal.code,
  detail: refusal.message,
  ...(refusal.problems.length && { problems: refusal.problems }),
})
