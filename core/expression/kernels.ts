import { nearlyEqual } from '../nearly-equal'
import type { BinaryOperator } from './syntax'

/** What a rule says of one report. *Not judged* is neither pass nor fail: a blank stood in the way. */
export const NOT_JUDGED = 0
export const PASSED = 1
export const FAILED = 2

/**
 * A verdict from two conditions (0 or 1) of which at most one holds: no branch, which a processor would guess
 * wrong.
 */
const verdict = (passed: number, failed: number): number => passed | (failed << 1)

/** The truth of each verdict as a column has it: blank, true, false. */
const TRUTHS = Float64Array.of(NaN, 1, 0)

/**
 * The inner loops: two columns into one, from a place in each. NaN is blank and unknown; 1 is true, 0 is
 * false. Written out one by one, because a loop that calls a function for each number takes several times as
 * long. Decimals are compared as `nearlyEqual` says: 0.3 + 0.6 is 0.9. With a blank no comparison holds.
 */
export type Loop = (
  out: Float64Array,
  left: Float64Array,
  leftAt: number,
  right: Float64Array,
  rightAt: number,
  length: number,
) => void

export const LOOPS: Record<BinaryOperator, Loop> = {
  '+': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = a + b
    }
  },
  '-': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = a - b
    }
  },
  '*': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = a * b
    }
  },
  // A division by zero is blank; `explain` notes it.
  '/': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(b, 0) ? NaN : a / b
    }
  },
  '=': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 1 : TRUTHS[verdict(0, +(a < b) | +(a > b))]!
    }
  },
  '!=': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 0 : TRUTHS[verdict(+(a < b) | +(a > b), 0)]!
    }
  },
  '<': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 0 : TRUTHS[verdict(+(a < b), +(a > b))]!
    }
  },
  '<=': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 1 : TRUTHS[verdict(+(a < b), +(a > b))]!
    }
  },
  '>': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 0 : TRUTHS[verdict(+(a > b), +(a < b))]!
    }
  },
  '>=': (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = nearlyEqual(a, b) ? 1 : TRUTHS[verdict(+(a > b), +(a < b))]!
    }
  },
  // SQL's three-valued logic: false and unknown is false, true or unknown is true.
  and: (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = TRUTHS[verdict(+(a === 1) & +(b === 1), +(a === 0) | +(b === 0))]!
    }
  },
  or: (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = TRUTHS[verdict(+(a === 1) | +(b === 1), +(a === 0) & +(b === 0))]!
    }
  },
  implies: (out, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[k] = TRUTHS[verdict(+(a === 0) | +(b === 1), +(a === 1) & +(b === 0))]!
    }
  },
}

/** The inner loops of a rule whose last operator makes a truth: straight to the verdicts. */
export type VerdictLoop = (
  out: Uint8Array,
  outAt: number,
  left: Float64Array,
  leftAt: number,
  right: Float64Array,
  rightAt: number,
  length: number,
) => void

export const VERDICT_LOOPS: Partial<Record<BinaryOperator, VerdictLoop>> = {
  '=': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? PASSED : verdict(0, +(a < b) | +(a > b))
    }
  },
  '!=': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? FAILED : verdict(+(a < b) | +(a > b), 0)
    }
  },
  '<': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? FAILED : verdict(+(a < b), +(a > b))
    }
  },
  '<=': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? PASSED : verdict(+(a < b), +(a > b))
    }
  },
  '>': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? FAILED : verdict(+(a > b), +(a < b))
    }
  },
  '>=': (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = nearlyEqual(a, b) ? PASSED : verdict(+(a > b), +(a < b))
    }
  },
  and: (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = verdict(+(a === 1) & +(b === 1), +(a === 0) | +(b === 0))
    }
  },
  or: (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = verdict(+(a === 1) | +(b === 1), +(a === 0) & +(b === 0))
    }
  },
  implies: (out, o, left, i, right, j, length) => {
    for (let k = 0; k < length; k++) {
      const a = left[i + k]!,
        b = right[j + k]!
      out[o + k] = verdict(+(a === 0) | +(b === 1), +(a === 1) & +(b === 0))
    }
  },
}

/** Truths to verdicts, for rules of any other shape. */
export function verdictsOf(
  out: Uint8Array,
  outAt: number,
  truths: Float64Array,
  truthsAt: number,
  length: number,
): void {
  for (let k = 0; k < length; k++) {
    const truth = truths[truthsAt + k]!
    out[outAt + k] = verdict(+(truth === 1), +(truth === 0))
  }
}
