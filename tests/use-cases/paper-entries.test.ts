import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { PaperEntry } from '#core/contract/paper-entry'
import { MEASLES_CASES } from '../../demo/registers/measles'
import { caseFile } from '../../server/cases/file'
import { takePaper } from '../../server/cases/take-paper'
import { mergePair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { closeDatabase, type Database } from '../../server/database'
import { receiveSince } from '../../server/desk/receive'
import { addRegister, entryMade, filled, takeEntries, type Values } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const VALUES = {
  case_number: 'ELM-26-0001',
  full_name: 'Sorrel Hyde',
  sex: 'f',
  told_age: 4,
  zone: 'quay',
  rash_on: '2026-10-20',
}
let sql: Database
const paper = (values: Values = VALUES, more: Partial<PaperEntry> = {}): PaperEntry => ({
  id: uuid(),
  case: uuid(),
  register: 'measles_cases',
  edition: 1,
  form: 'registration',
  unit: 'elm',
  answers: filled(values),
  paperOn: '2026-10-22',
  ...more,
})

beforeAll(async () => {
  sql = await makeInstallation()
  await addRegister(sql, MEASLES_CASES)
})
afterAll(closeDatabase)

describe('a case form that was filled on paper', () => {
  const first = paper()

  it('is entered at the office, marked with the day of the paper and who entered it', async () => {
    expect(await takePaper(north, first)).toEqual({ case: first.case })
    const { entries, unit } = await caseFile(north, first.case)
    expect(unit.code).toBe('elm')
    expect(entries).toMatchObject([
      {
        paperOn: '2026-10-22',
        device: null,
        by: north.displayName,
        madeAt: expect.stringContaining('2026-10-22'),
      },
    ])
  })

  it('is heard by the devices of the facility, as any entry', async () => {
    const { events } = await receiveSince(personOf('clerk', 'elm'), {})
    expect(events).toMatchObject([{ kind: 'entry', id: first.id, case: first.case }])
    expect((await receiveSince(personOf('clerk', 'ash'), {})).events).toEqual([])
  })

  it('is the same entry when it comes twice', async () => {
    expect(await takePaper(north, first)).toEqual({ case: first.case })
    expect((await caseFile(north, first.case)).entries).toHaveLength(1)
  })

  it('happened on the day of the paper, where no question says when', async () => {
    const { answers, ...rest } = paper()
    const { rash_on: _, notified_on: __, ...without } = answers
    await takePaper(north, { ...rest, answers: without })
    const [row] = await sql.query<{ on: string }>(
      'SELECT happened_on::text AS on FROM case_entry WHERE id = $1',
      [rest.id],
    )
    expect(row!.on).toBe('2026-10-22')
  })

  it('corrects what a device sent, and moves a case to another day', async () => {
    const sent = entryMade(uuid(), { ...VALUES, full_name: 'Tavi Quill', case_number: 'ELM-26-0002' })
    await takeEntries(sql, [sent])
    await takePaper(
      north,
      paper(
        { ...VALUES, full_name: 'Tavi Quill', case_number: 'ELM-26-0002', rash_on: '2026-09-29' },
        {
          case: sent.case,
          corrects: sent.id,
        },
      ),
    )
    const [row] = await sql.query<{ rash: string }>(
      `SELECT known -> 'rash_on' ->> 'value' AS rash FROM case_record WHERE id = $1`,
      [sent.case],
    )
    expect(row!.rash).toBe('2026-09-29')
  })

  it('for a merged case goes to the case that it is part of', async () => {
    const twin = paper({ ...VALUES, case_number: 'ELM-26-0009' })
    await takePaper(north, twin)
    const [pair] = (await listPairs(personOf('administrator', null), { case: twin.case })).lines
    const kept = pair!.one.id === twin.case ? pair!.other.id : pair!.one.id
    await mergePair(north, pair!.id, kept)
    expect(await takePaper(north, paper({ ...VALUES }, { case: twin.case, corrects: twin.id }))).toEqual({
      case: kept,
    })
  })

  it('is refused with the place: a day to come, another branch, a form or a unit that is none', async () => {
    await expect(takePaper(north, paper(VALUES, { paperOn: '2026-12-24' }))).rejects.toMatchObject({
      status: 422,
      code: 'paper-day',
    })
    await expect(takePaper(south, paper())).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(takePaper(north, paper(VALUES, { form: 'nothing' }))).rejects.toMatchObject({
      code: 'entry-form',
    })
    await expect(takePaper(north, paper(VALUES, { unit: 'nowhere' }))).rejects.toMatchObject({
      code: 'no-unit',
    })
    await expect(takePaper(north, paper({ ...VALUES, rash_on: 'yesterday' }))).rejects.toMatchObject({
      status: 422,
    })
  })
})
