import { PGlite } from '@electric-sql/pglite'
import fc from 'fast-check'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { CellContent } from '../report/cell'
import { must } from '../result'
import { tableOf, type CellMap } from '../report/table'
import { compile } from './compile'
import { explain } from './explain'
import { evaluateRow } from './evaluate-row'
import { parse } from './parse'
import { print } from './print'
import { renameCode } from './rename'
import { scan } from './scan'
import type { Node } from './syntax'
import { NOTHING, type Vocabulary } from './vocabulary'

/** Three plain number names: what every law is tried on. */
const vocabularyOf = (...codes: string[]): Vocabulary => ({
  label: { en: 'three' },
  others: NOTHING,
  lists: NOTHING,
  names: new Map(
    codes.map((code, at) => [
      code,
      {
        code,
        label: { en: code },
        type: 'number',
        unitOfMeasure: null,
        axes: [],
        cells: [{ key: 'abc'[at]!, bands: [] }],
      },
    ]),
  ),
})
const VOCABULARY = vocabularyOf('a', 'b', 'c')
const row = (...numbers: (number | null)[]): CellMap =>
  Object.fromEntries(
    numbers.map((number, at): [string, CellContent] => [
      'abc'[at]!,
      number === null ? { kind: 'blank' } : { kind: 'value', value: number },
    ]),
  )

/** A random expression, in our language and in SQL. */
interface Twin {
  ours: string
  sql: string
}
const twin = (ours: string, sql = ours): Twin => ({ ours, sql })
const { truth } = fc.letrec<{ number: Twin; truth: Twin }>(tie => ({
  number: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    fc.constantFrom('a', 'b', 'c').map(name => twin(name)),
    fc.nat(4).map(literal => twin(String(literal))),
    fc
      .tuple(tie('number'), fc.constantFrom('+', '-', '*'), tie('number'))
      .map(([one, sign, other]) =>
        twin(`(${one.ours} ${sign} ${other.ours})`, `(${one.sql} ${sign} ${other.sql})`),
      ),
    fc
      .tuple(tie('number'), tie('number'))
      .map(([one, other]) =>
        twin(`coalesce(${one.ours}, ${other.ours})`, `coalesce(${one.sql}, ${other.sql})`),
      ),
    fc
      .tuple(tie('truth'), tie('number'), tie('number'))
      .map(([test, one, other]) =>
        twin(
          `if(${test.ours}, ${one.ours}, ${other.ours})`,
          `(CASE WHEN (${test.sql}) THEN ${one.sql} WHEN NOT (${test.sql}) THEN ${other.sql} END)`,
        ),
      ),
    tie('number').map(one => twin(`abs(${one.ours})`, `abs(${one.sql})`)),
  ),
  truth: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    fc
      .tuple(
        tie('number'),
        fc.constantFrom(['=', '='], ['!=', '<>'], ['<', '<'], ['<=', '<='], ['>', '>'], ['>=', '>=']),
        tie('number'),
      )
      .map(([one, [sign, other], right]) =>
        twin(`${one.ours} ${sign} ${right.ours}`, `${one.sql} ${other} ${right.sql}`),
      ),
    fc
      .tuple(tie('number'), tie('number'), tie('number'))
      .map(([one, low, high]) =>
        twin(
          `${one.ours} between ${low.ours} and ${high.ours}`,
          `${one.sql} BETWEEN ${low.sql} AND ${high.sql}`,
        ),
      ),
    fc
      .tuple(tie('number'), fc.array(tie('number'), { minLength: 1, maxLength: 3 }))
      .map(([one, list]) =>
        twin(
          `${one.ours} in (${list.map(({ ours }) => ours).join(', ')})`,
          `${one.sql} IN (${list.map(({ sql }) => sql).join(', ')})`,
        ),
      ),
    fc
      .tuple(tie('truth'), fc.constantFrom('and', 'or'), tie('truth'))
      .map(([one, word, other]) =>
        twin(`(${one.ours}) ${word} (${other.ours})`, `(${one.sql}) ${word} (${other.sql})`),
      ),
    tie('truth').map(one => twin(`not (${one.ours})`, `not (${one.sql})`)),
    tie('number').map(one => twin(`filled(${one.ours} + 0)`, `(${one.sql}) IS NOT NULL`)),
    fc
      .tuple(tie('truth'), tie('truth'))
      .map(([one, other]) =>
        twin(`(${one.ours}) implies (${other.ours})`, `(not (${one.sql})) or (${other.sql})`),
      ),
  ),
}))
const maybe = fc.option(fc.nat(4))

const parsed = (text: string): Node => {
  const { tree, problems } = parse(scan(text).tokens)
  if (problems.length) throw new Error(`${text}: ${problems[0]!.message}`)
  return tree
}
/** A tree without its places. */
const shape = (node: unknown): unknown =>
  JSON.parse(JSON.stringify(node, (key, value) => (key === 'at' || key.endsWith('At') ? undefined : value)))

describe('laws of the language', () => {
  let database: PGlite
  beforeAll(async () => {
    database = await PGlite.create()
  })
  afterAll(async () => {
    await database.close()
  })

  it('its logic of three values is PostgreSQL’s, with NULL for blank', async () => {
    await fc.assert(
      fc.asyncProperty(truth, maybe, maybe, maybe, async ({ ours, sql }, a, b, c) => {
        if (ours.length > 1900) return
        const result = compile(ours, VOCABULARY, 'truth')
        if (!result.ok) throw new Error(result.problems[0]!.message)
        const truthOf = evaluateRow(result.value, tableOf([row(a, b, c)]), 0)
        const { rows } = await database.query<{ is: boolean | null }>(
          `SELECT (${sql}) AS is FROM (VALUES ($1::numeric, $2::numeric, $3::numeric)) AS given (a, b, c)`,
          [a, b, c],
        )
        expect(truthOf === null ? null : truthOf === 1).toBe(rows[0]!.is)
      }),
      { numRuns: 1000 },
    )
  })

  it('numbers right, 2: its decimals are PostgreSQL’s exact ones', async () => {
    const tenth = fc.integer({ min: 0, max: 9_999_999 }).map(number => number / 10)
    const near = fc
      .tuple(tenth, tenth, fc.constantFrom(0, 0, 0.1, -0.1))
      .map(([a, b, off]) => ({ a, b, c: Math.round((a + b + off) * 10) / 10 }))
    const shapes = [
      'a + b OP c',
      'c - a OP b',
      'c - a - b OP 0',
      'a OP c - b',
      '(c - b) * 3 OP a * 3',
      'c - b + a - a OP a',
      'c / 1 OP b + a',
    ]
    const property = fc.asyncProperty(
      near,
      fc.constantFrom(...shapes),
      fc.constantFrom('=', '!=', '<', '<=', '>', '>='),
      async ({ a, b, c }, form, sign) => {
        const text = form.replace('OP', sign)
        const compiled = must(compile(text, VOCABULARY, 'truth'))
        const [{ is }] = (
          await database.query<{ is: boolean }>(
            `SELECT (${text.replace('!=', '<>')}) AS is FROM (VALUES ($1::numeric, $2::numeric, $3::numeric)) AS given (a, b, c)`,
            [a, b, c],
          )
        ).rows as [{ is: boolean }]
        const table = tableOf([row(a, b, c)])
        expect([text, a, b, c, evaluateRow(compiled, table, 0) === 1]).toEqual([text, a, b, c, is])
        // The explanation says the same, and never “apart by 0” of numbers that differ.
        const { relation, by } = explain(compiled, table, 0)
        expect(by === 0).toBe(relation === '=')
        expect(sign === '=' ? relation === '=' : sign === '!=' ? relation !== '=' : true).toBe(
          sign === '=' || sign === '!=' ? is : true,
        )
      },
    )
    await fc.assert(property, { numRuns: 1500 })
  })

  it('parse(print(x)) = x, and printing is settled after once', () => {
    fc.assert(
      fc.property(truth, ({ ours }) => {
        const tree = parsed(ours)
        expect(shape(parsed(print(tree)))).toEqual(shape(tree))
        expect(print(parsed(print(tree)))).toBe(print(tree))
      }),
      { numRuns: 1000 },
    )
  })

  it('a column gives what each of its rows gives', () => {
    const column = fc.array(fc.tuple(maybe, maybe, maybe), { minLength: 1, maxLength: 20 })
    fc.assert(
      fc.property(truth, column, ({ ours }, rows) => {
        const compiled = must(compile(ours, VOCABULARY))
        const table = tableOf(rows.map(numbers => row(...numbers)))
        const each = rows.map((numbers, at) => [
          evaluateRow(compiled, table, at),
          evaluateRow(compiled, tableOf([row(...numbers)]), 0),
        ])
        expect(each).toEqual(
          [...compiled.run(table)].map(value => (Number.isNaN(value) ? [null, null] : [value, value])),
        )
      }),
      { numRuns: 500 },
    )
  })

  it('gives the same in columns longer than a block', () => {
    const numbers = Array.from({ length: 2_500 }, (_, at) => [at % 7 === 0 ? null : at % 5, at % 3, at % 11])
    const compiled = must(
      compile('if(a > b, a + c, b) between c - 2 and coalesce(a, 9) or c in (b, 3)', VOCABULARY),
    )
    const whole = compiled.run(tableOf(numbers.map(one => row(...one))))
    numbers.forEach((one, at) => expect(whole[at]).toEqual(compiled.run(tableOf([row(...one)]))[0]))
  })

  it('renaming a code changes no result', () => {
    fc.assert(
      fc.property(truth, maybe, maybe, maybe, ({ ours }, a, b, c) => {
        const renamed = renameCode(ours, { what: 'item', from: 'a', to: 'another' }, VOCABULARY)
        expect(renamed).not.toMatch(/\ba\b/)
        const table = tableOf([row(a, b, c)])
        expect(evaluateRow(must(compile(renamed, vocabularyOf('another', 'b', 'c'))), table, 0)).toBe(
          evaluateRow(must(compile(ours, VOCABULARY)), table, 0),
        )
      }),
      { numRuns: 500 },
    )
  })

  it.each([
    ['1+2*3', '1 + 2 * 3'],
    ['(1+2)*3', '(1 + 2) * 3'],
    ['1-(2-3)', '1 - (2 - 3)'],
    ['((a))', 'a'],
    ['deliveries[ u20,facility ]<=  3', 'deliveries[u20, facility] <= 3'],
    ['not(a=1 and b=2)', 'not (a = 1 and b = 2)'],
    ['a=1 implies b=2 implies c=3', 'a = 1 implies b = 2 implies c = 3'],
    ['max( 1,2 )', 'max(1, 2)'],
    ['-(1+2)', '-(1 + 2)'],
    ['"say ""ah"""=x', '"say ""ah""" = x'],
    ['x between(1)and 2 and y', 'x between 1 and 2 and y'],
    ['a . b[c]', 'a.b[c]'],
    ['count( m where(x>1) )', 'count(m where x > 1)'],
  ])('%s in its canonical form', (text, canonical) => {
    expect(print(parsed(text))).toBe(canonical)
    expect(print(parsed(canonical))).toBe(canonical)
  })
})
