import { PGlite } from '@electric-sql/pglite'
import jsonLogic from 'json-logic-js'
import { compile as mathCompile } from 'mathjs'
import { NOTHING, type Name, type Vocabulary } from '#core/expression/vocabulary'
import { tableOfColumns } from '#core/report/table'
import { must } from '#core/result'
import { compileRuleList, type CompiledRule } from '#core/rule/compile-rules'
import { judge } from '#core/rule/judge'
import { inTurns, measurement, type Measurement } from '../measure'
import { columns } from './data'
import { duckWith } from './duckdb'
import { byHand, RULE_SHAPES } from './rules-by-hand'
import { toJsonLogic, toMath, toSql } from './translate'

const REPORTS = 12_000
const WORK = '100 rules × 12,000 reports × 60 cells, 5 % blank'

/** 20 plain items and 20 with two bands: 60 cells. */
const AXIS = {
  code: 'sex',
  name: {},
  bands: [
    { code: 'f', name: {} },
    { code: 'm', name: {} },
  ],
}
const plain = Array.from({ length: 20 }, (_, at) => `p${at}`)
const split = Array.from({ length: 20 }, (_, at) => `s${at}`)
export const CELLS = [...plain, ...split.flatMap(code => [`${code}_f`, `${code}_m`])]

const name = (code: string, bands: string[]): Name => ({
  code,
  label: {},
  type: 'number',
  unitOfMeasure: null,
  axes: bands.length ? [AXIS] : [],
  cells: bands.length
    ? bands.map(band => ({ key: `${code}_${band}`, bands: [band] }))
    : [{ key: code, bands: [] }],
})
const VOCABULARY: Vocabulary = {
  label: {},
  others: NOTHING,
  lists: NOTHING,
  names: new Map(
    [...plain.map(code => name(code, [])), ...split.map(code => name(code, ['f', 'm']))].map(one => [
      one.code,
      one,
    ]),
  ),
}

/** Ten of each shape, over different cells. */
const TEXTS = RULE_SHAPES.flatMap(({ text }) => Array.from({ length: 10 }, (_, at) => text(at)))
const definition = (expression: string, at: number) => ({
  code: `rule_${at}`,
  name: {},
  expression,
  strength: 'explain' as const,
  blanks: 'notJudged' as const,
  forClerk: {},
  forOfficer: {},
})

/** What each way found: how many reports passed, and how many were judged, of all rules. */
interface Found {
  passed: number
  judged: number
}

function memoryOf(work: () => unknown): number {
  const used = () => {
    const { heapUsed, arrayBuffers } = process.memoryUsage()
    return heapUsed + arrayBuffers
  }
  globalThis.gc?.()
  const before = used()
  const kept = work()
  const after = used()
  if (!kept) throw new Error('Nothing was kept.')
  return after - before
}

function sameFound(found: Record<string, Found>): void {
  const first = Object.values(found)[0]!
  for (const [who, { passed, judged }] of Object.entries(found)) {
    if (passed !== first.passed || judged !== first.judged)
      throw new Error(`${who} finds ${passed} of ${judged}, the first ${first.passed} of ${first.judged}.`)
  }
}

export async function rules(): Promise<Measurement[]> {
  const numbers = columns(CELLS, REPORTS, 0.05)
  const rowsOf = Array.from({ length: REPORTS }, (_, row) =>
    Object.fromEntries(CELLS.map(cell => [cell, numbers.get(cell)![row]!])),
  )
  const compiled: CompiledRule[] = must(compileRuleList(TEXTS.map(definition), VOCABULARY))
  const table = tableOfColumns({ size: REPORTS, numbers })

  const ours = (): Found =>
    judge(compiled, table).reduce(
      (sum, { passed, failed }) => ({ passed: sum.passed + passed, judged: sum.judged + passed + failed }),
      { passed: 0, judged: 0 },
    )
  const hand = () => byHand(numbers, REPORTS)

  const maths = compiled.map(({ compiled: { tree, bindings } }) => mathCompile(toMath(tree, bindings)))
  const logics = compiled.map(({ compiled: { tree, bindings } }) => toJsonLogic(tree, bindings))
  const overRows = (holds: (rule: number, row: Record<string, number>) => unknown) => () => {
    let passed = 0
    for (let rule = 0; rule < compiled.length; rule++)
      for (const row of rowsOf) if (holds(rule, row) === true) passed++
    return passed
  }
  const math = overRows((rule, row) => maths[rule]!.evaluate(row))
  const logic = overRows((rule, row) => jsonLogic.apply(logics[rule]!, row))

  const database = await PGlite.create()
  await database.exec(`CREATE TABLE report (${CELLS.map(cell => `${cell} float8`).join(', ')})`)
  await database.query(
    `INSERT INTO report SELECT * FROM unnest(${CELLS.map((_, at) => `$${at + 1}::float8[]`).join(', ')})`,
    CELLS.map(cell => Array.from(numbers.get(cell)!, value => (Number.isNaN(value) ? null : value))),
  )
  const statement = `SELECT ${compiled.map(({ compiled: { tree, bindings } }, at) => `sum((${toSql(tree, bindings)})::int)::int AS p${at}, count(${toSql(tree, bindings)})::int AS j${at}`).join(', ')} FROM report`
  const sql = async (): Promise<Found> => {
    const [counts] = (await database.query<Record<string, number>>(statement)).rows
    return compiled.reduce(
      (sum, _, at) => ({ passed: sum.passed + counts![`p${at}`]!, judged: sum.judged + counts![`j${at}`]! }),
      { passed: 0, judged: 0 },
    )
  }

  const duck = await duckWith('report', numbers, REPORTS)
  const duckdb = async (): Promise<Found> => {
    const [counts] = (await duck.connection.runAndReadAll(statement)).getRowObjects() as [
      Record<string, number>,
    ]
    return compiled.reduce(
      (sum, _, at) => ({ passed: sum.passed + counts[`p${at}`]!, judged: sum.judged + counts[`j${at}`]! }),
      { passed: 0, judged: 0 },
    )
  }

  sameFound({ ours: ours(), hand: hand(), sql: await sql(), duckdb: await duckdb() })
  const fast = await inTurns({ ours, hand }, 41)
  const beside = await inTurns({ ours, duckdb }, 15)
  const slow = await inTurns({ ours, sql, math, logic }, 5)
  await database.close()
  duck.close()

  const columnBytes = REPORTS * CELLS.length * 8
  const memory = columnBytes + memoryOf(() => judge(compiled, tableOfColumns({ size: REPORTS, numbers })))
  return [
    measurement(WORK, fast.ours, fast.hand, 'loops written by hand', 'ms', 3),
    measurement(WORK, slow.ours, slow.math, 'mathjs, compiled, on row objects', 'ms', 1 / 20),
    measurement(WORK, slow.ours, slow.logic, 'json-logic-js on row objects', 'ms', 1 / 20),
    measurement(WORK, slow.ours, slow.sql, 'one wide SQL statement in PGlite', 'ms', 1),
    measurement(WORK, beside.ours, beside.duckdb, 'one wide SQL statement in DuckDB, one thread', 'ms', 1),
    measurement(`memory of ${WORK}`, memory / 2 ** 20, columnBytes / 2 ** 20, 'the columns', 'MiB', 2),
  ]
}
