import { startOfDay, dayAt } from '#core/calendar/deadline'
import { namePeriod, parsePeriod } from '#core/calendar/period-text'
import type { FacilityContact, NudgeLeft } from '#core/contract/nudges'
import { dateFormat } from '#core/formats'
import { fillNudge, sayMissing, type Missing } from '#core/nudge/template'
import { isReceived } from '#core/report/state'
import { wordsIn } from '#core/report/edition'
import { must } from '#core/result'
import type { Access } from '../access/access'
import { now } from '../clock'
import { editionOf } from '../datasets/editions'
import type { Sql } from '../database'
import { roundById, type Round } from '../rounds/round'
import { districtOf, settings, type Settings } from '../settings'
import { expectedUnits, type ExpectedUnit } from '../units/expected-units'
import { nudgeTexts, nudgeTimes } from './rules'

/** A reminder as it would be sent to one number. */
export interface Message {
  unit: { code: string; name: string }
  contact: FacilityContact
  text: string
}
/** What is sent to the facilities of a round, and which of them get nothing. */
export interface Messages {
  messages: Message[]
  left: { unit: { code: string; name: string }; why: NudgeLeft }[]
}

type Contact = FacilityContact & { unit: string }

interface Begun {
  unit: string
  state: 'draft' | 'sent' | 'sentBack' | 'accepted'
  answered: number
  doNotApply: number
  why: string | null
}

/** What of a report is missing; null when the district has it. */
function missingOf(begun: Begun | undefined, asked: number): Missing | null {
  if (!begun) return { kind: 'nothing' }
  if (isReceived(begun.state)) return null
  if (begun.state === 'sentBack') return { kind: 'sentBack', why: begun.why ?? '' }
  return { kind: 'draft', answered: begun.answered, applies: asked - begun.doNotApply }
}

/** The names of a round in a language. */
function namesOf({ name, period, dueAt }: Round, language: string, { timeZone }: Settings) {
  const way = language === 'en' ? 'en-GB' : language
  return {
    dataset: wordsIn(name, language),
    period: namePeriod(must(parsePeriod(period)), way),
    due: dateFormat(way, {
      day: 'numeric',
      month: 'long',
      timeZone,
    }).format(Date.parse(dueAt) - 1),
  }
}

/** The numbers that are in use now at some units. @param isHeld keeps them as they are until the end */
async function contactsIn(sql: Pick<Sql, 'query'>, units: readonly string[], isHeld: boolean) {
  // A number may stand at two facilities: who asks for both at once waits for the other.
  return sql.query<Contact>(
    `SELECT c.id, c.unit, c.name, c.phone, c.language, c.nudges FROM facility_contact c
     WHERE c.removed_at IS NULL AND c.nudges AND c.unit = ANY($1::text[]) ORDER BY c.phone, c.id ${isHeld ? 'FOR UPDATE' : ''}`,
    [units],
  )
}

/** How many reminders some numbers got since the day began, and those of them that wait in this round. */
async function alreadyAsked(sql: Pick<Sql, 'query'>, round: string, phones: readonly string[], zone: string) {
  const since = new Date(startOfDay(dayAt(now(), zone), zone)).toISOString()
  const rows = await sql.query<{ phone: string; today: number; waits: string[] }>(
    `SELECT phone,
       count(*) FILTER (WHERE asked_at >= $2 AND state NOT IN ('refused', 'failed', 'stopped', 'needless'))::int AS today,
       array_agg(contact) FILTER (WHERE round = $3 AND state IN ('waiting', 'sending')) AS waits
     FROM nudge WHERE phone = ANY($1::text[]) AND (asked_at >= $2 OR state IN ('waiting', 'sending')) GROUP BY phone`,
    [phones, since, round],
  )
  return new Map(rows.map(row => [row.phone, { today: row.today, waits: new Set(row.waits ?? []) }]))
}

/**
 * The reminders for some units of a round.
 *
 * @param isHeld inside a transaction that writes them: the numbers are held to its end
 * @throws Refusal 404 for the round; units outside the person's branch, or not expected, are passed over
 */
export async function messagesFor(
  sql: Pick<Sql, 'query'>,
  access: Access,
  roundId: string,
  units: readonly string[],
  isHeld = false,
): Promise<Messages> {
  const round = await roundById(sql, roundId)
  const all = await settings(sql)
  const asked = new Set(units)
  const expected = (await expectedUnits(sql, round, access.branch)).filter(({ code }) => asked.has(code))
  const codes = expected.map(({ code }) => code)
  const begun = await sql.query<Begun>(
    `SELECT unit, state, answered, not_offered + not_applying AS "doNotApply",
       (SELECT e.why FROM report_event e WHERE e.report = p.id AND e.to_state = 'sentBack' ORDER BY e.seq DESC LIMIT 1) AS why
     FROM report p WHERE round = $1 AND unit = ANY($2::text[])`,
    [round.id, codes],
  )
  const begunOf = new Map(begun.map(report => [report.unit, report]))
  const contacts = await contactsIn(sql, codes, isHeld)
  const before = await alreadyAsked(
    sql,
    round.id,
    contacts.map(({ phone }) => phone),
    all.timeZone,
  )
  const textOf = await nudgeTexts(sql)
  const { aDay } = await nudgeTimes(sql)
  const { asked: cells } = await editionOf(sql, round.dataset, round.edition)

  const found: Messages = { messages: [], left: [] }
  for (const unit of expected) {
    const own = contacts.filter(contact => contact.unit === unit.code)
    const missing = missingOf(begunOf.get(unit.code), cells)
    const free = own.filter(({ id, phone }) => {
      const had = before.get(phone)
      return !had || (!had.waits.has(id) && had.today < aDay)
    })
    const why = whyLeft(missing, own, free, ({ id, phone }) => before.get(phone)?.waits.has(id) ?? false)
    const ref = { code: unit.code, name: unit.name }
    if (why || !missing) {
      found.left.push({ unit: ref, why: why ?? 'received' })
      continue
    }
    for (const contact of free) {
      // Two facilities with one number: what is asked here counts at the next.
      const had = before.get(contact.phone) ?? { today: 0, waits: new Set<string>() }
      before.set(contact.phone, { ...had, today: had.today + 1 })
      found.messages.push(messageTo(unit, contact, missing))
    }
  }
  return found

  function messageTo(unit: ExpectedUnit, contact: Contact, missing: Missing): Message {
    const { language } = contact
    const text = fillNudge(wordsIn(textOf(districtOf(unit.path, all)), language), {
      ...namesOf(round, language, all),
      facility: unit.name,
      missing: sayMissing(missing, language),
    })
    return { unit: { code: unit.code, name: unit.name }, contact, text: must(text) }
  }
}

/** Why a facility gets nothing; undefined when it gets something. */
function whyLeft(
  missing: Missing | null,
  own: readonly Contact[],
  free: readonly Contact[],
  waits: (contact: Contact) => boolean,
): NudgeLeft | undefined {
  if (!missing) return 'received'
  if (!own.length) return 'noContact'
  if (!free.length) return own.some(waits) ? 'waits' : 'enough'
  return undefined
}
