import { PGlite } from '@electric-sql/pglite'
import { periodsBetween, type Cycle } from '#core/calendar/period'
import { parsePeriod } from '#core/calendar/period-text'
import { must } from '#core/result'
import { eachUnit, rollUp, type Borders, type Cube } from '#core/rollup/cube'
import { inTurns, measurement, type Measurement } from '../measure'
import { columns } from './data'
import { duckWith } from './duckdb'

const UNITS = 1_000
const MONTHS = 24
const WORK = 'roll-up of 1,000 facilities × 24 months × 60 cells to 4 levels × month, quarter, year'

const CELLS = Array.from({ length: 60 }, (_, at) => `c${at}`)
/** How many facilities stand in one group of each level. */
const LEVELS: Record<string, number> = { unit: 1, zone: 10, district: 100, region: 1_000 }
const CYCLES: Record<string, { cycle: Cycle; months: number }> = {
  month: { cycle: { frequency: 'month' }, months: 1 },
  quarter: { cycle: { frequency: 'quarter' }, months: 3 },
  year: { cycle: { frequency: 'year' }, months: 12 },
}

function bordersOfLevel(size: number): Borders {
  if (size === 1) return eachUnit(UNITS)
  const groups = Int32Array.from({ length: UNITS }, (_, unit) => Math.floor(unit / size))
  return { count: UNITS / size, groupOf: () => groups }
}

export async function rollups(): Promise<Measurement[]> {
  const values = columns(CELLS, UNITS * MONTHS, 0.05, 2)
  const cube: Cube = {
    units: UNITS,
    periods: periodsBetween(must(parsePeriod('2024-11')), must(parsePeriod('2026-10'))).slice(-MONTHS),
    cells: CELLS.map(key => ({ key, operator: 'sum', values: values.get(key)! })),
  }
  const borders = Object.values(LEVELS).map(bordersOfLevel)
  const ours = () =>
    borders.flatMap(border => Object.values(CYCLES).map(({ cycle }) => must(rollUp(cube, border, cycle))))

  // One wide row for each report: twice as fast for SQL as a row for each value.
  const database = await PGlite.create()
  await database.exec(
    `CREATE TABLE report (unit int, zone int, district int, region int, month int, quarter int, year int, ${CELLS.map(cell => `${cell} float8`).join(', ')})`,
  )
  const first = cube.periods[0]!.index
  const rows = Array.from({ length: UNITS * MONTHS }, (_, at) => ({
    unit: at % UNITS,
    month: first + Math.floor(at / UNITS),
  }))
  const keys = [
    ...Object.values(LEVELS).map(size => rows.map(({ unit }) => Math.floor(unit / size))),
    ...Object.values(CYCLES).map(({ months }) => rows.map(({ month }) => Math.floor(month / months))),
  ]
  await database.query(
    `INSERT INTO report SELECT * FROM unnest(${[...keys.map((_, at) => `$${at + 1}::int[]`), ...CELLS.map((_, at) => `$${keys.length + at + 1}::float8[]`)].join(', ')})`,
    [
      ...keys,
      ...CELLS.map(cell => Array.from(values.get(cell)!, value => (Number.isNaN(value) ? null : value))),
    ],
  )
  await database.exec('ANALYZE report')
  const statements = Object.keys(LEVELS).flatMap(level =>
    Object.keys(CYCLES).map(
      cycle =>
        `SELECT ${level}, ${cycle}, ${CELLS.map(cell => `sum(${cell}) AS ${cell}, count(${cell})::int AS n_${cell}`).join(', ')} FROM report GROUP BY ${level}, ${cycle}`,
    ),
  )
  const sql = async () => {
    const answers = []
    for (const statement of statements)
      answers.push((await database.query<Record<string, number | null>>(statement)).rows)
    return answers
  }

  const theirs = await sql()
  const total = (sums: Iterable<number>) =>
    [...sums].reduce((sum, value) => sum + (Number.isNaN(value) ? 0 : value), 0)
  ours().forEach(({ figures }, at) => {
    const [mine, other] = [
      total([...figures.values()].flatMap(({ values: sums }) => [...sums])),
      total(theirs[at]!.flatMap(row => CELLS.map(cell => row[cell] ?? 0))),
    ]
    if (mine !== other) throw new Error(`The roll-up ${at} adds up to ${mine}, in SQL to ${other}.`)
  })
  const keyNames = [...Object.keys(LEVELS), ...Object.keys(CYCLES)]
  const duck = await duckWith(
    'report',
    new Map<string, ArrayLike<number>>([
      ...keyNames.map((name, at) => [name, keys[at]!] as const),
      ...CELLS.map(cell => [cell, values.get(cell)!] as const),
    ]),
    UNITS * MONTHS,
  )
  const duckdb = async () => {
    const answers = []
    for (const statement of statements)
      answers.push((await duck.connection.runAndReadAll(statement)).getRowObjects())
    return answers
  }
  const times = await inTurns({ ours, sql }, 5)
  const beside = await inTurns({ ours, duckdb }, 9)
  await database.close()
  duck.close()
  return [
    measurement(WORK, times.ours, times.sql, 'PGlite, GROUP BY for each', 'ms', 1),
    measurement(WORK, beside.ours, beside.duckdb, 'DuckDB, GROUP BY for each, one thread', 'ms', 1),
  ]
}
