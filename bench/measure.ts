import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { cpus } from 'node:os'
import { stolenShare } from './stolen-time'

/** One line of a suite's results. `ratio` is ours / other, so less is better in every line. */
export interface Measurement {
  name: string
  ours: number
  other: number
  otherName: string
  unit: string
  ratio: number
  /** What the ratio may be at the most. */
  target: number
  met: boolean
}

export const measurement = (
  name: string,
  ours: number,
  other: number,
  otherName: string,
  unit: string,
  target: number,
): Measurement => ({
  name,
  ours,
  other,
  otherName,
  unit,
  ratio: ours / other,
  target,
  met: ours / other <= target,
})

export const median = (values: readonly number[]): number => {
  const sorted = [...values].sort((one, other) => one - other)
  const middle = sorted.length >> 1
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}

export const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((one, other) => one - other)[
    Math.min(values.length - 1, Math.floor(values.length * share))
  ]!

/** Collects what the work before left behind, so that nobody is measured while it is swept up. */
export const sweep = (): void => {
  globalThis.gc?.()
}

/**
 * Runs several ways of doing one work in turns, in this one process, so that whatever else the machine does
 * falls on all alike. One round of each goes before and is not counted.
 * @returns the median of each in milliseconds, by its name.
 */
export async function inTurns<Name extends string>(
  ways: Record<Name, () => unknown>,
  rounds: number,
): Promise<Record<Name, number>> {
  const names = Object.keys(ways) as Name[]
  const times = Object.fromEntries(names.map(name => [name, [] as number[]])) as Record<Name, number[]>
  sweep()
  for (let round = -1; round < rounds; round++) {
    for (const name of names) {
      const before = performance.now()
      await ways[name]()
      if (round >= 0) times[name].push(performance.now() - before)
    }
  }
  return Object.fromEntries(names.map(name => [name, median(times[name])])) as Record<Name, number>
}

const said = (value: number) =>
  value >= 100 ? value.toFixed(0) : value >= 1 ? value.toFixed(1) : value.toPrecision(2)

/** What the file has of other work: a run with `--only` measures a part, and leaves the rest as it was. */
function othersIn(file: string, measured: readonly Measurement[]): Measurement[] {
  if (!process.argv.includes('--only') || !existsSync(file)) return []
  const names = new Set(measured.map(({ name }) => name))
  const before = JSON.parse(readFileSync(file, 'utf8')) as Measurement[]
  return before.filter(({ name }) => !names.has(name))
}

/**
 * Prints the table, writes `bench/results/<suite>.json`, and says by the exit code whether all was met when
 * `--strict` is given.
 */
export function report(suite: string, measurements: readonly Measurement[]): void {
  console.log(`${cpus()[0]?.model ?? 'unknown processor'}, ${cpus().length} cores, Node ${process.version}`)
  const stolen = stolenShare()
  if (stolen !== null)
    console.log(`${(100 * stolen).toFixed(0)} % of the processors' time went to other machines`)
  console.log()
  const rows = measurements.map(({ name, ours, other, otherName, unit, ratio, target, met }) => [
    name,
    `${said(ours)} ${unit}`,
    otherName,
    `${said(other)} ${unit}`,
    said(ratio),
    `≤ ${said(target)}`,
    met ? 'met' : 'NOT MET',
  ])
  const head = ['work', 'ours', 'against', 'takes', 'ratio', 'target', '']
  const widths = head.map((text, column) => Math.max(text.length, ...rows.map(row => row[column]!.length)))
  for (const row of [head, ...rows])
    console.log(row.map((text, column) => text.padEnd(widths[column]!)).join('  '))
  const file = `bench/results/${suite}.json`
  mkdirSync('bench/results', { recursive: true })
  writeFileSync(file, `${JSON.stringify([...othersIn(file, measurements), ...measurements], null, 2)}\n`)
  const missed = measurements.filter(({ met }) => !met)
  console.log(`\n${measurements.length - missed.length} of ${measurements.length} met; ${file}`)
  if (missed.length && process.argv.includes('--strict')) process.exitCode = 1
}
