import { printDay } from '#core/calendar/day'
import { dayAt } from '#core/calendar/deadline'
import { questionOfKey } from '#core/cases/personal'
import type { CaseRegister } from '#core/cases/register'
import type { EntryMade } from '#core/contract/desk'
import { checkAnswer, dayIn, type AnswerContent } from '#core/form/answer'
import { compileForm, type CompiledForm } from '#core/form/compile-form'
import { groupBy } from '#core/group-by'
import { mustHold, notShared, type Access } from '../access/access'
import { holds } from '../access/branch'
import { nowText } from '../clock'
import type { Sql } from '../database'
import { outsideBranch, Refusal } from '../refusal'
import { foldRows } from './fold-known'
import { saidKey } from './judge-cases'
import { reopenFor } from './life'
import { writeKnown } from './known'
import { newestRegisters } from './registers'
import { seesRegister } from './shared'
import { writeCases, type BegunCase, type NewCase } from './write-cases'

/** A form of a published edition, ready. Editions never change, so each is read and compiled once. */
interface ReadyForm {
  definition: CaseRegister
  compiled: CompiledForm
}
const ready = new Map<string, ReadyForm>()

async function formOf(
  sql: Sql,
  { register, edition, form }: Pick<EntryMade, 'register' | 'edition' | 'form'>,
): Promise<ReadyForm> {
  const name = `${register}~${edition}~${form}`
  const cached = ready.get(name)
  if (cached) return cached
  const [row] = await sql.query<{ definition: CaseRegister }>(
    'SELECT definition FROM register_edition WHERE register = $1 AND number = $2',
    [register, edition],
  )
  const own = row?.definition.forms.find(one => one.form.code === form)
  if (!row || !own) throw new Refusal(422, 'entry-form', 'There is no such form in this edition.')
  const compiled = compileForm(own.form)
  if (!compiled.ok) throw new Error(`${name} was published with mistakes: ${compiled.problems[0]!.message}`)
  const made = { definition: row.definition, compiled: compiled.value }
  ready.set(name, made)
  return made
}

/**
 * Rejects unknown keys and values of the wrong type. Only types are checked here; required fields are checked
 * by the rules.
 */
function mustFit(compiled: CompiledForm, answers: EntryMade['answers']): void {
  const questions = new Map(compiled.outline.placed.map(placed => [placed.question.code, placed.question]))
  const repeats = new Set(
    compiled.outline.frames.flatMap(({ part }) => (part.kind === 'repeat' ? [part.code] : [])),
  )
  for (const [key, content] of Object.entries(answers) as [string, AnswerContent][]) {
    if (repeats.has(key)) {
      const ids = content.kind === 'value' ? content.value : []
      if (
        !Array.isArray(ids) ||
        ids.length > 200 ||
        !ids.every(id => typeof id === 'string' && /^[\w-]{1,40}$/.test(id))
      )
        throw answerRefused(key, 'answer-shape', 'These are no instances.')
      continue
    }
    const question = questions.get(questionOfKey(key))
    if (!question) throw answerRefused(key, 'entry-answer', `This form has no question ${key}.`)
    if (content.kind !== 'value' || question.kind === 'computed') continue
    const checked = checkAnswer(question, content.value)
    if (!checked.ok) throw answerRefused(key, checked.problems[0]!.code, checked.problems[0]!.message)
  }
}

const answerRefused = (key: string, code: string, message: string) =>
  new Refusal(422, code, message, [{ code, message, at: `answers/${key}` }])

/**
 * The day of the event: what the form's own question says, else the day when it was typed, by the corrected
 * time.
 */
function happenedOn(
  definition: CaseRegister,
  { form, answers }: EntryMade,
  madeAt: string,
  timeZone: string,
): string {
  const asked = definition.forms.find(one => one.form.code === form)!.eventDate
  return printDay(dayIn(answers[asked]) ?? dayAt(Date.parse(madeAt), timeZone))
}

/** What entries are held against: what of them is here already. */
interface Here {
  entries: Set<string>
  paths: Map<string, string[]>
  /** With the places of all facilities that see the case. */
  cases: Map<string, { register: string; paths: string[][] }>
  corrected: Map<string, { case: string; form: string }>
}

async function whatIsHere(sql: Sql, entries: readonly EntryMade[]): Promise<Here> {
  const ids = entries.map(({ id }) => id)
  const cases = entries.flatMap(({ case: of, parent }) => (parent ? [of, parent] : [of]))
  const [known, units, records] = await Promise.all([
    sql.query<{ id: string; case: string; form: string }>(
      'SELECT id, case_id AS "case", form FROM case_entry WHERE id = ANY($1::uuid[])',
      [[...ids, ...entries.flatMap(({ corrects }) => corrects ?? [])]],
    ),
    sql.query<{ code: string; path: string[] }>(
      'SELECT code, path FROM unit_latest WHERE code = ANY($1::text[])',
      [[...new Set(entries.map(({ unit }) => unit))]],
    ),
    sql.query<{ id: string; register: string; path: string[] }>(
      `SELECT c.id, c.register, u.path FROM case_record c JOIN unit_latest u ON u.code = ANY(c.unit || c.shared_with)
       WHERE c.id = ANY($1::uuid[])`,
      [cases],
    ),
  ])
  return {
    entries: new Set(known.map(({ id }) => id)),
    paths: new Map(units.map(({ code, path }) => [code, path])),
    cases: new Map(
      [...groupBy(records, ({ id }) => id)].map(([id, rows]) => [
        id,
        { register: rows[0]!.register, paths: rows.map(({ path }) => path) },
      ]),
    ),
    corrected: new Map(known.map(({ id, case: of, form }) => [id, { case: of, form }])),
  }
}

/** @throws Refusal when an entry cannot be stored as it is. */
function mustStand(access: Access, entry: EntryMade, { definition, compiled }: ReadyForm, here: Here): void {
  const path = here.paths.get(entry.unit)
  if (path === undefined) throw new Refusal(422, 'no-unit', 'There is no such organisation unit.')
  mustHold(access, path)
  if (!seesRegister(access, entry.register)) throw notShared()
  mustFit(compiled, entry.answers)
  const record = here.cases.get(entry.case)
  if (record && record.register !== entry.register)
    throw new Refusal(422, 'entry-case', 'This case is of another register.')
  // Who had a case before, or has one that it was merged with, still sees it, and may say what is known there.
  if (record && !record.paths.some(own => holds(access.branch, own))) throw outsideBranch()
  if (entry.parent && here.cases.get(entry.parent)?.register !== (definition.parent ?? ''))
    throw new Refusal(422, 'entry-case', 'The case that this one belongs to is not here yet.')
  const corrected = entry.corrects ? here.corrected.get(entry.corrects) : undefined
  if (entry.corrects && (corrected?.case !== entry.case || corrected.form !== entry.form))
    throw new Refusal(422, 'entry-corrects', 'The entry that this one corrects is not here yet.')
}

/** An entry that stands, with the day of its event. */
interface EntryToWrite {
  entry: EntryMade
  happenedOn: string
}

/** Cases that entries begin, with what is known of them: all their entries are among these. */
function begunCases(
  begun: ReadonlyMap<string, NewCase>,
  rows: readonly EntryToWrite[],
  receivedAt: string,
  registers: ReadonlyMap<string, CaseRegister>,
): BegunCase[] {
  const folded = foldRows(
    rows.flatMap(({ entry, happenedOn: day }) => {
      const own = begun.get(entry.case)
      if (!own) return []
      const { id, form, answers, corrects = null } = entry
      const state = { register: own.register, parent: own.parent, isClosed: false, isForgotten: false }
      return [{ id, case: entry.case, form, answers, happenedOn: day, receivedAt, corrects, ...state }]
    }),
    registers,
  )
  return folded.map(one => ({ ...begun.get(one.kept.id)!, folded: one }))
}

/** Where entries come from: a device, or paper that was written on a day and is entered at the office. */
export interface EntrySource {
  device: string | null
  paperOn?: string | null
}

export type EntryOutcome = { id: string } & (
  { outcome: 'received' | 'alreadyHad' } | { outcome: 'refused'; code: string; message: string }
)

/**
 * Keeps filled case forms as they were filled, and their cases when they are the first: looked up once,
 * checked in the order in which they were made, written in two statements. Each has its own outcome; sent
 * twice, it changes nothing more. Refusals: `entry-form`, `entry-answer` and those of answers, `entry-case`,
 * `entry-corrects`, `no-unit`, `outside-branch`.
 * @param correctTime a device's time by our clock.
 */
export async function applyEntries(
  sql: Sql,
  access: Access,
  entries: readonly EntryMade[],
  correctTime: (madeAt: string) => string,
  { device, paperOn = null }: EntrySource,
  timeZone: string,
): Promise<EntryOutcome[]> {
  const here = await whatIsHere(sql, entries)
  const begun = new Map<string, NewCase>()
  const rows: EntryToWrite[] = []
  const outcomes: EntryOutcome[] = []
  for (const entry of entries) {
    if (here.entries.has(entry.id)) {
      outcomes.push({ id: entry.id, outcome: 'alreadyHad' })
      continue
    }
    try {
      const form = await formOf(sql, entry)
      mustStand(access, entry, form, here)
      rows.push({
        entry,
        happenedOn: happenedOn(form.definition, entry, correctTime(entry.madeAt), timeZone),
      })
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      outcomes.push({ id: entry.id, outcome: 'refused', code: error.code, message: error.message })
      continue
    }
    if (!here.cases.has(entry.case)) {
      begun.set(entry.case, { register: entry.register, unit: entry.unit, parent: entry.parent ?? null })
      here.cases.set(entry.case, { register: entry.register, paths: [here.paths.get(entry.unit)!] })
    }
    here.entries.add(entry.id)
    here.corrected.set(entry.id, { case: entry.case, form: entry.form })
    outcomes.push({ id: entry.id, outcome: 'received' })
  }
  if (rows.length) {
    const receivedAt = nowText()
    const registers = await newestRegisters(sql)
    const cases = begunCases(begun, rows, receivedAt, registers)
    const writingCases = writeCases(sql, cases)
    const writing = sql.query(
      `INSERT INTO case_entry (id, case_id, edition, form, answers, happened_on, made_at, received_at, person, device,
         paper_on, corrects)
       SELECT id, case_id, edition, form, answers::jsonb, happened_on, made_at, $1, $2, $3, $12::date, corrects
       FROM unnest($4::uuid[], $5::uuid[], $6::int[], $7::text[], $8::text[], $9::date[], $10::timestamptz[], $11::uuid[]) AS given (id, case_id, edition, form, answers, happened_on, made_at, corrects)`,
      [
        receivedAt,
        access.id,
        device,
        rows.map(({ entry }) => entry.id),
        rows.map(({ entry }) => entry.case),
        rows.map(({ entry }) => entry.edition),
        rows.map(({ entry }) => entry.form),
        rows.map(({ entry }) => JSON.stringify(entry.answers)),
        rows.map(row => row.happenedOn),
        rows.map(({ entry }) => correctTime(entry.madeAt)),
        rows.map(({ entry }) => entry.corrects ?? null),
        paperOn,
      ],
    )
    await Promise.all([writingCases, writing])
    await reopenFor(
      sql,
      { person: access.id, device },
      rows.flatMap(({ entry, happenedOn: day }) =>
        // What begins here was never closed.
        entry.corrects || begun.has(entry.case) ? [] : [{ id: entry.id, case: entry.case, happenedOn: day }],
      ),
    )
    const texts = rows.flatMap(({ entry }) =>
      Object.entries(entry.explanations ?? {}).map(
        ([doubt, text]) => [saidKey(entry.case, doubt), text] as const,
      ),
    )
    await writeKnown(
      sql,
      [...new Set(rows.map(({ entry }) => entry.case))].filter(id => !begun.has(id)),
      { said: { person: access.id, texts: new Map(texts) }, begun: cases, registers },
    )
  }
  return outcomes
}
