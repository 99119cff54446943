/**
 * Errors are values. A problem has a code (the key of its sentence in the locale files), a plain English
 * message for logs and for readers of the API, and the place that it points at.
 */
export interface Problem {
  code: string
  message: string
  /** Where: a span of a text (`[start, end)` in characters), or a path such as `cells/deliveries`. */
  at?: { start: number; end: number } | string
  /** The values that the locale sentence puts into its blanks. */
  values?: Record<string, string | number>
}

export type Result<T> = { ok: true; value: T } | { ok: false; problems: Problem[] }

export const good = <T>(value: T): Result<T> => ({ ok: true, value })

export const bad = (...problems: Problem[]): { ok: false; problems: Problem[] } => ({ ok: false, problems })

/**
 * The value of a result that is known to be good; throws the first problem's message otherwise. For fixtures
 * and migrations of our own definitions, not for what people type.
 */
export function must<T>(result: Result<T>): T {
  if (result.ok) return result.value
  throw new Error(result.problems.map(problem => problem.message).join('; '))
}
