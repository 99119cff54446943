import '../support/use-memory'
import { createServer, type Server } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest'
import type { NudgeLine } from '#core/contract/nudges'
import { now } from '../../server/clock'
import { closeDatabase, type Database } from '../../server/database'
import { httpGateway } from '../../server/messages/http-gateway'
import { standInGateway } from '../../server/messages/stand-in'
import { askNudges, previewNudges, stopNudges } from '../../server/nudges/ask'
import { addContact, contactsOf, removeContact } from '../../server/nudges/contacts'
import { listNudges } from '../../server/nudges/list'
import { nudgeRules, saveNudgeText, saveNudgeTimes } from '../../server/nudges/rules'
import { areNudgesDue, sendDueNudges } from '../../server/nudges/send-due'
import { UNWATCHED } from '../../server/queue/turn'
import { fillReport, sendReport } from '../support/facility'
import { makeInstallation, OCTOBER, personOf } from '../support/installation'

const admin = personOf('administrator', null)
const officer = personOf('officer', 'north')
const OWN = { name: 'Ansa Quill', phone: '+999 41 20 30 17', language: 'en' as const, nudges: true }
const MORNING = '2026-11-10T09:00:00Z'
let sql: Database

beforeAll(async () => {
  vi.stubEnv('LANTERN_GATEWAY', 'stand-in')
  sql = await makeInstallation()
  await fillReport(personOf('clerk', 'oak'), OCTOBER, 'oak', {
    tested: 1,
    positive: 0,
    'seen.f': 1,
    'seen.m': 1,
  })
  await sendReport(personOf('clerk', 'oak'), OCTOBER, 'oak')
})
afterAll(async () => {
  vi.useRealTimers()
  vi.unstubAllEnvs()
  await closeDatabase()
})
/** Sets the application's clock, which then stands still. */
const at = (instant: string) =>
  vi.useFakeTimers({ toFake: ['Date'], now: Date.now() + Date.parse(instant) - now() })
beforeEach(async () => {
  vi.stubEnv('LANTERN_GATEWAY', 'stand-in')
  at(MORNING)
  await sql.query('DELETE FROM nudge')
  await sql.query('DELETE FROM stand_in_message')
  await sql.query('DELETE FROM facility_contact')
})

const contact = (unit: string, more: Partial<typeof OWN> = {}) => addContact(admin, unit, { ...OWN, ...more })
const ask = (...units: string[]) => askNudges(admin, OCTOBER, units)
const run = () => sendDueNudges(UNWATCHED)
const lines = async (): Promise<NudgeLine[]> => (await listNudges(admin, {})).lines
const states = async () => (await lines()).map(({ state }) => state)
const inbox = () =>
  sql.query<{ phone: string; text: string }>(
    'SELECT phone, text FROM stand_in_message ORDER BY taken_at, phone',
  )
const later = (minutes: number) => at(new Date(now() + minutes * 60_000).toISOString())

describe('whom to call', () => {
  it('is kept as one number each; the same number again takes the place of the one before', async () => {
    await contact('elm')
    await contact('elm', { name: 'Brin Oster', phone: '+999-41-20-30-17' })
    expect(await contactsOf(sql, 'elm')).toMatchObject([{ name: 'Brin Oster', phone: '+99941203017' }])
    expect(await sql.query('SELECT 1 FROM facility_contact')).toHaveLength(2)
  })

  it('is refused at the place when the number is none, and for a facility beyond the border', async () => {
    await expect(contact('elm', { phone: '041 20' })).rejects.toMatchObject({
      status: 422,
      code: 'phone-country',
      problems: [{ at: 'body/phone' }],
    })
    await expect(addContact(officer, 'ash', OWN)).rejects.toMatchObject({ status: 403 })
    await expect(addContact(officer, 'nowhere', OWN)).rejects.toMatchObject({ status: 404 })
  })

  it('can be removed, twice as well; of another facility it is not found', async () => {
    const { id } = await contact('elm')
    await removeContact(officer, 'elm', id)
    await removeContact(officer, 'elm', id)
    expect(await contactsOf(sql, 'elm')).toEqual([])
    await expect(removeContact(officer, 'oak', id)).rejects.toMatchObject({ status: 404 })
    await expect(removeContact(officer, 'ash', id)).rejects.toMatchObject({ status: 403 })
  })
})

describe('asking for reminders', () => {
  it('says before what goes to whom, in their language, and who gets none with why', async () => {
    await contact('elm')
    await contact('elm', { name: 'Cera Vint', phone: '+999 41 20 30 18', language: 'fr' as never })
    await contact('oak', { phone: '+999 41 20 30 19' })
    await contact('ash', { phone: '+999 41 20 30 20', nudges: false })
    const { messages, left, quietUntil, hasGateway } = await previewNudges(admin, OCTOBER, [
      'elm',
      'oak',
      'ash',
    ])
    expect(messages.map(({ phone, text }) => [phone, text])).toEqual([
      [
        '+99941203017',
        'elm: Small, October 2026, due on 7 November. Nothing has come. Please send it, or call the district office.',
      ],
      [
        '+99941203018',
        "elm : Small, octobre 2026, à envoyer le 7 novembre. Rien n'est arrivé. Envoyez-le, ou appelez le bureau du district.",
      ],
    ])
    expect(left.map(({ unit, why }) => [unit.code, why])).toEqual([
      ['ash', 'noContact'],
      ['oak', 'received'],
    ])
    expect({ quietUntil, hasGateway }).toEqual({ quietUntil: null, hasGateway: true })
    expect(await lines()).toEqual([])
  })

  it('sends one to each, and says how much of a draft is there', async () => {
    await contact('elm')
    await fillReport(personOf('clerk', 'elm'), OCTOBER, 'elm', { tested: 1 })
    const { ids } = await ask('elm')
    expect(ids).toHaveLength(1)
    await run()
    expect(await inbox()).toMatchObject([{ text: expect.stringContaining('It was begun: 1 of 4 answers.') }])
    expect(await states()).toEqual(['taken'])
    await later(2)
    await run()
    expect(await states()).toEqual(['delivered'])
    expect(await areNudgesDue()).toBe(false)
  })

  it('does not ask twice while one waits, and not more often a day than may be', async () => {
    await contact('elm')
    await ask('elm')
    expect((await ask('elm')).left).toMatchObject([{ why: 'waits' }])
    await run()
    expect((await ask('elm')).ids).toHaveLength(1)
    await run()
    expect((await ask('elm')).left).toMatchObject([{ why: 'enough' }])
    at('2026-11-11T09:00:00Z')
    expect((await ask('elm')).ids).toHaveLength(1)
    expect(await inbox()).toHaveLength(2)
  })

  it('counts a number that stands at two facilities once, also when both are asked at once', async () => {
    await contact('elm')
    await contact('ash')
    await contact('yew')
    const both = await Promise.all([ask('elm', 'yew'), ask('ash')])
    expect(both.flatMap(({ ids }) => ids)).toHaveLength(2)
    expect(both.flatMap(({ left }) => left)).toMatchObject([{ why: 'enough' }])
  })

  it('two people who ask at once send one', async () => {
    await contact('elm')
    const both = await Promise.all([ask('elm'), ask('elm')])
    expect(both.map(({ ids }) => ids.length).sort()).toEqual([0, 1])
  })

  it('passes over what is beyond the border, and shows it to nobody there', async () => {
    await contact('elm')
    await contact('ash', { phone: '+999 41 20 30 20' })
    const { ids } = await askNudges(officer, OCTOBER, ['elm', 'ash'])
    expect(ids).toHaveLength(1)
    await ask('ash')
    expect((await listNudges(officer, {})).lines.map(({ unit }) => unit.code)).toEqual(['elm'])
    const all = (await lines()).map(({ id }) => id)
    expect(await stopNudges(officer, all)).toBe(1)
    await expect(listNudges(officer, { unit: 'ash' })).rejects.toMatchObject({ status: 403 })
  })

  it('needs a gateway', async () => {
    vi.stubEnv('LANTERN_GATEWAY', '')
    await contact('elm')
    expect((await previewNudges(admin, OCTOBER, ['elm'])).hasGateway).toBe(false)
    await expect(ask('elm')).rejects.toMatchObject({ status: 409, code: 'no-gateway' })
    expect(await run()).toMatchObject({ numbers: { handled: 0 } })
  })
})

describe('sending', () => {
  it('waits for the end of the quiet hours, and not for a report that came in meanwhile', async () => {
    at('2026-11-10T21:30:00Z')
    await contact('elm')
    await contact('ash', { phone: '+999 41 20 30 20' })
    expect((await previewNudges(admin, OCTOBER, ['ash'])).quietUntil).toBe('2026-11-11T07:00:00.000Z')
    await ask('elm', 'ash')
    await run()
    expect(await inbox()).toEqual([])
    await fillReport(personOf('clerk', 'ash'), OCTOBER, 'ash', {
      tested: 1,
      positive: 0,
      'seen.f': 1,
      'seen.m': 1,
    })
    await sendReport(personOf('clerk', 'ash'), OCTOBER, 'ash')
    at('2026-11-11T07:00:00Z')
    await run()
    expect((await lines()).map(({ unit, state }) => [unit.code, state]).sort()).toEqual([
      ['ash', 'needless'],
      ['elm', 'taken'],
    ])
    expect(await inbox()).toMatchObject([{ phone: '+99941203017' }])
  })

  it('quiet hours that were made longer hold for what waits already', async () => {
    await contact('elm')
    await ask('elm')
    await saveNudgeTimes(admin, { quietFrom: 8 * 60, quietTo: 12 * 60, aDay: 2 })
    await run()
    expect(await inbox()).toEqual([])
    expect((await lines())[0]!.nextAt).toBe('2026-11-10T12:00:00.000Z')
    await saveNudgeTimes(admin, { quietFrom: 19 * 60, quietTo: 7 * 60, aDay: 2 })
  })

  it('what was stopped is not sent, and what was sent is not stopped', async () => {
    await contact('elm')
    const { ids } = await ask('elm')
    expect(await stopNudges(officer, ids)).toBe(1)
    await run()
    expect(await states()).toEqual(['stopped'])
    const again = await ask('elm')
    await run()
    expect(await stopNudges(officer, again.ids)).toBe(0)
    expect(await inbox()).toHaveLength(1)
  })

  it('a number that was removed meanwhile gets nothing', async () => {
    const { id } = await contact('elm')
    await ask('elm')
    await removeContact(admin, 'elm', id)
    await run()
    expect(await states()).toEqual(['needless'])
  })

  it('is done once, also when the process dies after the gateway took it', async () => {
    await contact('elm')
    await ask('elm')
    const send = vi.spyOn(standInGateway, 'send').mockImplementationOnce(async (message, signal) => {
      send.mockRestore()
      await standInGateway.send(message, signal)
      throw new Error('The process dies here.')
    })
    await run()
    expect(await states()).toEqual(['sending'])
    later(10)
    const again = vi.spyOn(standInGateway, 'send')
    await run()
    expect(again).not.toHaveBeenCalled()
    again.mockRestore()
    expect(await inbox()).toHaveLength(1)
    expect(await states()).toEqual(['delivered'])
  })

  it('is done by one of two processes that run at once', async () => {
    for (const [at, unit] of ['elm', 'yew'].entries()) await contact(unit, { phone: `+999 41 20 30 2${at}` })
    await ask('elm', 'yew')
    const send = vi.spyOn(standInGateway, 'send')
    await Promise.all([run(), run()])
    expect(send).toHaveBeenCalledTimes(2)
    send.mockRestore()
  })

  it('keeps what the gateway refused, with what it said', async () => {
    await contact('elm', { phone: '+999 41 20 30 90' })
    await ask('elm')
    await run()
    expect(await lines()).toMatchObject([{ state: 'refused', problem: 'This number is not in service.' }])
    // A number that cannot be reached costs no try of the day.
    expect((await ask('elm')).ids).toHaveLength(1)
  })

  it('tries again when the gateway fails, later each time, and gives up in the end', async () => {
    const traces = vi.spyOn(process.stderr, 'write')
    await contact('elm', { phone: '+999 41 20 30 94' })
    await ask('elm')
    const pauses: number[] = []
    for (let tries = 1; tries <= 6; tries++) {
      await run()
      const [line] = await lines()
      expect(line).toMatchObject({ tries, problem: 'gateway' })
      if (!line!.nextAt) break
      pauses.push((Date.parse(line!.nextAt) - now()) / 60_000)
      at(line!.nextAt)
    }
    expect(pauses).toEqual([5, 10, 20, 40, 80])
    // It is not our fault: no place in our code stands in the log.
    expect(traces).not.toHaveBeenCalled()
    traces.mockRestore()
    expect(await states()).toEqual(['failed'])
    expect(await inbox()).toEqual([])
  })

  it('a message that the network delivers late, or never', async () => {
    await contact('elm', { phone: '+999 41 20 30 92' })
    await contact('yew', { phone: '+999 41 20 30 93' })
    await ask('elm', 'yew')
    await run()
    for (const minutes of [30, 60, 120]) {
      later(minutes)
      await run()
    }
    const stateOf = async () =>
      Object.fromEntries((await lines()).map(({ unit, state }) => [unit.code, state]))
    expect(await stateOf()).toEqual({ elm: 'delivered', yew: 'taken' })
    later(48 * 60)
    await run()
    expect(await stateOf()).toEqual({ elm: 'delivered', yew: 'notDelivered' })
  })

  it('a gateway that lost its memory is not given a message a second time', async () => {
    await contact('elm')
    await ask('elm')
    await run()
    await sql.query('DELETE FROM stand_in_message')
    later(5)
    await run()
    expect(await lines()).toMatchObject([{ state: 'notDelivered', problem: 'forgotten' }])
    expect(await inbox()).toEqual([])
  })
})

describe('what reminders say', () => {
  afterEach(async () => void (await sql.query('DELETE FROM nudge_text')))

  it('is everybody’s, until a district writes its own; both go back', async () => {
    await contact('elm')
    await contact('ash', { phone: '+999 41 20 30 20' })
    const texts = async () =>
      Object.fromEntries(
        (await previewNudges(admin, OCTOBER, ['elm', 'ash', 'yew'])).messages.map(({ unit, text }) => [
          unit.code,
          text,
        ]),
      )
    await saveNudgeText(admin, { en: 'All: {facility}', fr: 'Tous' })
    await saveNudgeText(officer, { en: 'North: {facility}', fr: 'Nord' })
    expect((await texts()).elm).toBe('North: elm')
    expect(await nudgeRules(officer)).toMatchObject({
      unit: { code: 'north' },
      isOwn: true,
      mayChangeTimes: false,
    })
    await saveNudgeText(officer, null)
    expect((await texts()).elm).toBe('All: elm')
    expect(await nudgeRules(officer)).toMatchObject({ text: { en: 'All: {facility}' }, isOwn: false })
    await saveNudgeText(admin, null)
    expect((await texts()).elm).toContain('Please send it')
  })

  it('refuses a field that there is not, with the language and the place', async () => {
    await expect(saveNudgeText(officer, { en: '{name}, hello', fr: 'Bonjour' })).rejects.toMatchObject({
      status: 422,
      code: 'nudge-field',
      problems: [{ at: 'body/text/en', values: { name: '{name}' } }],
    })
  })

  it('and when they are sent is not for an officer, or for somebody of a part of a district, to change', async () => {
    const times = { quietFrom: 0, quietTo: 1, aDay: 1 }
    await expect(saveNudgeTimes(officer, times)).rejects.toMatchObject({ status: 403 })
    await expect(nudgeRules(personOf('officer', 'quay'))).rejects.toMatchObject({ status: 403 })
  })
})

describe('a gateway behind HTTP', () => {
  const known = new Map<string, string>()
  let answer: (url: string, method: string) => { status: number; body: unknown } | null
  let server: Server
  let asked: string[] = []
  beforeAll(async () => {
    server = createServer((request, response) => {
      asked.push(`${request.method} ${request.url} ${request.headers.authorization}`)
      const found = answer(request.url!, request.method!)
      // Null hangs.
      if (found) response.writeHead(found.status).end(JSON.stringify(found.body))
    })
    await new Promise<void>(resolve => server.listen(0, '127.0.0.1', resolve))
  })
  afterAll(() => {
    server.closeAllConnections()
    server.close()
  })
  beforeEach(() => {
    asked = []
    known.clear()
  })
  const gateway = () => httpGateway(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`, 'key')
  const message = { reference: 'r1', phone: '+99941203017', text: 'Hello' }
  const never = new AbortController().signal

  it('is given a message by its reference, and asked what became of it', async () => {
    answer = (_, method) => ({ status: 200, body: method === 'PUT' ? {} : { status: 'delivered' } })
    expect(await gateway().send(message, never)).toBeNull()
    expect(await gateway().lookUp('r1', never)).toBe('delivered')
    expect(asked).toEqual(['PUT /messages/r1 Bearer key', 'GET /messages/r1 Bearer key'])
  })

  it('may refuse, fail, answer something else, or hang', async () => {
    answer = () => ({ status: 200, body: { refused: 'no credit' } })
    expect(await gateway().send(message, never)).toBe('no credit')
    answer = () => ({ status: 503, body: {} })
    await expect(gateway().send(message, never)).rejects.toThrow('503')
    answer = () => ({ status: 200, body: { status: 'perhaps' } })
    await expect(gateway().lookUp('r1', never)).rejects.toThrow('something else')
    answer = () => null
    await expect(gateway().send(message, AbortSignal.timeout(50))).rejects.toMatchObject({
      name: 'TimeoutError',
    })
  })
})
