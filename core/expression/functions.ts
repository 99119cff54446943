export type ValueType = 'number' | 'truth'

/** What a function of the language takes and gives. `rest` says that the last parameter may be repeated. */
export interface Signature {
  takes: ValueType[]
  gives: ValueType
  /** How many arguments may be left out at the end. */
  optional?: number
  rest?: boolean
  /** Arguments that must be written as whole numbers from 1 on: how far back to look. */
  literal?: number
}

/** How many periods back a function may look. */
export const FARTHEST_BACK = 60

/** All functions of the language so far. */
export const FUNCTIONS: Readonly<Record<string, Signature>> = {
  abs: { takes: ['number'], gives: 'number' },
  min: { takes: ['number', 'number'], gives: 'number', rest: true },
  max: { takes: ['number', 'number'], gives: 'number', rest: true },
  filled: { takes: ['number'], gives: 'truth' },
  coalesce: { takes: ['number', 'number'], gives: 'number' },
  previous: { takes: ['number', 'number'], gives: 'number', optional: 1, literal: 1 },
  mean_of_last: { takes: ['number', 'number'], gives: 'number', literal: 1 },
}
