import type { TSchema } from '@sinclair/typebox'
import Ajv, { type ErrorObject, type ValidateFunction } from 'ajv'
import { isDay, isInstant, isLanguage } from '#core/contract/wire'
import type { Problem } from '#core/result'
import { Refusal } from '../refusal'

// Checking ends at the first mistake: a body of a million mistakes must not cost a million messages.
const RULES = {
  allErrors: false,
  strict: true,
  strictTypes: false,
  // Our own schemas are checked by a test. Here the first request would wait for the compiling of JSON Schema itself.
  validateSchema: false,
  formats: { 'date-time': isInstant, date: isDay, language: isLanguage },
} as const
const forBodies = new Ajv(RULES)
/** Parameters arrive as text. */
const forParameters = new Ajv({ ...RULES, coerceTypes: true })

const compiled = new WeakMap<TSchema, ValidateFunction>()

function validatorOf(schema: TSchema, place: 'body' | 'query' | 'params'): ValidateFunction {
  let validator = compiled.get(schema)
  if (!validator) {
    validator = (place === 'body' ? forBodies : forParameters).compile(schema)
    compiled.set(schema, validator)
  }
  return validator
}

function problemOf(place: string, error: ErrorObject): Problem {
  const extra = error.params as { additionalProperty?: string; missingProperty?: string }
  const name = extra.additionalProperty ?? extra.missingProperty
  const at = [place, ...error.instancePath.split('/').filter(Boolean), ...(name ? [name] : [])]
    .join('/')
    .slice(0, 300)
  return { code: `schema-${error.keyword}`, message: `${at} ${error.message ?? 'is not as it must be'}`, at }
}

/** What is said only of a value of the right type: of a union, the way that was meant. */
const OF_RIGHT_TYPE = /^(max|min)(Length|imum|Items|Properties)$|^(pattern|format)$/

/**
 * Checks a body, query or set of parameters against its schema.
 *
 * @throws Refusal 400 `schema` with the first place that is not as it must be (of a union, one for each way, the
 *   nearest first).
 */
export function validate<T>(schema: TSchema, value: unknown, place: 'body' | 'query' | 'params'): T {
  const validator = validatorOf(schema, place)
  if (!validator(value)) {
    const errors = validator.errors ?? []
    const meant = errors.filter(({ keyword }) => OF_RIGHT_TYPE.test(keyword))
    const problems = [...new Set([...meant, ...errors])].slice(0, 20).map(error => problemOf(place, error))
    throw new Refusal(
      400,
      'schema',
      `The ${place} is not as it must be: ${problems[0]?.message ?? ''}.`,
      problems,
    )
  }
  return value as T
}
