import type { NudgeRules, NudgeTimes } from '#core/contract/nudges'
import { may } from '#core/contract/permission'
import { checkNudge, USUAL_NUDGE } from '#core/nudge/template'
import type { QuietHours } from '#core/nudge/quiet-hours'
import type { Words } from '#core/report/edition'
import { mustHoldAll, unitAsked, type Access } from '../access/access'
import { nowText } from '../clock'
import { database, type Sql } from '../database'
import { messageGateway } from '../messages/gateway'
import { outsideBranch, refusedBy } from '../refusal'
import { districtOf, settings } from '../settings'

type Reader = Pick<Sql, 'query'>

const KEY = 'nudgeTimes'
/** From seven in the evening to seven in the morning nobody is reminded; two a day are enough. */
const USUAL_TIMES: NudgeTimes = { quietFrom: 19 * 60, quietTo: 7 * 60, aDay: 2 }

/** When reminders are sent, and how many a number gets in a day. */
export async function nudgeTimes(sql: Reader): Promise<NudgeTimes> {
  const [row] = await sql.query<{ value: NudgeTimes }>('SELECT value FROM setting WHERE key = $1', [KEY])
  return row?.value ?? USUAL_TIMES
}

export const quietHoursOf = ({ quietFrom, quietTo }: NudgeTimes): QuietHours => ({
  from: quietFrom,
  to: quietTo,
})

/**
 * The texts of reminders that were written: of everybody (by null) and of each district that has its own. The
 * text that the application comes with stands where nobody wrote one.
 */
export async function nudgeTexts(sql: Reader): Promise<(district: string) => Words> {
  const rows = await sql.query<{ unit: string | null; text: Words | null }>(
    'SELECT DISTINCT ON (unit) unit, text FROM nudge_text ORDER BY unit, seq DESC',
  )
  const texts = new Map(rows.map(({ unit, text }) => [unit, text]))
  return district => texts.get(district) ?? texts.get(null) ?? USUAL_NUDGE
}

/** The district for which a person writes; null for who writes for everybody. @throws Refusal 403 */
async function ownDistrict(access: Access): Promise<{ code: string; name: string } | null> {
  if (access.branch === null) return null
  const unit = await unitAsked(access, access.branch)
  // What is said to a district's facilities is not written by somebody of a part of it.
  if (districtOf(unit.path, await settings()) !== unit.code) throw outsideBranch()
  return { code: unit.code, name: unit.name }
}

/** The text and the times of reminders, as a person may change them. @throws Refusal 403 */
export async function nudgeRules(access: Access): Promise<NudgeRules> {
  const sql = await database()
  const unit = await ownDistrict(access)
  const [own] = await sql.query<{ text: Words | null }>(
    'SELECT text FROM nudge_text WHERE unit IS NOT DISTINCT FROM $1 ORDER BY seq DESC LIMIT 1',
    [unit?.code ?? null],
  )
  return {
    unit,
    text: (await nudgeTexts(sql))(unit?.code ?? ''),
    isOwn: Boolean(own?.text),
    times: await nudgeTimes(sql),
    mayChangeTimes: access.branch === null && may(access, 'operate'),
    hasGateway: messageGateway() !== null,
  }
}

/**
 * Writes the text of reminders for the person's district, or for everybody; null goes back to the one before.
 * @throws Refusal 403, 422 with what is wrong in which language
 */
export async function saveNudgeText(access: Access, text: Words | null): Promise<void> {
  const unit = await ownDistrict(access)
  const problems = Object.entries(text ?? {}).flatMap(([language, words]) =>
    checkNudge(words).map(problem => ({ ...problem, at: `body/text/${language}` })),
  )
  if (problems.length) throw refusedBy(422, problems)
  const sql = await database()
  await sql.query('INSERT INTO nudge_text (unit, text, at, person) VALUES ($1, $2, $3, $4)', [
    unit?.code ?? null,
    text,
    nowText(),
    access.id,
  ])
}

/** Changes the quiet hours and how many a day: they are everybody's. @throws Refusal 403 */
export async function saveNudgeTimes(access: Access, times: NudgeTimes): Promise<void> {
  mustHoldAll(access)
  const sql = await database()
  await sql.query(
    'INSERT INTO setting (key, value) VALUES ($1, $2) ON CONFLICT (key) DO UPDATE SET value = EXCLUDED.value',
    [KEY, times],
  )
}
