/** An object of JSON whose shape nobody has checked yet. */
export type Json = Record<string, unknown>

/** A value as an object; an empty one for anything else. */
export const record = (value: unknown): Json =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Json) : {}

/** A value as a list of objects; an empty one for anything else. */
export const list = (value: unknown): Json[] => (Array.isArray(value) ? value.map(record) : [])
