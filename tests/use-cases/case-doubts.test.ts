import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { EntryMade } from '#core/contract/desk'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { WATER_VISITS } from '../../demo/registers/water-visit'
import { mergePair, undoPair } from '../../server/cases/pair-acts'
import { listPairs } from '../../server/cases/pair-list'
import { areCasesToFold, foldWaitingCases } from '../../server/cases/known'
import { listCases } from '../../server/cases/list'
import { tryCaseRule } from '../../server/cases/try-rule'
import { closeDatabase, type Database } from '../../server/database'
import { receiveSince } from '../../server/desk/receive'
import { deskWork } from '../../server/desk/work'
import { caseDoubtFile, listCaseDoubts } from '../../server/discrepancies/about-cases'
import { answer, ask, reopen, settle } from '../../server/discrepancies/act'
import { publishRegister, saveRegister } from '../../server/registers/drafts'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, takeEntries, type Values } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
const clerk = personOf('clerk', 'elm')
let sql: Database

const take = (...entries: EntryMade[]) => takeEntries(sql, entries)
const doubtsOf = async (id: string, who = admin) =>
  (await listCaseDoubts(who, { case: id })).lines.map(
    ({ title, state, outcome, holds }) =>
      `${title.en!.split(' ').slice(0, 4).join(' ')}: ${outcome ?? state}${holds ? '' : ', gone'}`,
  )
const idOf = async (id: string) => (await listCaseDoubts(admin, { case: id })).lines[0]!.id
let people = 0
const NAMES = [
  'Ila Marsh',
  'Tavi Quill',
  'Orsel Brannoch',
  'Wenna Drift',
  'Kester Vale',
  'Sorrel Hyde',
  'Perran Osk',
  'Loren Fenner',
  'Mireth Croft',
  'Dunstan Pell',
  'Yarrow Finch',
  'Edda Thorne',
]
async function somebody(more: Values = {}, unit = 'elm') {
  const id = uuid()
  people++
  const registration = entryMade(
    id,
    {
      case_number: `ASH-26-${String(people).padStart(4, '0')}`,
      full_name: NAMES[people]!,
      sex: people % 2 ? 'f' : 'm',
      born_on: `20${10 + people}-03-11`,
      rash_on: '2026-10-20',
      ...more,
    },
    { unit },
  )
  await take(registration)
  return { id, registration }
}
const specimen = (id: string, taken: string, more: Partial<EntryMade> = {}) =>
  entryMade(id, { specimen_number: 'SPEC-0001', taken_on: taken }, { form: 'specimen', ...more })

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS, WATER_VISITS]) await addRegister(sql, register)
})
afterAll(closeDatabase)

describe('a doubt about a case', () => {
  it('opens when the entry comes, with the numbers, and closes by itself when a new entry corrects it', async () => {
    const { id } = await somebody()
    const wrong = specimen(id, '2026-10-01')
    await take(wrong)
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: open'])
    const file = await caseDoubtFile(north, await idOf(id))
    expect(file.line).toMatchObject({ strength: 'mustFix', case: { id }, entry: null })
    expect(file.doubt.explanation).toMatchObject({ left: { value: '2026-10-01' }, by: 19 })
    expect(file.doubt.answers.map(({ from, cell }) => `${from}.${cell}`)).toEqual([
      'specimen.taken_on',
      'registration.rash_on',
    ])
    await take(specimen(id, '2026-10-22', { corrects: wrong.id }))
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: corrected, gone'])
    expect((await caseDoubtFile(north, await idOf(id))).thread.map(({ act }) => act)).toEqual([
      'found',
      'settled',
    ])
  })

  it('is asked about, answered, explained; the explanation lapses when the answers change', async () => {
    const { id } = await somebody()
    const late = specimen(id, '2026-11-25')
    await take(late)
    const doubt = await idOf(id)
    await ask(north, doubt, 'Is the day right?')
    const work = await deskWork(clerk)
    expect(work.caseConversations.map(({ line }) => line.id)).toEqual([doubt])
    expect(work.caseConversations[0]).toMatchObject({ line: { state: 'asked' }, forClerk: { en: /28 days/ } })
    await sql.transaction(tx =>
      answer(tx, clerk, doubt, 'The laboratory asked for a second one.', [], {
        origin: 'desk',
        mustMay: () => Promise.resolve(),
      }),
    )
    await settle(north, doubt, 'explained', 'A second specimen.', [])
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: explained'])
    await take(entryMade(id, { home_visited_on: '2026-10-30' }, { form: 'home_visit' }))
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: explained'])
    await take(specimen(id, '2026-11-27', { corrects: late.id }))
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: lapsed'])
    await settle(north, doubt, 'dismissed', 'Known.', [])
    await reopen(north, doubt, 'Looked at once more.')
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: open'])
    await expect(settle(north, doubt, 'corrected', 'It is right now.', [])).rejects.toMatchObject({
      status: 409,
      code: 'still-holds',
    })
    const correction = { cell: 'taken_on', base: 0, content: { kind: 'value' as const, value: '2026-10-22' } }
    await expect(settle(north, doubt, 'corrected', 'Now.', [correction])).rejects.toMatchObject({
      status: 422,
      code: 'not-doubted',
    })
  })

  it('that was corrected before the answer came keeps the answer, and stays closed', async () => {
    const { id } = await somebody()
    const wrong = specimen(id, '2026-10-01')
    await take(wrong)
    const doubt = await idOf(id)
    await ask(north, doubt, 'Is the day right?')
    await take(specimen(id, '2026-10-22', { corrects: wrong.id }))
    await sql.transaction(tx =>
      answer(tx, clerk, doubt, 'No: I corrected it.', [], {
        origin: 'desk',
        mustMay: () => Promise.resolve(),
      }),
    )
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: corrected, gone'])
    const { thread } = await caseDoubtFile(north, doubt)
    expect(thread.map(({ act, text }) => text ?? act)).toEqual([
      'found',
      'Is the day right?',
      'settled',
      'No: I corrected it.',
    ])
  })

  it('comes with the sentence of whoever filled the entry', async () => {
    const { id } = await somebody()
    await take(
      specimen(id, '2026-11-24', { explanations: { 'rule:specimen_in_time': 'The road was closed.' } }),
    )
    expect(await doubtsOf(id)).toEqual(['The specimen was taken: answered'])
    const { thread } = await caseDoubtFile(north, await idOf(id))
    expect(thread.map(({ act, text }) => [act, text])).toEqual([
      ['found', null],
      ['explained', 'The road was closed.'],
    ])
  })

  it('within one entry is about that entry, through its corrections, and not about the others', async () => {
    const of = uuid()
    const visit = (working: number, more: Partial<EntryMade> = {}) =>
      entryMade(
        of,
        {
          visited_on: '2026-10-20',
          ...Object.fromEntries(
            ['waiting', 'consulting', 'injection', 'latrines'].flatMap(room => [
              [`basins.${room}`, 1],
              [`working.${room}`, room === 'waiting' ? working - 3 : 1],
            ]),
          ),
        },
        { register: 'water_visits', form: 'water_visit', ...more },
      )
    const [first, second] = [visit(6), visit(4)]
    await take(first, second)
    expect(await doubtsOf(of)).toEqual(['More basins work than: open'])
    const [line] = (await listCaseDoubts(north, { case: of })).lines
    expect(line!.entry).toBe(first.id)
    const still = visit(5, { corrects: first.id })
    await take(still)
    expect((await listCaseDoubts(north, { case: of })).lines).toMatchObject([
      { id: line!.id, entry: still.id, state: 'open' },
    ])
    await take(visit(4, { corrects: still.id }))
    expect(await doubtsOf(of)).toEqual(['More basins work than: corrected, gone'])
  })

  it('against the parent case is judged again when the parent changes', async () => {
    const { id, registration } = await somebody()
    const contact = uuid()
    const of = { register: 'measles_contacts', form: 'contact', parent: id, unit: 'oak' }
    await take(entryMade(contact, { contact_name: 'Bran Tolley', met_on: '2026-10-30' }, of))
    expect(await doubtsOf(contact)).toEqual(['Met from four days: open'])
    await take(
      entryMade(id, { full_name: NAMES[people]!, rash_on: '2026-10-28' }, { corrects: registration.id }),
    )
    expect(await doubtsOf(contact)).toEqual(['Met from four days: corrected, gone'])
  })

  it('about a case without the other part is not raised: what is not known is not judged', async () => {
    const { id } = await somebody()
    await take(
      entryMade(
        id,
        {},
        {
          form: 'specimen',
          answers: { taken_on: { kind: 'notKnown', reason: 'The page is torn.' } },
        },
      ),
    )
    expect(await doubtsOf(id)).toEqual([])
  })

  it('of a case that becomes part of another is over, and open again when the two are taken apart', async () => {
    const who = { born_on: '2019-04-04', full_name: 'Rowan Applegarth', sex: 'f' }
    const one = await somebody(who)
    const other = await somebody({ ...who, rash_on: '2026-10-21' })
    await take(specimen(other.id, '2026-10-02'))
    expect(await doubtsOf(other.id)).toEqual(['The specimen was taken: open'])
    const pair = (await listPairs(admin, { case: one.id })).lines[0]!
    await mergePair(north, pair.id, one.id)
    // The entries of both are one file now, and the doubt is about that file.
    expect(await doubtsOf(one.id)).toEqual([
      'The specimen was taken: open',
      'The specimen was taken: corrected, gone',
    ])
    await undoPair(north, pair.id)
    expect(await doubtsOf(one.id)).toEqual(['The specimen was taken: corrected, gone'])
    expect(await doubtsOf(other.id)).toEqual(['The specimen was taken: lapsed'])
  })

  it('is judged by the newest edition, for old cases too', async () => {
    const { id } = await somebody()
    await take(entryMade(id, { specimen_number: 'S-1', taken_on: '2026-10-22' }, { form: 'specimen' }))
    expect(await doubtsOf(id)).toEqual([])
    const rule = {
      ...MEASLES_CASES.rules[0]!,
      code: 'number_in_full',
      name: { en: 'A number is in full', fr: 'Un numéro est entier' },
      expression: 'length(specimen_number) > 4',
    }
    const draft = { ...MEASLES_CASES, rules: [...MEASLES_CASES.rules, rule] }
    const saved = await saveRegister(admin, 'measles_cases', { version: 0, draft })
    await publishRegister(admin, 'measles_cases', saved.version)
    expect(await areCasesToFold()).toBe(true)
    await foldWaitingCases()
    expect(await doubtsOf(id)).toEqual(['A number is in: open'])
  })

  it('is seen, and worked on, by those of its branch only', async () => {
    const { id } = await somebody()
    await take(specimen(id, '2026-10-01'))
    const doubt = await idOf(id)
    expect(await doubtsOf(id, south)).toEqual([])
    await expect(caseDoubtFile(south, doubt)).rejects.toMatchObject({ status: 403 })
    await expect(ask(south, doubt, 'What is it?')).rejects.toMatchObject({ status: 403 })
    expect((await listCaseDoubts(south, {})).counts.unsettled).toBe(0)
    const ofOwn = { ...clerk, id: uuid(), ownOnly: true }
    expect(await doubtsOf(id, ofOwn)).toEqual([])
    await expect(caseDoubtFile(ofOwn, doubt)).rejects.toMatchObject({ status: 403 })
  })

  it('is heard of by the devices of the facility, and found in the list of cases', async () => {
    const { id } = await somebody()
    const before = (await receiveSince(clerk, {})).cursor
    await take(specimen(id, '2026-10-01'))
    const { events } = await receiveSince(clerk, { since: before })
    expect(
      events.map(event => (event.kind === 'caseQuestion' ? [event.case, event.act] : event.kind)),
    ).toEqual([[id, 'found'], 'entry'])
    const { lines } = await listCases(north, { need: 'hasDoubt', register: 'measles_cases' })
    expect(lines.map(one => one.id)).toContain(id)
    const counts = (await listCaseDoubts(north, {})).counts
    expect(counts.unsettled).toBe(counts.mustFix + counts.explain + (await notes()))
  })
  const notes = async () => {
    const [row] = await sql.query<{ count: number }>(
      `SELECT count(*)::int AS count FROM discrepancy WHERE case_id IS NOT NULL AND state <> 'settled' AND strength = 'note'`,
    )
    return row!.count
  }

  it('can be seen before anybody is asked: a rule of a draft on the cases that are there', async () => {
    const late = {
      ...MEASLES_CASES.rules[0]!,
      code: 'late',
      expression: 'specimen.taken_on <= registration.rash_on',
    }
    const draft = { ...MEASLES_CASES, rules: [late] }
    const tried = await tryCaseRule(north, 'measles_cases', { draft, rule: 'late' })
    const [row] = await sql.query<{ all: number; judged: number; fired: number }>(
      `SELECT count(*)::int AS all, count(taken)::int AS judged, (count(*) FILTER (WHERE taken > rash))::int AS fired FROM (
         SELECT (SELECT e.answers -> 'taken_on' ->> 'value' FROM case_entry e WHERE e.case_id = c.id AND e.form = 'specimen'
             AND NOT EXISTS (SELECT 1 FROM case_entry n WHERE n.corrects = e.id) ORDER BY e.happened_on DESC, e.seq DESC LIMIT 1) AS taken,
           c.known -> 'rash_on' ->> 'value' AS rash
         FROM case_record c WHERE c.register = 'measles_cases' AND c.merged_into IS NULL AND c.unit IN ('elm', 'oak')) AS own`,
    )
    expect(tried).toMatchObject({ all: row!.all, cases: row!.all, fired: row!.fired, after: null })
    expect(tried.notJudged).toBe(row!.all - row!.judged)
    expect(tried.hits).toHaveLength(row!.fired)
    expect(row!.fired).toBeGreaterThan(3)
    expect(await tryCaseRule(south, 'measles_cases', { draft, rule: 'late' })).toMatchObject({
      all: 0,
      hits: [],
    })
    for (const rules of [[], [{ ...late, expression: 'shoe_size > 3' }]])
      await expect(
        tryCaseRule(north, 'measles_cases', { draft: { ...draft, rules }, rule: 'late' }),
      ).rejects.toMatchObject({ status: 422, code: 'rule-not-ready' })
  })

  it('is kept as it would be computed', async () => {
    expect(await verify()).toEqual([])
    const [row] = await sql.query<{ id: string }>(
      `UPDATE discrepancy SET holds = false WHERE id = (SELECT id FROM discrepancy WHERE case_id IS NOT NULL AND holds LIMIT 1) RETURNING case_id AS id`,
    )
    expect(await verify()).toMatchObject([{ what: 'doubtsOfCase', id: row!.id }])
  })
})
