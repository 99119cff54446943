import '../support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { EntryMade } from '#core/contract/desk'
import type { AnswerValue } from '#core/form/answer'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { caseFile } from '../../server/cases/file'
import { listCases } from '../../server/cases/list'
import { keepApart, mergePair, undoPair } from '../../server/cases/pair-acts'
import { listPairs, pairFile } from '../../server/cases/pair-list'
import { closeDatabase, type Database } from '../../server/database'
import { verify } from '../../server/verification/verify'
import { addRegister, entryMade, takeEntries } from '../support/cases'
import { makeInstallation, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const north = personOf('officer', 'north')
const south = personOf('officer', 'south')
let sql: Database

const entry = entryMade
const take = (...entries: EntryMade[]) => takeEntries(sql, entries)
let people = 0
/** Somebody nobody else is like. */
const somebody = (more: Record<string, AnswerValue> = {}) => {
  people++
  return {
    case_number: `ASH-26-${String(people).padStart(4, '0')}`,
    full_name: [
      'Ila Marsh',
      'Tavi Quill',
      'Orsel Brannoch',
      'Wenna Drift',
      'Kester Vale',
      'Sorrel Hyde',
      'Perran Osk',
      'Loren Fenner',
      'Mireth Croft',
    ][people]!,
    sex: people % 2 ? 'f' : 'm',
    born_on: `20${10 + people}-0${people}-11`,
    rash_on: '2026-10-20',
    ...more,
  }
}
const pairsOf = async (id: string, who = admin) => (await listPairs(who, { case: id })).lines
/** Registers somebody twice. */
async function twice(slip: Record<string, AnswerValue> = {}, unit = 'oak') {
  const [one, other] = [uuid(), uuid()]
  const who = somebody()
  await take(entry(one, who))
  await take(entry(other, { ...who, case_number: `ASH-26-9${people}00`, ...slip }, { unit }))
  const [pair] = await pairsOf(one)
  return { one, other, pair: pair!, who }
}

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
})
afterAll(closeDatabase)

describe('two cases that may be one', () => {
  it('are found when the second one comes, with why, and asked about once', async () => {
    const { one, other, pair } = await twice({ full_name: 'Tavi Quil' })
    expect(pair).toMatchObject({ state: 'open', parts: { birth: 1, sex: 1 } })
    expect([pair.one.id, pair.other.id].sort()).toEqual([one, other].sort())
    expect(pair.score).toBeGreaterThan(0.9)
    // An entry more says nothing new of who it is.
    await take(entry(one, { specimen_number: 'S1', taken_on: '2026-10-22' }, { form: 'specimen' }))
    expect(await pairsOf(one)).toHaveLength(1)
  })

  it('are over when a correction makes them unlike, and back when it makes them alike', async () => {
    const { one, pair, who } = await twice()
    const correction = entry(one, { ...who, full_name: 'Jossa Lorne', born_on: '1988-01-30', sex: 'f' })
    await take({ ...correction, corrects: (await caseFile(admin, one)).entries[0]!.id })
    expect((await pairFile(admin, pair.id)).line.state).toBe('unlike')
    await take({ ...entry(one, who), corrects: correction.id })
    expect((await pairFile(admin, pair.id)).line.state).toBe('open')
  })

  it('stay open when so many come of that name that their block says nothing any more', async () => {
    const { one, pair, who } = await twice()
    await take(
      ...Array.from({ length: 61 }, (_, at) =>
        entry(uuid(), { ...who, case_number: `CRO-26-${String(at).padStart(4, '0')}` }),
      ),
    )
    await take(entry(one, { specimen_number: 'S1', taken_on: '2026-10-22' }, { form: 'specimen' }))
    expect((await pairFile(admin, pair.id)).line.state).toBe('open')
  })

  it('registered at the same moment by two devices are found', async () => {
    const who = somebody()
    const [one, other] = [uuid(), uuid()]
    await Promise.all([
      take(entry(one, who)),
      take(entry(other, { ...who, case_number: 'ASH-26-7777' }, { unit: 'ash' })),
    ])
    expect(await pairsOf(one)).toHaveLength(1)
  })
})

describe('a merge', () => {
  it('keeps both histories; contacts, lists and the search follow; and it is taken back whole', async () => {
    const { one, other, pair } = await twice({ outcome: 'alive' })
    const [number] = (
      await listCases(admin, { register: 'measles_cases', answers: 'outcome=alive' })
    ).lines.map(line => line.answers.case_number as { value: string })
    const contact = entry(
      uuid(),
      { contact_name: 'Tam' },
      { register: 'measles_contacts', form: 'contact', parent: other },
    )
    await take(contact)
    const before = [await caseFile(admin, one), await caseFile(admin, other)]
    await mergePair(north, pair.id, one)
    const merged = await caseFile(admin, other)
    expect([merged.id, new Set(merged.entries.map(of => of.case))]).toEqual([one, new Set([one, other])])
    const found = async (find: string) => (await listCases(admin, { find })).lines
    expect(await found(number!.value)).toMatchObject([{ id: one, entries: 2 }])
    expect(
      (await listCases(admin, { register: 'measles_cases', answers: 'outcome=alive' })).lines,
    ).toMatchObject([{ id: one }])
    expect((await listCases(admin, { parent: one })).lines).toMatchObject([{ id: contact.case }])
    expect((await caseFile(admin, contact.case)).parent).toMatchObject({ id: one })
    // What comes for the merged one is the kept one's.
    await take(
      entry(
        other,
        { specimen_number: 'S9', taken_on: '2026-11-03', result: 'negative' },
        { form: 'specimen' },
      ),
    )
    expect(await found(number!.value)).toMatchObject([{ id: one, entries: 3, lastOn: '2026-11-03' }])
    expect(await verify()).toEqual([])
    await expect(mergePair(north, pair.id, one)).rejects.toMatchObject({ code: 'pair-state' })

    await undoPair(north, pair.id)
    expect((await pairFile(admin, pair.id)).events.map(({ act }) => act)).toEqual(['merged', 'undone'])
    // What became of both stays in their histories; everything else is as it was.
    const [kept, after] = [await caseFile(admin, one), await caseFile(admin, other)]
    expect(kept).toEqual({ ...before[0], life: kept.life })
    expect([kept, after].map(({ life }) => life.map(({ act }) => act))).toEqual([
      ['takenOut'],
      ['merged', 'takenOut'],
    ])
    expect([after.id, after.entries.length]).toEqual([other, 2])
    expect((await listCases(admin, { parent: one })).lines).toEqual([])
    expect((await pairFile(admin, pair.id)).line.state).toBe('open')
    expect(await verify()).toEqual([])
    await sql.query(`UPDATE case_pair SET one_unit = 'nowhere' WHERE id = $1`, [pair.id])
    expect(await verify()).toMatchObject([{ what: 'unitsOfPair', id: pair.id }])
    await sql.query(
      'UPDATE case_pair p SET one_unit = c.unit FROM case_record c WHERE c.id = p.one AND p.id = $1',
      [pair.id],
    )
  })

  it('kept apart stays so for ever, whatever is corrected, until it is taken back', async () => {
    const { one, pair, who } = await twice()
    await keepApart(north, pair.id, 'They are cousins.')
    await take({
      ...entry(one, { ...who, village: 'Reed End' }),
      corrects: (await caseFile(admin, one)).entries[0]!.id,
    })
    expect((await pairFile(admin, pair.id)).line.state).toBe('apart')
    expect((await listPairs(admin, { state: 'open' })).lines.map(({ id }) => id)).not.toContain(pair.id)
    await undoPair(north, pair.id)
    expect((await pairFile(admin, pair.id)).line.state).toBe('open')
  })
})

describe('a pair of which one was merged elsewhere', () => {
  it('is not decided before that one is', async () => {
    const who = somebody()
    const [one, other, third] = [uuid(), uuid(), uuid()]
    await take(entry(one, who), entry(other, { ...who, case_number: 'ASH-26-8001' }))
    await take(entry(third, { ...who, case_number: 'ASH-26-8002' }))
    const pairOf = async (left: string, right: string) =>
      (await pairsOf(left)).find(of => [of.one.id, of.other.id].includes(right))!
    const [first, second] = [await pairOf(one, other), await pairOf(one, third)]
    await keepApart(north, second.id, 'They are twins.')
    await mergePair(north, first.id, other)
    await undoPair(north, second.id)
    await expect(mergePair(north, second.id, third)).rejects.toMatchObject({ code: 'pair-merged-since' })
    expect((await caseFile(admin, one)).id).toBe(other)
    await undoPair(north, first.id)
    await mergePair(north, second.id, third)
    expect((await caseFile(admin, one)).id).toBe(third)
    expect(await verify()).toEqual([])
  })
})

describe('across a border', () => {
  it('both sides learn that there is a pair, none sees the other’s answers, and only who sees both decides', async () => {
    const { one, other, pair } = await twice({}, 'ash')
    for (const [who, mine, theirs] of [
      [north, one, other],
      [south, other, one],
    ] as const) {
      const file = await pairFile(who, pair.id)
      expect(file.mine).toBe(false)
      const sides = [file.line.one, file.line.other]
      expect(sides.find(({ id }) => id === mine)!.line).not.toBeNull()
      expect(sides.find(({ id }) => id === theirs)!.line).toBeNull()
      expect([file.one, file.other].filter(Boolean).map(of => of!.id)).toEqual([mine])
      await expect(mergePair(who, pair.id, mine)).rejects.toMatchObject({ code: 'outside-branch' })
      await expect(keepApart(who, pair.id, 'not mine')).rejects.toMatchObject({ code: 'outside-branch' })
    }
    await expect(mergePair(admin, pair.id, uuid())).rejects.toMatchObject({ code: 'pair-case' })
    await mergePair(admin, pair.id, one)
    // The facility that registered it finds it where it is now.
    expect((await caseFile(south, other)).id).toBe(one)
  })
})
