import '../support/use-memory'
import fc from 'fast-check'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { NEWBORNS } from '../../demo/registers/newborn'
import { closeDatabase, database } from '../../server/database'
import { listDiscrepancies } from '../../server/discrepancies/list'
import { settle } from '../../server/discrepancies/act'
import { acceptClean, sendBack } from '../../server/reporting/review'
import { applyUnits, undoUnits } from '../../server/units/change'
import { saveGroup } from '../../server/units/groups'
import { previewUnits } from '../../server/units/plan'
import { verify } from '../../server/verification/verify'
import { ChangeRefused, fillReport, sendChanges, sendReport } from '../support/facility'
import { addRegister } from '../support/cases'
import { makeInstallation, NOW, OCTOBER, personOf } from '../support/installation'
import { Refusal } from '../../server/refusal'

const UNITS = ['elm', 'oak', 'ash', 'yew'] as const
const officer = personOf('officer', 'coast')
const admin = personOf('administrator', null)

beforeAll(async () => {
  const sql = await makeInstallation()
  await addRegister(sql, NEWBORNS)
})
afterAll(closeDatabase)

const clerkOf = (unit: string) => personOf('clerk', unit)
/** The version that the cells of a report are at: whoever changes them has seen them. */
async function versions(round: string, unit: string): Promise<Map<string, number>> {
  const sql = await database()
  const rows = await sql.query<{ cell: string; version: number }>(
    'SELECT v.cell, v.version FROM cell_value v JOIN report p ON p.id = v.report WHERE p.round = $1 AND p.unit = $2',
    [round, unit],
  )
  return new Map(rows.map(({ cell, version }) => [cell, version]))
}

async function changeUnits(rows: object[], day: string): Promise<string> {
  const source = { day, rows } as Parameters<typeof previewUnits>[1]
  const { basis } = await previewUnits(admin, source)
  return applyUnits(admin, source, basis)
}
let lastChange: string | undefined
const CASES = [uuid(), uuid(), uuid()]

/** What may happen in a district, each by two small numbers. */
const ACTS: Record<string, (unit: string, number: number) => Promise<unknown>> = {
  async fill(unit, number) {
    const at = await versions(OCTOBER, unit)
    const cell = ['tested', 'positive', 'seen.f', 'seen.m'][number % 4]!
    await fillReport(
      clerkOf(unit),
      OCTOBER,
      unit,
      { [cell]: { value: number, base: at.get(cell) ?? 0 } },
      { why: 'again' },
    )
  },
  send: unit =>
    sendReport(clerkOf(unit), OCTOBER, unit, {
      'rule:within': 'As it is.',
      'rule:many': 'As it is.',
      'rule:many:f': 'As it is.',
      'rule:many:m': 'As it is.',
    }),
  sendBack: unit => sendBack(officer, OCTOBER, unit, 'Please look again.'),
  accept: () => acceptClean(officer, OCTOBER, 'coast', NOW),
  async settle() {
    const { lines } = await listDiscrepancies(officer, { filter: 'unsettled' })
    if (lines[0]) await settle(officer, lines[0].id, 'explained', 'It is so.', [])
  },
  async rename(unit, number) {
    const parent = unit === 'elm' || unit === 'oak' ? 'quay' : 'mill'
    lastChange = await changeUnits([{ code: unit, name: `${unit} ${number}`, parent }], '2026-11-05')
  },
  async move(unit, number) {
    lastChange = await changeUnits(
      [{ code: unit, name: unit, parent: number % 2 ? 'mill' : 'quay' }],
      `2026-${number % 3 ? '10' : '07'}-15`,
    )
  },
  async undo() {
    if (lastChange) await undoUnits(admin, lastChange)
  },
  group: (unit, number) =>
    saveGroup(admin, 'some', {
      name: { en: 'Some', fr: 'Quelques' },
      members: number % 2 ? [{ unit, from: '2026-01-01', to: null }] : [],
    }),
  entry: (unit, number) =>
    sendChanges(clerkOf(unit), [
      {
        kind: 'entry',
        id: uuid(),
        madeAt: NOW,
        // A few cases with several entries each.
        case: CASES[number % CASES.length]!,
        register: NEWBORNS.code,
        edition: 1,
        form: 'birth',
        unit,
        answers: {
          mother_name: { kind: 'value', value: `Mother ${number}` },
          baby_born_on: { kind: 'value', value: `2026-10-${String((number % 28) + 1).padStart(2, '0')}` },
        },
      },
    ]),
}

describe('what is kept', () => {
  it('is what it is computed from, after whatever happened', async () => {
    const step = fc.record({
      act: fc.constantFrom(...Object.keys(ACTS)),
      unit: fc.constantFrom(...UNITS),
      number: fc.integer({ min: 0, max: 250 }),
    })
    let done = 0
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 14 }), async steps => {
        for (const { act, unit, number } of steps) {
          try {
            await ACTS[act]!(unit, number)
            done++
          } catch (error) {
            // Not everything can be done at every moment.
            if (!(error instanceof Refusal) && !(error instanceof ChangeRefused)) throw error
          }
        }
        expect(await verify()).toEqual([])
      }),
      { numRuns: 40 },
    )
    expect(done).toBeGreaterThan(100)
    const sql = await database()
    const [counts] = await sql.query<{ effects: number; reports: number; cases: number }>(
      'SELECT (SELECT count(effect) FROM discrepancy_effect) AS effects, (SELECT count(*) FROM report) AS reports, (SELECT count(last_on) FROM case_record) AS cases',
    )
    expect(counts!.effects).toBeGreaterThan(0)
    expect(counts!.cases).toBeGreaterThan(0)
    expect(counts!.reports).toBeGreaterThan(1)
  })

  it('is noticed when it is not', async () => {
    const sql = await database()
    await sql.query(`UPDATE unit_latest SET name = 'Elsewhere' WHERE code = 'elm'`)
    await sql.query(`UPDATE report SET answered = answered + 1 WHERE unit = 'oak'`)
    await sql.query(`UPDATE report SET path = ARRAY['coast'] WHERE unit = 'ash'`)
    await sql.query(`INSERT INTO cell_value (report, cell, kind) VALUES (999999, 'tested', 'blank')`)
    await sql.query(
      `INSERT INTO case_block (register, key, case_id) VALUES ('newborns', 'moon', gen_random_uuid())`,
    )
    await sql.query(`UPDATE case_entry SET device = gen_random_uuid()`)
    await sql.query(`UPDATE case_record SET last_on = last_on + 1`)
    await sql.query(`UPDATE discrepancy_effect SET effect = coalesce(effect, 0) + 1`)
    const found = new Set((await verify()).map(({ what }) => what))
    expect([...found].sort()).toEqual([
      'answers',
      'caseOfBlock',
      'cellsOfReport',
      'effect',
      'knownOfCase',
      'reportPlace',
      'searchText',
      'sentBy',
      'unit',
    ])
  })
})
