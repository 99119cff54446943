import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { writeFilters, type AnswerFilter } from '#core/cases/answer-filter'
import { parseDay } from '#core/calendar/day'
import type { CaseQuery } from '#core/contract/cases'
import type { EntryMade } from '#core/contract/desk'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { areCasesToFold, foldWaitingCases } from '../../server/cases/known'
import { listCases } from '../../server/cases/list'
import { closeDatabase, type Database } from '../../server/database'
import { publishRegister, saveRegister } from '../../server/registers/drafts'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, filled, takeEntries, type Values } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const officer = personOf('officer', 'north')
const admin = personOf('administrator', null)
let sql: Database

const person = (at: number, more: Values = {}): Values => ({
  case_number: `ASH-26-${String(at).padStart(4, '0')}`,
  full_name: ['Élan Fyne', 'Nell Osk', 'Tavi Marsh', 'Ione Quill'][at % 4]!,
  sex: at % 2 ? 'f' : 'm',
  told_age: at % 7,
  rash_on: `2026-10-${String(1 + (at % 28)).padStart(2, '0')}`,
  notified_on: `2026-10-${String(1 + (at % 28)).padStart(2, '0')}`,
  signs: at % 3 ? ['fever'] : ['fever', 'cough'],
  admitted: at % 5 === 0,
  ...more,
})

/** What was registered, as a plain list: the model that the queries are held against. */
const cases = Array.from({ length: 130 }, (_, at) => ({
  id: uuid(),
  unit: ['elm', 'oak', 'ash'][at % 3]!,
  values: person(at),
}))
const entry = ({ case: of, answers, ...more }: Partial<EntryMade> & Pick<EntryMade, 'case' | 'answers'>) => ({
  ...entryMade(of, {}, more),
  answers,
})
const take = (...entries: EntryMade[]) => takeEntries(sql, entries)

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
  await take(
    ...cases.map(({ id, unit, values }) => entry({ case: id, unit, answers: filled(values) as never })),
  )
})
afterAll(closeDatabase)

const ask = (more: Partial<CaseQuery>, who = admin) =>
  listCases(who, { register: 'measles_cases', ...more }, { most: 1000 })
const idsOf = async (more: Partial<CaseQuery>, who = admin) =>
  (await ask(more, who)).lines.map(({ id }) => id).sort()
const model = (holds: (one: (typeof cases)[number]) => boolean) =>
  cases
    .filter(holds)
    .map(({ id }) => id)
    .sort()

describe('the list of a register', () => {
  it.each<[string, AnswerFilter[], (values: Values) => boolean]>([
    ['a choice', [{ code: 'sex', is: 'value', value: 'f' }], ({ sex }) => sex === 'f'],
    ['yes or no', [{ code: 'admitted', is: 'value', value: true }], ({ admitted }) => admitted === true],
    [
      'one of several',
      [{ code: 'signs', is: 'value', value: ['cough'] }],
      ({ signs }) => (signs as string[]).includes('cough'),
    ],
    [
      'a number between two, and a choice',
      [
        { code: 'told_age', is: 'between', from: 2, to: 4 },
        { code: 'sex', is: 'value', value: 'm' },
      ],
      ({ told_age: age, sex }) => Number(age) >= 2 && Number(age) <= 4 && sex === 'm',
    ],
    [
      'days up to one',
      [{ code: 'rash_on', is: 'between', from: null, to: '2026-10-09' }],
      ({ rash_on: day }) => parseDay(String(day)).ok && String(day) <= '2026-10-09',
    ],
    ['what nobody has said', [{ code: 'outcome', is: 'missing' }], () => true],
  ])('finds by %s what the model finds', async (_, filters, holds) => {
    const expected = model(({ values }) => holds(values))
    const found = await ask({ answers: writeFilters(filters) })
    expect(found.lines.map(({ id }) => id).sort()).toEqual(expected)
    expect(found.counts).toEqual({ found: expected.length, all: cases.length })
  })

  it.each([['"3"'], ['["2", "4"]'], ['[]'], ['true'], ['null']])(
    'does not take %s, of an earlier edition, for a number',
    async strange => {
      const filter = { answers: 'told_age.from=0' }
      const before = await idsOf(filter)
      const [id] = before
      const set = (value: string) =>
        sql.query(
          `UPDATE case_record SET known = jsonb_set(known, '{told_age,value}', $2::jsonb) WHERE id = $1`,
          [id!, value],
        )
      await set(strange)
      const found = [await idsOf(filter), await idsOf({ answers: 'told_age.to=100' })]
      await set(String(cases.find(one => one.id === id)!.values.told_age))
      expect(found).toEqual([before.slice(1), before.slice(1)])
    },
  )

  it('is searched without accents and case, within a branch, and counts only that', async () => {
    expect(await idsOf({ find: 'elan FYNE', unit: 'elm' })).toEqual(
      model(({ values, unit }) => values.full_name === 'Élan Fyne' && unit === 'elm'),
    )
    const own = await ask({}, officer)
    expect(own.counts).toEqual({ found: own.lines.length, all: own.lines.length })
    expect(own.lines.map(({ id }) => id).sort()).toEqual(model(({ unit }) => unit !== 'ash'))
    await expect(ask({ unit: 'south' }, officer)).rejects.toMatchObject({ code: 'outside-branch' })
  })

  it.each([
    ['full_name', 'ascending'],
    ['told_age', 'descending'],
    ['lastOn', 'descending'],
    ['receivedAt', 'ascending'],
  ] as const)('sorted by %s, %s, comes page by page, each case once', async (sort, order) => {
    const pages: string[] = []
    const asked = { register: 'measles_cases', sort, order, columns: 'full_name,told_age' }
    for (let after: string | undefined; ;) {
      const page = await listCases(admin, { ...asked, after }, { most: 17 })
      expect(page.counts === null).toBe(after !== undefined)
      pages.push(...page.lines.map(({ id }) => id))
      if (!page.more) break
      after = page.lines.at(-1)!.id
    }
    expect(pages.length).toBe(cases.length)
    expect(new Set(pages).size).toBe(cases.length)
    if (sort !== 'full_name' && sort !== 'told_age') return
    const values = pages.map(id => cases.find(one => one.id === id)!.values[sort] as string | number)
    const sorted = [...values].sort((one, other) =>
      typeof one === 'number' ? Number(other) - one : one < String(other) ? -1 : one > String(other) ? 1 : 0,
    )
    if (sort === 'told_age') expect(values).toEqual(sorted)
    // Texts are in the order of the database's language; equal ones stand together in any.
    else expect(values.filter((value, at) => value !== values[at - 1]).length).toBe(4)
  })

  it('shows the asked columns, and says what is wrong with a query at its place', async () => {
    const [line] = (await ask({ columns: 'sex,told_age' })).lines
    expect(Object.keys(line!.answers).sort()).toEqual(['sex', 'told_age'])
    for (const [query, code] of [
      [{ columns: 'sex,gone' }, 'no-question'],
      [{ sort: 'gone' }, 'no-question'],
      [{ answers: 'gone=1' }, 'filter-question'],
      [{ answers: 'told_age.from=x' }, 'filter-number'],
      [{ answers: 'rash_on.to=2026-02-30' }, 'filter-day'],
      [{ answers: 'full_name.from=a' }, 'filter-question'],
      [{ answers: 'admitted=perhaps' }, 'filter-choice'],
      [{ register: 'gone' }, 'no-register'],
      [{ register: undefined, answers: 'sex=f' }, 'filter-register'],
    ] as const)
      await expect(ask(query)).rejects.toMatchObject({ status: 400, code })
  })
})

describe('what is kept of a case', () => {
  it('follows its entries: a visit that is due, missed and made, a result awaited and come, a correction', async () => {
    const { id } = cases[0]!
    const visit = entry({
      case: id,
      form: 'home_visit',
      answers: filled({ home_visited_on: '2026-10-10', next_visit_on: '2026-10-20' }) as never,
    })
    const specimen = entry({
      case: id,
      form: 'specimen',
      answers: filled({ specimen_number: 'S1', taken_on: '2026-10-12' }) as never,
    })
    await take(visit, specimen)
    expect(await idsOf({ need: 'visitMissed' })).toEqual([id])
    expect(await idsOf({ need: 'resultAwaited' })).toEqual([id])
    await take(
      entry({ case: id, form: 'home_visit', answers: filled({ home_visited_on: '2026-10-20' }) as never }),
      entry({
        case: id,
        form: 'specimen',
        corrects: specimen.id,
        answers: filled({ specimen_number: 'S1', taken_on: '2026-10-12', result: 'negative' }) as never,
      }),
    )
    expect([await idsOf({ need: 'visitDue' }), await idsOf({ need: 'resultAwaited' })]).toEqual([[], []])
    expect((await ask({ find: 'ash-26-0000' })).lines).toMatchObject([{ entries: 4, nextVisit: null }])
    expect(await verify()).toEqual([])
  })

  it('is the same, whichever of two devices is heard first', async () => {
    const { id } = cases[1]!
    await Promise.all(
      ['negative', 'positive'].map(result =>
        take(
          entry({
            case: id,
            form: 'specimen',
            answers: filled({ specimen_number: result, taken_on: '2026-10-12', result }) as never,
          }),
        ),
      ),
    )
    expect((await ask({ find: 'ash-26-0001' })).lines).toMatchObject([{ entries: 3 }])
    expect(await verify()).toEqual([])
  })

  it('is folded anew when a new edition follows something else', async () => {
    const { id } = cases[2]!
    await take(
      entry({
        case: id,
        form: 'home_visit',
        answers: filled({ home_visited_on: '2026-10-10', next_visit_on: '2026-10-20' }) as never,
      }),
    )
    expect(await idsOf({ need: 'visitMissed' })).toEqual([id])
    const { follow, ...without } = MEASLES_CASES
    expect(follow).toBeDefined()
    await saveRegister(admin, 'measles_cases', { version: 0, draft: without })
    await publishRegister(admin, 'measles_cases', 1)
    expect(await areCasesToFold()).toBe(true)
    expect(await foldWaitingCases()).toBe(cases.length)
    expect([await idsOf({ need: 'visitMissed' }), await verify()]).toEqual([[], []])
  })

  it('that somebody wrote into the tables is told by verify', async () => {
    await sql.query(
      `UPDATE case_record SET known = known || '{"sex": {"kind": "value", "value": "m"}}' WHERE id = $1`,
      [cases[3]!.id],
    )
    expect(await verify()).toMatchObject([{ what: 'knownOfCase', id: cases[3]!.id }])
  })
})

describe('contacts of a case', () => {
  it('are listed by it', async () => {
    const contact = entry({
      case: uuid(),
      register: 'measles_contacts',
      form: 'contact',
      parent: cases[4]!.id,
      answers: filled({ contact_name: 'Tam' }) as never,
    })
    await take(contact)
    expect((await listCases(officer, { parent: cases[4]!.id })).lines).toMatchObject([
      { id: contact.case, register: 'measles_contacts', parent: cases[4]!.id },
    ])
  })
})
