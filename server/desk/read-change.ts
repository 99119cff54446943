import { createHash } from 'node:crypto'
import canonicalize from 'canonicalize'
import { DESK_CHANGES, type DeskChange } from '#core/contract/desk'
import { normalizeJson } from '#core/contract/wire'
import { bad, good, type Result } from '#core/result'
import { Refusal } from '../refusal'
import { validate } from '../http/validate'

/** The fields of a change that hold an identifier. */
const IDENTIFIERS = ['id', 'after', 'case', 'parent', 'corrects', 'discrepancy'] as const

/** Identifiers in lower case, as they are stored and compared. */
function lowerIdentifiers(change: Record<string, unknown>): Record<string, unknown> {
  const lowered = IDENTIFIERS.flatMap(field => {
    const value = change[field]
    return typeof value === 'string' ? [[field, value.toLowerCase()]] : []
  })
  return { ...change, ...Object.fromEntries(lowered) }
}

const unknownKind = () =>
  bad({ code: 'change-kind', message: 'This version of the district does not know this kind of change.' })

/**
 * Reads one change as it arrived: texts in the composed form, identifiers in lower case, checked by the
 * schema of its kind.
 *
 * Errors: `text-unstorable`, `too-deep`, `change-kind` (an unknown kind), `schema` (with the place in the
 * message).
 */
export function readChange(sent: unknown): Result<DeskChange> {
  const normal = normalizeJson(sent)
  if (!normal.ok) return normal
  if (typeof normal.value !== 'object' || normal.value === null) return unknownKind()
  const change = lowerIdentifiers(normal.value as Record<string, unknown>)
  const schema = Object.hasOwn(DESK_CHANGES, String(change.kind))
    ? DESK_CHANGES[change.kind as keyof typeof DESK_CHANGES]
    : null
  if (!schema) return unknownKind()
  try {
    return good(validate<DeskChange>(schema, change, 'body'))
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    return bad({ code: error.code, message: error.message })
  }
}

/**
 * What does not make another change of one: the time of typing, and what the change was made on or belongs
 * to.
 */
const NOT_CONTENT = new Set(['madeAt', 'base', 'after', 'settles', 'parent'])

/**
 * Stands for the content of a change: SHA-256 over its canonical JSON (RFC 8785). Two changes with one
 * identifier and different digests are not the same change.
 */
export function digestOf(change: DeskChange): string {
  const content = Object.fromEntries(Object.entries(change).filter(([name]) => !NOT_CONTENT.has(name)))
  return createHash('sha256').update(canonicalize(content)!).digest('hex')
}
