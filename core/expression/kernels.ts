import { nearlyEqual } from '../nearly-equal'
import type { BinaryOperator } from './syntax'

/**
 * The inner loops: two columns into one, from a place in each. NaN is blank and unknown; 1 is true, 0 is false.
 * Written out one by one, because a loop that calls a function for each number takes several times as long.
 * Decimals are compared as `nearlyEqual` says: 0.3 + 0.6 is 0.9.
 */
export type Loop = (out: Float64Array, left: Float64Array, leftAt: number, right: Float64Array, rightAt: number, length: number) => void

export const LOOPS: Record<BinaryOperator, Loop> = {
  '+': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) out[k] = left[i + k]! + right[j + k]! },
  '-': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) out[k] = left[i + k]! - right[j + k]! },
  '*': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) out[k] = left[i + k]! * right[j + k]! },
  // A division by zero is blank; `explain` notes it.
  '/': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) out[k] = nearlyEqual(right[j + k]!, 0) ? NaN : left[i + k]! / right[j + k]! },
  // Of two known values one of the two comparisons holds; with a blank none does.
  '=': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a === b ? 1 : a < b || a > b ? +nearlyEqual(a, b) : NaN } },
  '!=': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a === b ? 0 : a < b || a > b ? +!nearlyEqual(a, b) : NaN } },
  '<': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a < b ? +!nearlyEqual(a, b) : a >= b ? 0 : NaN } },
  '<=': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a <= b ? 1 : a > b ? +nearlyEqual(a, b) : NaN } },
  '>': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a > b ? +!nearlyEqual(a, b) : a <= b ? 0 : NaN } },
  '>=': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a >= b ? 1 : a < b ? +nearlyEqual(a, b) : NaN } },
  // SQL's three-valued logic: false and unknown is false, true or unknown is true.
  'and': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a === 0 || b === 0 ? 0 : a * b } },
  'or': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a === 1 || b === 1 ? 1 : a + b } },
  'implies': (out, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[k] = a === 0 || b === 1 ? 1 : a * b } },
}

/** What a rule says of one report. *Not judged* is neither pass nor fail: a blank stood in the way. */
export const NOT_JUDGED = 0
export const PASSED = 1
export const FAILED = 2

/** The inner loops of a rule that compares two numbers: straight to the verdicts. Returns how many passed. */
export type VerdictLoop = (out: Uint8Array, outAt: number, left: Float64Array, leftAt: number, right: Float64Array, rightAt: number, length: number) => void

export const VERDICT_LOOPS: Partial<Record<BinaryOperator, VerdictLoop>> = {
  '=': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a === b ? PASSED : a < b || a > b ? (nearlyEqual(a, b) ? PASSED : FAILED) : NOT_JUDGED } },
  '!=': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a === b ? FAILED : a < b || a > b ? (nearlyEqual(a, b) ? FAILED : PASSED) : NOT_JUDGED } },
  '<': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a < b ? (nearlyEqual(a, b) ? FAILED : PASSED) : a >= b ? FAILED : NOT_JUDGED } },
  '<=': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a <= b ? PASSED : a > b ? (nearlyEqual(a, b) ? PASSED : FAILED) : NOT_JUDGED } },
  '>': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a > b ? (nearlyEqual(a, b) ? FAILED : PASSED) : a <= b ? FAILED : NOT_JUDGED } },
  '>=': (out, o, left, i, right, j, length) => { for (let k = 0; k < length; k++) { const a = left[i + k]!, b = right[j + k]!; out[o + k] = a >= b ? PASSED : a < b ? (nearlyEqual(a, b) ? PASSED : FAILED) : NOT_JUDGED } },
}

/** Truths to verdicts, for rules of any other shape. */
export function verdictsOf(out: Uint8Array, outAt: number, truths: Float64Array, truthsAt: number, length: number): void {
  for (let k = 0; k < length; k++) {
    const truth = truths[truthsAt + k]!
    out[outAt + k] = truth === 1 ? PASSED : truth === 0 ? FAILED : NOT_JUDGED
  }
}
