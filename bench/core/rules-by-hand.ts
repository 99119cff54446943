/**
 * Ten shapes of rules, as texts of our language and as the loops that somebody would write by hand over typed
 * arrays for just this one shape: what the machine can do at best from TypeScript.
 */
type Column = Float64Array
export interface RuleShape {
  text: (at: number) => string
  columns: (at: number) => string[]
  /** Fills in 1 passed, 2 failed, 0 not judged. */
  loop: (verdicts: Uint8Array, size: number, columns: Column[]) => void
}

const next = (at: number, step: number) => (at + step) % 20

export const RULE_SHAPES: readonly RuleShape[] = [
  {
    text: at => `p${at} <= p${next(at, 1)}`,
    columns: at => [`p${at}`, `p${next(at, 1)}`],
    loop(verdicts, size, [a, b]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]!,
          y = b![i]!
        verdicts[i] = x !== x || y !== y ? 0 : x <= y ? 1 : 2
      }
    },
  },
  {
    text: at => `s${at} >= p${at}`,
    columns: at => [`s${at}_f`, `s${at}_m`, `p${at}`],
    loop(verdicts, size, [a, b, c]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]! + b![i]!,
          y = c![i]!
        verdicts[i] = x !== x || y !== y ? 0 : x >= y ? 1 : 2
      }
    },
  },
  {
    text: at => `s${at}[f] + p${at} <= 1.05 * s${next(at, 3)} + 2`,
    columns: at => [`s${at}_f`, `p${at}`, `s${next(at, 3)}_f`, `s${next(at, 3)}_m`],
    loop(verdicts, size, [a, b, c, d]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]! + b![i]!,
          y = 1.05 * (c![i]! + d![i]!) + 2
        verdicts[i] = x !== x || y !== y ? 0 : x <= y ? 1 : 2
      }
    },
  },
  {
    text: at => `p${at} + p${next(at, 2)} - p${next(at, 4)} - p${next(at, 6)} = p${next(at, 8)}`,
    columns: at => [0, 2, 4, 6, 8].map(step => `p${next(at, step)}`),
    loop(verdicts, size, [a, b, c, d, e]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]! + b![i]! - c![i]! - d![i]!,
          y = e![i]!
        verdicts[i] = x !== x || y !== y ? 0 : x === y ? 1 : 2
      }
    },
  },
  {
    text: at => `p${at} > 0 implies p${next(at, 5)} > 0`,
    columns: at => [`p${at}`, `p${next(at, 5)}`],
    loop(verdicts, size, [a, b]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]!,
          y = b![i]!
        verdicts[i] = x <= 0 || y > 0 ? 1 : x !== x || y !== y ? 0 : 2
      }
    },
  },
  {
    text: at => `p${at} between 1 and 55`,
    columns: at => [`p${at}`],
    loop(verdicts, size, [a]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]!
        verdicts[i] = x !== x ? 0 : x >= 1 && x <= 55 ? 1 : 2
      }
    },
  },
  {
    text: at => `s${at}[m] != s${next(at, 7)}[m]`,
    columns: at => [`s${at}_m`, `s${next(at, 7)}_m`],
    loop(verdicts, size, [a, b]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]!,
          y = b![i]!
        verdicts[i] = x !== x || y !== y ? 0 : x !== y ? 1 : 2
      }
    },
  },
  {
    text: at => `p${at} <= 40 or s${at}[f] > 10`,
    columns: at => [`p${at}`, `s${at}_f`],
    loop(verdicts, size, [a, b]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]!,
          y = b![i]!
        verdicts[i] = x <= 40 || y > 10 ? 1 : x !== x || y !== y ? 0 : 2
      }
    },
  },
  {
    text: at => `s${at} + s${next(at, 1)} + s${next(at, 2)} < 200`,
    columns: at => [0, 1, 2].flatMap(step => [`s${next(at, step)}_f`, `s${next(at, step)}_m`]),
    loop(verdicts, size, [a, b, c, d, e, f]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]! + b![i]! + c![i]! + d![i]! + e![i]! + f![i]!
        verdicts[i] = x !== x ? 0 : x < 200 ? 1 : 2
      }
    },
  },
  {
    text: at => `p${at} * 2 >= p${next(at, 9)} and p${next(at, 9)} > 5`,
    columns: at => [`p${at}`, `p${next(at, 9)}`],
    loop(verdicts, size, [a, b]) {
      for (let i = 0; i < size; i++) {
        const x = a![i]! * 2,
          y = b![i]!
        verdicts[i] = x < y || y <= 5 ? 2 : x !== x || y !== y ? 0 : 1
      }
    },
  },
]

/** All hundred loops, with what they found. */
export function byHand(
  columns: ReadonlyMap<string, Column>,
  size: number,
): { passed: number; judged: number } {
  let passed = 0
  let judged = 0
  for (const shape of RULE_SHAPES) {
    for (let at = 0; at < 10; at++) {
      const verdicts = new Uint8Array(size)
      shape.loop(
        verdicts,
        size,
        shape.columns(at).map(key => columns.get(key)!),
      )
      for (let i = 0; i < size; i++) {
        const verdict = verdicts[i]!
        passed += verdict & 1
        judged += verdict === 0 ? 0 : 1
      }
    }
  }
  return { passed, judged }
}
