import '../../tests/support/use-memory'
import { afterAll, describe, expect, it } from 'vitest'
import { closeDatabase, database } from './index'
import { msOf, numberOrNull, rowsOfText, rowText } from './row-text'

afterAll(closeDatabase)

const GIVEN = `(VALUES ('elm', 1, '2026-10-31T23:30:00.999999+02:00'::timestamptz), ('oak', NULL, NULL), (NULL, 0, '1969-12-31T23:59:59Z')) AS g (unit, count, at)`

describe('rows as a text', () => {
  it('come back as they are: nothing, zero, and a point in time to its millisecond', async () => {
    const sql = await database()
    const [row] = await sql.query<{ rows: string }>(
      `SELECT ${rowText('unit', 'count', msOf('at'))} AS rows FROM ${GIVEN}`,
    )
    expect(
      rowsOfText(row!.rows).map(([unit, count, at]) => [unit, numberOrNull(count!), numberOrNull(at!)]),
    ).toEqual([
      ['elm', 1, Date.parse('2026-10-31T21:30:00.999Z')],
      ['oak', null, null],
      ['', 0, -1000],
    ])
  })

  it('are none where there are none', async () => {
    const sql = await database()
    const [row] = await sql.query<{ rows: string | null }>(
      `SELECT ${rowText('unit')} AS rows FROM ${GIVEN} WHERE false`,
    )
    expect(rowsOfText(row!.rows)).toEqual([])
  })
})
