import type { TSchema } from '@sinclair/typebox'
import { describe, expect, it } from 'vitest'
import { DESK_CHANGES } from './desk'
import { ROUTES, type RouteContract } from './routes'

/** Every place of a schema at which a list, an object of any keys, or a text may be of any size. */
function unbounded(schema: TSchema, at: string): string[] {
  const parts = (schema.anyOf ?? schema.oneOf ?? []) as TSchema[]
  const inside = [
    ...parts.flatMap((part, index) => unbounded(part, `${at}|${index}`)),
    ...Object.entries((schema.properties ?? {}) as Record<string, TSchema>).flatMap(([name, part]) =>
      unbounded(part, `${at}/${name}`),
    ),
    ...Object.values((schema.patternProperties ?? {}) as Record<string, TSchema>).flatMap(part =>
      unbounded(part, `${at}/*`),
    ),
    ...(schema.items ? unbounded(schema.items as TSchema, `${at}[]`) : []),
  ]
  const list = schema.type === 'array' && schema.maxItems === undefined
  const object =
    (schema.patternProperties !== undefined || typeof schema.additionalProperties === 'object') &&
    schema.maxProperties === undefined
  const pattern = String(schema.pattern ?? '')
  // A pattern with an end and a length bounds a text as well.
  const text =
    schema.type === 'string' &&
    schema.const === undefined &&
    !schema.enum &&
    schema.maxLength === undefined &&
    !schema.format &&
    !/^\^[^*+]*\$$/.test(pattern)
  return [...(list || object || text ? [at] : []), ...inside]
}

describe('nothing lost, 11: what a route takes', () => {
  it('is bounded at every list, object and text, so that a body is refused before it is looked through', () => {
    const bodies = (Object.entries(ROUTES) as [string, RouteContract][]).flatMap(([name, { body }]) =>
      body ? unbounded(body, name) : [],
    )
    const changes = Object.entries(DESK_CHANGES).flatMap(([kind, schema]) =>
      unbounded(schema, `change ${kind}`),
    )
    expect([...bodies, ...changes]).toEqual([])
  })
})
