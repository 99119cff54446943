import '../../tests/support/use-memory'
import { createHash } from 'node:crypto'
import { v7 as uuid } from 'uuid'
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest'
import type { DeskChange } from '#core/contract/desk'
import { newCarryKeys, pack, unpack, writeCarryFile, type CarryKeys } from '#core/protect/carry-file'
import { MEASLES_CASES, MEASLES_CONTACTS } from '../../demo/registers/measles'
import { addRegister } from '../../tests/support/cases'
import { makeInstallation, OCTOBER, personOf } from '../../tests/support/installation'
import { now } from '../clock'
import { closeDatabase, type Database } from '../database'
import { listDiscrepancies } from '../discrepancies/list'
import { discrepancyFile } from '../discrepancies/read'
import { settle } from '../discrepancies/act'
import { sendBack } from '../reporting/review'
import { reportFile } from '../reports/file'
import { makeCard } from './cards'
import { applyCarried } from './carry'
import { clockOffset, deviceByToken, type Device } from './devices'
import { applyPiece } from './files'
import { pairDevice } from './pair'
import { applySent } from './send'
import { CARD_SETTINGS, PNG } from '../../tests/support/samples'

const officer = personOf('officer', 'north')
const administrator = personOf('administrator', null)
const clerk = personOf('clerk', 'elm')
let sql: Database
let device: Device
let strict: Device
let keys: CarryKeys
let district: Awaited<ReturnType<typeof pairDevice>>['district']

const at = (ms = now()) => new Date(ms).toISOString()
const made = () => ({ id: uuid(), madeAt: at() })
const cell = (name: string, value: number, more: object = {}) => ({
  kind: 'cell',
  ...made(),
  round: OCTOBER,
  unit: 'elm',
  cell: name,
  base: 0,
  content: { kind: 'value', value },
  ...more,
})
const entry = (answers: object, more: object = {}) => ({
  kind: 'entry',
  ...made(),
  case: uuid(),
  register: 'measles_contacts',
  edition: 1,
  form: 'contact',
  unit: 'elm',
  answers,
  ...more,
})
const text = (value: unknown) => ({ contact_name: { kind: 'value', value } })
const send = (changes: unknown[], from = device, clockOffset = 0) =>
  applySent(clerk, from, { clockOffset, changes })
const codes = async (...changes: unknown[]) =>
  (await send(changes)).map(({ outcome, code }) => code ?? outcome)
const valueOf = async (name: string) =>
  (await reportFile(clerk, OCTOBER, 'elm')).cells.find(one => one.cell === name)?.content

beforeAll(async () => {
  sql = await makeInstallation()
  for (const register of [MEASLES_CASES, MEASLES_CONTACTS]) await addRegister(sql, register)
  const { code } = await makeCard(officer, {
    name: 'Elm',
    unit: 'elm',
    settings: CARD_SETTINGS,
    uses: 9,
    days: 7,
  })
  const own = await newCarryKeys(false)
  keys = own.own
  const paired = await pairDevice({ code, keys: own.public }, 'here')
  district = paired.district
  device = await deviceByToken(paired.token, { access: clerk, clock: at() })
  const card = await makeCard(officer, {
    name: 'Strict',
    unit: 'elm',
    settings: { ...CARD_SETTINGS, may: { ...CARD_SETTINGS.may, changeSent: false } },
    uses: 9,
    days: 7,
  })
  strict = await deviceByToken((await pairDevice({ code: card.code }, 'here')).token, { access: clerk })
})
afterAll(closeDatabase)

describe('nothing lost, 1: an answer that was refused', () => {
  it('leaves no trace: no value, no state, no thread, however often it comes', async () => {
    expect(
      await codes(cell('tested', 10), cell('positive', 5), cell('seen.f', 150), cell('seen.m', 1), {
        kind: 'send',
        ...made(),
        round: OCTOBER,
        unit: 'elm',
        explanations: { 'rule:many': 'A market day.' },
      }),
    ).toContain('received')
    const { lines } = await listDiscrepancies(officer, { round: OCTOBER })
    const [doubt] = lines
    const before = await discrepancyFile(officer, doubt!.id)
    const answer = {
      kind: 'answer',
      ...made(),
      discrepancy: before.line.id,
      text: 'It was less.',
      corrections: [
        { cell: 'seen.f', base: 1, content: { kind: 'value', value: 90 } },
        { cell: 'tested', base: 1, content: { kind: 'value', value: 11 } },
      ],
    }
    for (let time = 0; time < 3; time++) expect(await codes(answer)).toEqual(['not-doubted'])
    const after = await discrepancyFile(officer, before.line.id)
    expect([await valueOf('seen.f'), after.line.state, after.thread.length]).toEqual([
      { kind: 'value', value: 150 },
      before.line.state,
      before.thread.length,
    ])
    // The same answer with the allowed correction alone is taken whole, and the doubts are found anew.
    expect(await codes({ ...answer, ...made(), corrections: answer.corrections.slice(0, 1) })).toEqual([
      'received',
    ])
    expect((await discrepancyFile(officer, before.line.id)).line.holds).toBe(false)
  })
})

describe('nothing lost, 5: one bad value', () => {
  const far = '9999-12-31T23:59:59Z'
  it.each<[string, () => object, string]>([
    ['the character 0', () => entry(text('a\0b')), 'text-unstorable'],
    ['half of a character', () => entry(text('\ud83d')), 'text-unstorable'],
    [
      'the character 0 in a name',
      () => entry({ 'contact\0': { kind: 'value', value: 'x' } }),
      'text-unstorable',
    ],
    ['a leap second', () => entry(text('x'), { madeAt: '2026-06-30T23:59:60Z' }), 'schema'],
    ['the year 0', () => entry(text('x'), { madeAt: '0000-01-01T00:00:00Z' }), 'schema'],
    ['the year 9999', () => entry(text('x'), { madeAt: far }), 'schema'],
    [
      'a day of the year 0',
      () => entry({ ...text('x'), met_on: { kind: 'value', value: '0000-01-01' } }),
      'day-none',
    ],
    ['an edition beyond any', () => entry(text('x'), { edition: 3_000_000_000 }), 'schema'],
    ['an identifier with urn:uuid:', () => entry(text('x'), { case: `urn:uuid:${uuid()}` }), 'schema'],
    ['an object as a choice', () => entry({ relation: { kind: 'value', value: { a: 1 } } }), 'entry-answer'],
    ['a deep list', () => entry(text(JSON.parse('['.repeat(3000) + ']'.repeat(3000)))), 'too-deep'],
    ['a text that is too long', () => entry(text('x'.repeat(20_000))), 'answer-text-long'],
    ['an unknown kind', () => ({ ...made(), kind: 'wish' }), 'change-kind'],
    ['a kind of another world', () => ({ ...made(), kind: 'constructor' }), 'change-kind'],
    ['no identifier', () => ({ kind: 'cell' }), 'schema'],
    ['a list', () => [] as object, 'change-kind'],
    ['nothing', () => null as unknown as object, 'change-kind'],
    ['a number', () => 7 as unknown as object, 'change-kind'],
    [
      'a number that is none',
      () => cell('tested', 1, { why: 'again', content: { kind: 'value', value: '12' } }),
      'cell-letters',
    ],
  ])('with %s is refused with the reason, and the rest goes on', async (_name, bad, code) => {
    const [good, refused, other] = [
      cell('seen.m', Math.floor(Math.random() * 90), { base: 99, why: 'again' }),
      bad(),
      entry(text('Made up')),
    ]
    const outcomes = await send([good, refused, other])
    expect(outcomes[1]).toMatchObject({ outcome: 'refused', code })
    expect(outcomes[1]!.message).toBeTruthy()
    expect([outcomes[0]!.outcome, outcomes[2]!.outcome]).not.toContain('refused')
    expect(await codes(refused)).toEqual([code])
  })

  it('in the clock of a device refuses nothing: it is taken for right', () => {
    expect(['+275760-09-13T00:00:00Z', '9999-12-31T23:59:59Z', 'NaN', ''].map(clockOffset)).toEqual([
      0, 0, 0, 0,
    ])
    expect(Math.abs(clockOffset(at()))).toBeLessThan(1000)
  })

  it('is one accent, however it was typed, and one identifier in either case', async () => {
    const first = entry(text('Re\u0301mi'))
    expect(await codes(first)).toEqual(['received'])
    expect(await codes({ ...first, id: first.id.toUpperCase(), answers: text('Rémi') })).toEqual([
      'alreadyHad',
    ])
    const [row] = await sql.query<{ name: string }>(
      `SELECT answers #>> '{contact_name,value}' AS name FROM case_entry WHERE id = $1`,
      [first.id],
    )
    expect(row!.name).toBe('Rémi')
  })
})

describe('nothing lost, 6: a lost answer', () => {
  it('is answered as it was, though the report was sent and the round is closed since', async () => {
    const change = { ...cell('tested', 7), round: 'small~2026-09' }
    await sql.query(`UPDATE round SET closes_at = '2027-01-01T00:00:00Z' WHERE id = 'small~2026-09'`)
    const [received] = await send([change])
    expect(received).toMatchObject({ outcome: 'received', version: 1 })
    await sql.query(`UPDATE round SET closes_at = '2026-10-17T00:00:00Z' WHERE id = 'small~2026-09'`)
    expect(await send([change])).toEqual([{ ...received, outcome: 'alreadyHad' }])
    expect(await send([change], strict)).toEqual([{ ...received, outcome: 'alreadyHad' }])
    expect(await codes({ ...change, id: uuid() })).toEqual(['round-closed'])
  })

  it('is never given to another change with the same identifier: other content, unit or person', async () => {
    const first = cell('seen.m', 3, { base: 99, why: 'x1' })
    await send([first])
    expect(await codes({ ...first, content: { kind: 'value', value: 4 } })).toEqual(['change-reused'])
    expect(await codes({ ...first, cell: 'positive' })).toEqual(['change-reused'])
    expect(
      (await applySent(personOf('officer', 'north'), device, { clockOffset: 0, changes: [first] }))[0],
    ).toMatchObject({ outcome: 'conflict', code: 'change-reused' })
    const named = entry(text('One'))
    expect(await codes(named, { ...named, answers: text('Other') })).toEqual(['received', 'change-reused'])
    // The same change twice in one batch is one change, and what follows it still follows it.
    const twice = entry(text('Twice'))
    expect(await codes(twice, entry(text('Between')), twice)).toEqual(['received', 'received', 'alreadyHad'])
    // An identifier that stands in the history for what the office wrote is taken as well.
    const [event] = await sql.query<{ id: string }>('SELECT id FROM cell_event ORDER BY seq LIMIT 1')
    expect(await codes(cell('positive', 88, { id: event!.id }))).toEqual(['change-reused'])
  })
})

describe('nothing lost, 7: a carried file', () => {
  const write = (content: unknown) =>
    writeCarryFile(content, { id: device.id, key: keys.sign }, district.agree)
  beforeEach(async () => {
    await sql.query('DELETE FROM desk_session')
    await sql.query(
      'INSERT INTO desk_session (token_hash, device, person, epoch, made_at) VALUES ($1, $2, $3, 1, $4)',
      [uuid(), device.id, clerk.id, at()],
    )
  })

  it('does not take the days of its journey for an error of the clock, neither for the time nor for the day', async () => {
    const fourDaysAgo = now() - 4 * 86_400_000
    const carried = entry(text('By boat'), { madeAt: at(fourDaysAgo) })
    await applyCarried(
      officer,
      await write({ person: clerk.id, clock: at(fourDaysAgo + 60_000), changes: [carried], files: [] }),
    )
    const [row] = await sql.query<{ made_at: string; happened_on: string }>(
      'SELECT made_at, happened_on FROM case_entry WHERE id = $1',
      [carried.id],
    )
    expect([row!.made_at, row!.happened_on]).toEqual([carried.madeAt, carried.madeAt.slice(0, 10)])
  })

  it('takes the day of an event from the corrected time', async () => {
    const dayAhead = entry(text('Ahead'), { madeAt: at(now() + 86_400_000 - 1000) })
    await send([dayAhead], device, 86_400_000)
    const [row] = await sql.query<{ happened_on: string }>(
      'SELECT happened_on FROM case_entry WHERE id = $1',
      [dayAhead.id],
    )
    expect(row!.happened_on).toBe(at(now() - 1000).slice(0, 10))
  })

  it('that unpacks to more than a device could write is refused before it fills the memory', async () => {
    const bomb = await pack('0'.repeat(30_000_000))
    expect(bomb.length).toBeLessThan(40_000)
    expect(await unpack(bomb, 1_000_000)).toMatchObject({
      ok: false,
      problems: [{ code: 'carry-too-large' }],
    })
    expect(await unpack(bomb.slice(0, 100))).toMatchObject({
      ok: false,
      problems: [{ code: 'carry-changed' }],
    })
    await expect(applyCarried(officer, await write('0'.repeat(90_000_000)))).rejects.toMatchObject({
      status: 422,
      code: 'carry-too-large',
    })
  })

  it('with a change that cannot be stored brings the others, and with keys that are none is refused with a sentence', async () => {
    const [bad, good] = [entry(text('a\0')), entry(text('Fine'))]
    expect(
      await applyCarried(
        officer,
        await write({
          person: clerk.id,
          clock: at(),
          changes: [bad, good],
          files: [{ hash: 'a'.repeat(64), bytes: 3, data: 'AAAA' }],
        }),
      ),
    ).toMatchObject({ received: 1, refused: [{ code: 'text-unstorable' }], files: 0 })
    await sql.query('UPDATE device SET keys = $2 WHERE id = $1', [
      device.id,
      { sign: { kty: 'oct' }, agree: {} },
    ])
    await expect(
      applyCarried(administrator, await write({ person: clerk.id, clock: at(), changes: [], files: [] })),
    ).rejects.toMatchObject({ status: 422, code: 'carry-signature' })
  })
})

describe('nothing lost, 8: pieces of pictures', () => {
  const hash = createHash('sha256').update(PNG).digest('hex')
  const piece = (start: number, end: number, from = PNG, bytes = PNG.length) => ({
    start,
    bytes,
    data: from.subarray(start, end).toString('base64'),
  })

  it('end within the announced size', async () => {
    await expect(applyPiece(device, hash, { ...piece(0, 20), start: 2_000_000_000 })).rejects.toMatchObject({
      status: 422,
      code: 'file-piece',
    })
    await expect(applyPiece(device, hash, { ...piece(0, 20), start: PNG.length - 10 })).rejects.toMatchObject(
      { code: 'file-piece' },
    )
  })

  it('that were wrong are replaced, and a wrong whole begins anew: the right file always arrives', async () => {
    const wrong = Buffer.alloc(PNG.length, 7)
    // A piece of another file came first, under another size.
    await applyPiece(device, hash, piece(0, 20, wrong, 4000))
    await applyPiece(device, hash, piece(0, 20, wrong))
    await expect(applyPiece(device, hash, piece(20, PNG.length))).rejects.toMatchObject({
      code: 'file-changed',
    })
    expect(await applyPiece(device, hash, piece(0, 20, wrong))).toEqual({ upTo: 20, done: false })
    expect(await applyPiece(device, hash, piece(0, 20))).toEqual({ upTo: 20, done: false })
    expect(await applyPiece(device, hash, piece(20, PNG.length))).toEqual({ upTo: PNG.length, done: true })
  })
})

describe('nothing lost, 9: a conflict', () => {
  const open = async () =>
    (await reportFile(clerk, OCTOBER, 'elm')).conflicts.filter(one => one.cell === 'seen.f')

  it('is settled only by who decides it, also through a correction of a doubt', async () => {
    await sendBack(officer, OCTOBER, 'elm', 'Once more, please.')
    await send([
      cell('seen.f', 170, { base: 2 }),
      {
        kind: 'send',
        ...made(),
        round: OCTOBER,
        unit: 'elm',
        explanations: { 'rule:many': 'A market day.' },
      },
    ])
    await send([cell('seen.f', 60, { base: 0, why: 'late' })])
    const [conflict] = await open()
    const [version] = await sql.query<{ version: number }>(
      `SELECT version FROM cell_value WHERE cell = 'seen.f'`,
    )
    const doubt = (await listDiscrepancies(officer, { round: OCTOBER })).lines.find(({ holds }) => holds)!
    const seen = (await discrepancyFile(officer, doubt.id)).cells.find(
      one => one.cell === 'seen.f',
    )!.conflicts
    expect(seen).toEqual([conflict])
    const corrected = (value: number, base: number, settles?: string[]) => [
      { cell: 'seen.f', base, content: { kind: 'value' as const, value }, ...(settles && { settles }) },
    ]
    await settle(officer, doubt.id, 'explained', 'They counted twice.', corrected(180, version!.version))
    expect(await open()).toHaveLength(1)
    await sql.query(`UPDATE discrepancy SET state = 'open', outcome = NULL WHERE id = $1`, [doubt.id])
    await settle(
      officer,
      doubt.id,
      'corrected',
      'Sixty is right.',
      corrected(60, version!.version + 1, [conflict!.id]),
    )
    expect(await open()).toEqual([])
    expect(await sql.query('SELECT settled_by FROM field_conflict WHERE id = $1', [conflict!.id])).toEqual([
      { settled_by: officer.id },
    ])
  })
})

describe('nothing lost, 10: an answer with corrections', () => {
  it('passes the same gates as a change: what the card allows, and an open round', async () => {
    await sendBack(officer, OCTOBER, 'elm', 'Again.')
    const [version] = await sql.query<{ version: number }>(
      `SELECT version FROM cell_value WHERE cell = 'seen.f'`,
    )
    await send([
      cell('seen.f', 190, { base: version!.version }),
      {
        kind: 'send',
        ...made(),
        round: OCTOBER,
        unit: 'elm',
        explanations: { 'rule:many': 'A market day.' },
      },
    ])
    const doubt = (await listDiscrepancies(officer, { round: OCTOBER })).lines.find(({ holds }) => holds)!
    const answer = (): DeskChange => ({
      kind: 'answer',
      ...made(),
      discrepancy: doubt.id,
      text: 'A slip.',
      corrections: [{ cell: 'seen.f', base: version!.version + 1, content: { kind: 'value', value: 50 } }],
    })
    expect((await send([answer()], strict))[0]).toMatchObject({ outcome: 'refused', code: 'device-may-not' })
    await sql.query(`UPDATE round SET closes_at = '2026-11-01T00:00:00Z' WHERE id = $1`, [OCTOBER])
    expect(await codes(answer())).toEqual(['round-closed'])
    expect(await codes({ ...answer(), corrections: [] })).toEqual(['received'])
    await sql.query(`UPDATE round SET closes_at = '2026-12-01T00:00:00Z' WHERE id = $1`, [OCTOBER])
    expect(await codes(answer())).toEqual(['received'])
  })
})
