import '../../tests/support/use-memory'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { makeInstallation, OCTOBER, personOf } from '../../tests/support/installation'
import { shownAnswers } from '#core/form/shown-answers'
import { caseFile } from '../cases/file'
import { listCases } from '../cases/list'
import { search } from '../search/search'
import { now } from '../clock'
import { closeDatabase, type Database } from '../database'
import { reportFile } from '../reports/file'
import { endCard, listCards, makeCard } from './cards'
import { listDevices } from './device-list'
import { blockDevice, deviceByToken, type Device } from './devices'
import { pairDevice } from './pair'
import { receiveSince } from './receive'
import { applySent } from './send'
import { deskDefinitions } from './work'
import { addRegister } from '../../tests/support/cases'
import { CARD_SETTINGS } from '../../tests/support/samples'

const officer = personOf('officer', 'north')
const ofSouth = personOf('officer', 'south')
const clerk = personOf('clerk', 'elm')
const CARD = { name: 'Elm tablets', unit: 'elm', settings: CARD_SETTINGS, uses: 2, days: 7 }
let sql: Database
let first: Device
let second: Device
const at = (ms = now()) => new Date(ms).toISOString()

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
})
afterAll(closeDatabase)

describe('a pairing card', () => {
  it('pairs as many devices as it says, each with a name and a token of its own, and then no more', async () => {
    const { code } = await makeCard(officer, CARD)
    const [one, other] = [
      await pairDevice({ code: code.toLowerCase() }, 'here'),
      await pairDevice({ code, name: 'The cracked phone' }, 'here'),
    ]
    expect([one.name, other.name, one.unit.code, one.settings]).toEqual([
      'Elm tablets 1',
      'The cracked phone',
      'elm',
      CARD_SETTINGS,
    ])
    expect(one.token).not.toBe(other.token)
    expect(await sql.query('SELECT 1 FROM device WHERE token_hash = $1', [one.token])).toEqual([])
    await expect(pairDevice({ code }, 'here')).rejects.toMatchObject({ status: 403, code: 'card-wrong' })
    first = await deviceByToken(one.token, { access: clerk, claimed: one.device, clock: at() })
    second = await deviceByToken(other.token, { access: clerk })
    expect(await listCards(officer)).toMatchObject([{ usesLeft: 0, open: false, devices: 2 }])
    expect(
      (await listDevices(officer, {}, null)).lines.map(({ name, lastPerson, clockOffMs }) => [
        name,
        lastPerson,
        clockOffMs !== null && Math.abs(clockOffMs) < 1000,
      ]),
    ).toEqual(
      expect.arrayContaining([
        ['Elm tablets 1', 'The clerk', true],
        ['The cracked phone', 'The clerk', false],
      ]),
    )
    expect([await listCards(ofSouth), (await listDevices(ofSouth, {}, null)).lines]).toEqual([[], []])
  })

  it('what users met, 17: gives every device of a facility a name of its own, also by another card and by hand', async () => {
    const { code } = await makeCard(officer, { ...CARD, uses: 4 })
    const named = async (name?: string) =>
      (await pairDevice({ code, ...(name && { name }) }, 'the store room')).name
    expect([
      await named(),
      await named('The cracked phone'),
      await named(),
      await named('Elm tablets 4'),
    ]).toEqual(['Elm tablets 2', 'The cracked phone 2', 'Elm tablets 3', 'Elm tablets 4'])
    await sql.query(`DELETE FROM device WHERE name <> ALL ('{Elm tablets 1,The cracked phone}')`)
    await sql.query(
      'DELETE FROM pairing_card WHERE uses_left = 0 AND id <> (SELECT card FROM device WHERE name = $1)',
      ['Elm tablets 1'],
    )
  })

  it('is of the branch, ends when somebody ends it, and wrong codes cost a wait', async () => {
    await expect(makeCard(ofSouth, CARD)).rejects.toMatchObject({ code: 'outside-branch' })
    await expect(makeCard(officer, { ...CARD, unit: 'nowhere' })).rejects.toMatchObject({ code: 'no-unit' })
    const { id, code } = await makeCard(officer, CARD)
    await expect(endCard(ofSouth, id)).rejects.toMatchObject({ code: 'outside-branch' })
    await endCard(officer, id)
    for (let attempt = 0; attempt < 3; attempt++)
      await expect(pairDevice({ code }, 'here')).rejects.toMatchObject({ code: 'card-wrong' })
    await expect(pairDevice({ code }, 'here')).rejects.toMatchObject({ status: 429 })
    // Nothing lost, 12: elsewhere nobody waits for it.
    const { code: right } = await makeCard(officer, CARD)
    expect(await pairDevice({ code: right }, 'elsewhere')).toMatchObject({ unit: { code: 'elm' } })
  })

  it('gives a token that is bound to its device, its branch, and to not being blocked', async () => {
    await new Promise(resolve => setTimeout(resolve, 2100)) // the wait after the wrong codes of the test before
    const { code } = await makeCard(officer, CARD)
    const { token, device } = await pairDevice({ code }, 'here')
    await expect(deviceByToken(undefined, { access: clerk })).rejects.toMatchObject({
      status: 401,
      code: 'device-unknown',
    })
    await expect(deviceByToken(`${token}x`, { access: clerk })).rejects.toMatchObject({
      code: 'device-unknown',
    })
    await expect(deviceByToken(token, { access: clerk, claimed: first.id })).rejects.toMatchObject({
      code: 'device-other',
    })
    await expect(deviceByToken(token, { access: personOf('clerk', 'yew') })).rejects.toMatchObject({
      code: 'outside-branch',
    })
    await expect(blockDevice(ofSouth, device, true)).rejects.toMatchObject({ code: 'outside-branch' })
    await blockDevice(officer, device, true)
    await expect(deviceByToken(token, { access: clerk, claimed: device })).rejects.toMatchObject({
      status: 403,
      code: 'device-blocked',
    })
    await blockDevice(officer, device, false)
    expect(await deviceByToken(token, { access: clerk, claimed: device })).toMatchObject({ unit: 'elm' })
    await expect(blockDevice(officer, uuid(), true)).rejects.toMatchObject({ status: 404 })
  })
})

const cell = (
  name: string,
  value: number,
  more: Partial<Extract<DeskChange, { kind: 'cell' }>> = {},
): Extract<DeskChange, { kind: 'cell' }> => ({
  kind: 'cell',
  id: uuid(),
  madeAt: at(),
  round: OCTOBER,
  unit: 'elm',
  cell: name,
  base: 0,
  content: { kind: 'value', value },
  ...more,
})
const send = async (device: Device, ...changes: DeskChange[]) =>
  applySent(clerk, device, { clockOffset: 0, changes })
const outcomes = async (device: Device, ...changes: DeskChange[]) =>
  (await send(device, ...changes)).map(({ outcome }) => outcome)

describe('what a device sends', () => {
  // What comes against what stands there: the whole table of outcomes.
  it('is received once: sent again, half or whole, it changes nothing more', async () => {
    const changes = [cell('tested', 10), cell('positive', 3)]
    expect(await outcomes(first, ...changes)).toEqual(['received', 'received'])
    expect(await outcomes(first, changes[1]!)).toEqual(['alreadyHad'])
    expect(await outcomes(first, ...changes)).toEqual(['alreadyHad', 'alreadyHad'])
    expect(await sql.query('SELECT count(*) AS count FROM cell_event')).toEqual([{ count: 2 }])
  })

  it('follows its own changes before they are confirmed, also in one batch, and waits when the one before is missing', async () => {
    const one = cell('seen.f', 1)
    const two = cell('seen.f', 2, { after: one.id })
    const three = cell('seen.f', 3, { after: two.id })
    expect(await outcomes(first, three)).toEqual(['early'])
    expect(await outcomes(first, one, two)).toEqual(['received', 'received'])
    expect(await outcomes(first, three)).toEqual(['received'])
    expect(
      (await reportFile(clerk, OCTOBER, 'elm')).cells.find(({ cell: name }) => name === 'seen.f'),
    ).toMatchObject({ content: { value: 3 }, version: 3 })
  })

  it('against another device’s change is a conflict with both kept, told again when asked again; the same said twice is none', async () => {
    expect(await outcomes(first, cell('seen.m', 5))).toEqual(['received'])
    const late = cell('seen.m', 9)
    const [conflict] = await send(second, late)
    expect(conflict).toMatchObject({
      outcome: 'conflict',
      version: 1,
      theirs: { content: { kind: 'value', value: 5 }, by: 'The clerk' },
    })
    expect(await outcomes(second, late)).toEqual(['conflict'])
    // What was made on the change in conflict joins it, though its number would fit.
    expect(await outcomes(second, cell('seen.m', 8, { base: 1, after: late.id }))).toEqual(['conflict'])
    expect(await outcomes(second, cell('seen.m', 5))).toEqual(['alreadyHad'])
    expect(await sql.query('SELECT content, here FROM field_conflict ORDER BY at, id')).toMatchObject([
      { content: { value: 9 }, here: { value: 5 } },
      { content: { value: 8 } },
    ])
    expect(
      (await reportFile(clerk, OCTOBER, 'elm')).cells.find(({ cell: name }) => name === 'seen.m'),
    ).toMatchObject({ content: { value: 5 } })
  })

  it('in conflict is shown to whoever reads the report, until somebody decides', async () => {
    const conflicts = async () =>
      (await reportFile(clerk, OCTOBER, 'elm')).conflicts.map(({ cell: name, content, device }) => [
        name,
        content.kind === 'value' && content.value,
        device,
      ])
    expect(await conflicts()).toEqual([
      ['seen.m', 9, 'The cracked phone'],
      ['seen.m', 8, 'The cracked phone'],
    ])
    // Another value, by somebody who never saw the conflict, decides nothing.
    expect(await outcomes(second, cell('seen.m', 8, { base: 1 }))).toEqual(['received'])
    expect(await conflicts()).toHaveLength(2)
    const seen = (await reportFile(clerk, OCTOBER, 'elm')).conflicts.map(({ id }) => id)
    expect(await outcomes(second, cell('seen.m', 8, { base: 2, settles: [seen[0]!] }))).toEqual(['received'])
    expect(await conflicts()).toEqual([['seen.m', 8, 'The cracked phone']])
    // Keeping what stands there is a decision as well.
    expect(await outcomes(first, cell('seen.m', 8, { base: 1, settles: seen }))).toEqual(['alreadyHad'])
    expect(await conflicts()).toEqual([])
  })

  it('that cannot be is refused by itself, with its reason, and holds up nothing else', async () => {
    const results = await send(
      first,
      cell('gone', 1),
      cell('tested', 2.5, { base: 1 }),
      cell('tested', 11, { base: 1 }),
      cell('tested', 1, { unit: 'yew' }),
      cell('tested', 1, { round: 'small~2026-06' }),
    )
    expect(results.map(({ outcome, code }) => code ?? outcome)).toEqual([
      'cell-unknown',
      'cell-decimals',
      'received',
      'outside-branch',
      'round-closed',
    ])
  })

  it('is a report that is sent, once; after that a change needs a reason, except one that only comes again', async () => {
    const act = {
      kind: 'send' as const,
      id: uuid(),
      madeAt: at(),
      round: OCTOBER,
      unit: 'elm',
      explanations: {},
    }
    const last = cell('positive', 4, { base: 1 })
    expect(await outcomes(first, last, act)).toEqual(['received', 'received'])
    expect(await outcomes(first, last, act)).toEqual(['alreadyHad', 'alreadyHad'])
    expect((await reportFile(clerk, OCTOBER, 'elm')).state).toBe('sent')
    expect((await send(first, cell('positive', 5, { base: 2 })))[0]).toMatchObject({
      outcome: 'refused',
      code: 'why-missing',
    })
    expect(await outcomes(first, cell('positive', 5, { base: 2, why: 'counted again' }))).toEqual([
      'received',
    ])
  })

  it('whose sending is refused keeps its values all the same', async () => {
    const [kept, act] = await send(first, cell('positive', 50, { base: 3, why: 'a slip' }), {
      kind: 'send',
      id: uuid(),
      madeAt: at(),
      round: OCTOBER,
      unit: 'elm',
      explanations: {},
    })
    expect([kept!.outcome, act!.outcome, act!.code]).toEqual(['received', 'refused', 'state'])
    expect(
      (await reportFile(clerk, OCTOBER, 'elm')).cells.find(({ cell: name }) => name === 'positive'),
    ).toMatchObject({ content: { value: 50 } })
  })
})

describe('cases from a device', () => {
  const answers = (more: Record<string, unknown> = {}) => ({
    case_number: 'ASH-26-0001',
    full_name: 'Nell Fyne',
    sex: 'f',
    born_on: '2021-05',
    district: 'north',
    zone: 'quay',
    rash_on: '2026-10-20',
    notified_on: '2026-10-22',
    signs: ['fever'],
    admitted: false,
    vaccinated: 'unknown',
    contact_known: 'no',
    ...more,
  })
  const filled = (values: Record<string, unknown>) =>
    Object.fromEntries(Object.entries(values).map(([key, value]) => [key, { kind: 'value' as const, value }]))
  const entry = (
    more: Partial<Extract<DeskChange, { kind: 'entry' }>> = {},
  ): Extract<DeskChange, { kind: 'entry' }> => ({
    kind: 'entry',
    id: uuid(),
    madeAt: at(),
    case: uuid(),
    register: 'measles_cases',
    edition: 1,
    form: 'registration',
    unit: 'elm',
    answers: filled(answers()) as never,
    ...more,
  })

  it('are entries kept as they were filled, with the day of the event apart from that of the typing', async () => {
    const registration = entry()
    const specimen = entry({
      case: registration.case,
      form: 'specimen',
      answers: filled({
        specimen_number: 'S1',
        taken_on: '2026-10-23',
        result: 'positive',
        classification: 'confirmed',
      }) as never,
    })
    expect(await outcomes(first, registration, specimen)).toEqual(['received', 'received'])
    expect(await outcomes(first, registration, specimen)).toEqual(['alreadyHad', 'alreadyHad'])
    expect((await listCases(clerk, {})).lines).toMatchObject([
      {
        id: registration.case,
        entries: 2,
        lastOn: '2026-10-23',
        answers: {
          case_number: { value: 'ASH-26-0001' },
          full_name: { value: 'Nell Fyne' },
          rash_on: { value: '2026-10-20' },
          classification: { value: 'confirmed' },
        },
      },
    ])
    const correction = entry({
      case: registration.case,
      corrects: registration.id,
      answers: filled(answers({ full_name: 'Nell Fynn' })) as never,
    })
    expect(await outcomes(second, correction)).toEqual(['received'])
    const [found] = (await listCases(clerk, { register: 'measles_cases' })).lines
    expect(found).toMatchObject({ entries: 2, answers: { full_name: { value: 'Nell Fynn' } } })
    expect((await listCases(ofSouth, {})).lines).toEqual([])
    // What users met, 14: a case is found from everywhere, by those who may see it.
    expect(await search(clerk, 'fyne nell')).toMatchObject([
      {
        ...{ kind: 'case', code: registration.case, of: 'measles_cases' },
        answers: { case_number: { value: 'ASH-26-0001' }, full_name: { value: 'Nell Fynn' } },
      },
    ])
    expect(await search(ofSouth, 'fyne nell')).toEqual([])
    const contact = {
      case: uuid(),
      register: 'measles_contacts',
      form: 'contact',
      answers: filled({ contact_name: 'Tam', met_on: '2026-10-19' }) as never,
    }
    expect((await send(first, entry({ ...contact, parent: uuid() })))[0]).toMatchObject({
      code: 'entry-case',
    })
    expect(await outcomes(first, entry({ ...contact, parent: registration.case }))).toEqual(['received'])
  })

  it.each<[string, Partial<Extract<DeskChange, { kind: 'entry' }>>, string]>([
    ['a form that is not there', { form: 'other' }, 'entry-form'],
    ['an edition that is not there', { edition: 7 }, 'entry-form'],
    ['an unknown question', { answers: { gone: { kind: 'value', value: 1 } } as never }, 'entry-answer'],
    [
      'a number where a text belongs',
      { answers: { full_name: { kind: 'value', value: 4 } } as never },
      'answer-shape',
    ],
    ['a choice that is none', { answers: { sex: { kind: 'value', value: 'x' } } as never }, 'answer-choice'],
    ['a correction of nothing', { corrects: uuid() }, 'entry-corrects'],
    ['another’s facility', { unit: 'yew' }, 'outside-branch'],
  ])('are refused with %s', async (_name, more, code) => {
    expect((await send(first, entry(more)))[0]).toMatchObject({ outcome: 'refused', code })
  })

  it('from a clock that is hours off are told in our time, and never before they were made or after now', async () => {
    const ahead = entry({
      madeAt: at(now() + 3 * 3_600_000 - 60_000),
      answers: filled({ full_name: 'Later' }) as never,
    })
    await applySent(clerk, first, { clockOffset: 3 * 3_600_000, changes: [ahead] })
    const [row] = await sql.query<{ made_at: string; happened_on: string }>(
      'SELECT made_at, happened_on FROM case_entry WHERE id = $1',
      [ahead.id],
    )
    expect(Math.abs(Date.parse(row!.made_at) - (now() - 60_000))).toBeLessThan(5_000)
    expect(row!.happened_on).toBe(ahead.madeAt.slice(0, 10))
  })

  it('what users met, 4: are read in the edition in which they were filled, at the office and on devices', async () => {
    const old = entry({ answers: filled(answers({ village: 'Reed End' })) as never })
    expect(await outcomes(first, old)).toEqual(['received'])
    const without = JSON.parse(JSON.stringify(MEASLES_CASES)) as typeof MEASLES_CASES
    const residence = without.forms[0]!.form.parts.find(part => part.code === 'residence') as unknown as {
      parts: { code: string }[]
    }
    residence.parts = residence.parts.filter(({ code }) => code !== 'village')
    await addRegister(sql, without, 2)
    const village = (register: typeof MEASLES_CASES | undefined) =>
      shownAnswers(register!.forms[0]!.form, old.answers)
        .filter(one => one.kind === 'answer' && one.code === 'village')
        .map(one => one.kind === 'answer' && one.question?.code)
    const { definition, editions, entries } = await caseFile(officer, old.case)
    expect([entries[0]!.edition, editions.map(({ edition }) => edition)]).toEqual([1, [1]])
    // In the newest edition it would be an answer without a question.
    expect([village(definition), village(editions[0]!.definition)]).toEqual([[undefined], ['village']])
    const { registers, earlier } = await deskDefinitions(clerk)
    expect([
      registers.find(({ register }) => register === 'measles_cases')!.edition,
      earlier.map(({ register, edition }) => [register, edition]),
    ]).toEqual([2, [['measles_cases', 1]]])
    expect((await deskDefinitions(personOf('clerk', 'yew'))).earlier).toEqual([])
  })

  it('what users met, 6: may be of people who live anywhere: devices have the places of the whole installation', async () => {
    expect((await deskDefinitions(clerk)).units.units.map(({ code }) => code).sort()).toEqual([
      'ash',
      'coast',
      'elm',
      'mill',
      'north',
      'oak',
      'quay',
      'south',
      'yew',
    ])
    expect(
      await outcomes(
        first,
        entry({ answers: filled(answers({ district: 'south', zone: 'mill' })) as never }),
      ),
    ).toEqual(['received'])
  })
})

describe('what a device receives', () => {
  it('comes in pieces, in order, each once, by a cursor; nothing of another branch', async () => {
    const whole = await receiveSince(clerk, {})
    expect(whole.more).toBe(false)
    const pieces: unknown[] = []
    let cursor: string | undefined
    for (let more = true; more;) {
      const piece = await receiveSince(clerk, { most: 2, ...(cursor && { since: cursor }) })
      pieces.push(...piece.events)
      ;({ cursor, more } = piece)
    }
    const ids = (events: readonly unknown[]) => events.map(event => JSON.stringify(event)).sort()
    expect(ids(pieces)).toEqual(ids(whole.events))
    expect(cursor).toBe(whole.cursor)
    expect((await receiveSince(clerk, { since: cursor! })).events).toEqual([])
    expect((await receiveSince(ofSouth, {})).events).toEqual([])
    expect(
      whole.events
        .filter(event => event.kind === 'cell' && event.cell === 'seen.f')
        .map(event => event.kind === 'cell' && event.version),
    ).toEqual([1, 2, 3])
    expect(new Set(whole.events.map(({ kind }) => kind))).toEqual(
      new Set(['cell', 'report', 'question', 'caseQuestion', 'entry']),
    )
  })
})
